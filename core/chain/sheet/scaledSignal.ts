import { add, exact, negate, toNumber } from '../../quantity/index.ts';
import { finite, formulaOf, known, unknown, type Formula } from '../../sheet/index.ts';
import { gainOf, signalAt, valueAt } from '../../signal/index.ts';
import type { AxisValues, ScaledSignalValues } from '../axisValues.ts';
import { rawScale, type RawScale } from '../rawScale.ts';
import type { SpeedLimit } from '../speedLimit.ts';

const formula = formulaOf<AxisValues>();
const line = 'straight line through two points';
const fromRange = 'range over steps';

/** One of the three whole numbers of a drive's own scale. */
const rawPart = (
  symbol: 'rawNumerator' | 'rawDenominator' | 'rawOffset',
  label: string,
  pick: (scale: RawScale) => bigint,
) =>
  formula({
    symbol,
    label,
    expression: 'value = raw · N / D + offset; gain {signalGain}, raw full scale {rawFullScale}',
    unit: '',
    source: 'nearest fraction that fits; offset exact at the middle of the two points',
    inputs: ['rawScale', 'signalGain', 'rawFullScale'],
    compute: (v) => known(exact(pick(v.rawScale))),
  });

export const scaledSignalFormulas: readonly Formula<AxisValues>[] = [
  formula({
    symbol: 'signalScale',
    label: 'Two-point scale',
    expression: '{fromSignal} → {fromValue}, {toSignal} → {toValue}',
    unit: '',
    source: 'as declared',
    inputs: ['fromSignal', 'fromValue', 'toSignal', 'toValue'],
    compute: (v) => {
      if (toNumber(v.fromSignal) === toNumber(v.toSignal))
        return unknown('the two points of the scale have the same signal', '/command/to/signal');
      if (toNumber(v.fromValue) === toNumber(v.toValue))
        return unknown('the two points of the scale have the same value', '/command/to/value');
      return known({
        from: { signal: v.fromSignal, value: v.fromValue },
        to: { signal: v.toSignal, value: v.toValue },
      });
    },
  }),
  formula({
    symbol: 'signalGain',
    label: 'Gain',
    expression: '({toValue} − {fromValue}) / ({toSignal} − {fromSignal})',
    unit: '{value}/{signal}',
    source: line,
    inputs: ['signalScale', 'toValue', 'fromValue', 'toSignal', 'fromSignal'],
    compute: (v) => known(gainOf(v.signalScale)),
  }),
  formula({
    symbol: 'valueAtFullSignal',
    label: 'Value at the highest signal',
    expression: '{fromValue} + ({signalHighest} − {fromSignal}) · {signalGain}',
    unit: '{value}',
    source: line,
    inputs: ['signalScale', 'signalHighest', 'fromValue', 'fromSignal', 'signalGain'],
    compute: (v) => known(valueAt(v.signalScale, v.signalHighest)),
  }),
  formula({
    symbol: 'valueAtLeastSignal',
    label: 'Value at the lowest signal',
    expression: '{fromValue} + ({signalLowest} − {fromSignal}) · {signalGain}',
    unit: '{value}',
    source: line,
    inputs: ['signalScale', 'signalLowest', 'fromValue', 'fromSignal', 'signalGain'],
    compute: (v) => known(valueAt(v.signalScale, v.signalLowest)),
  }),
  formula({
    symbol: 'signalAtZero',
    label: 'Signal that means zero',
    expression: '{fromSignal} − {fromValue} / {signalGain}',
    unit: '{signal}',
    source: line,
    inputs: ['signalScale', 'fromSignal', 'fromValue', 'signalGain'],
    compute: (v) => known(signalAt(v.signalScale, exact(0))),
  }),
  formula({
    symbol: 'controllerSignalStep',
    label: 'Output step of the controller',
    expression: '({signalHighest} − {signalLowest}) / {controllerSteps}',
    unit: '{signal}',
    source: fromRange,
    inputs: ['signalHighest', 'signalLowest', 'controllerSteps'],
    compute: (v) => known(spanOf(v) / v.controllerSteps),
  }),
  formula({
    symbol: 'driveSignalStep',
    label: 'Input step of the drive',
    expression: '({signalHighest} − {signalLowest}) / {driveSteps}',
    unit: '{signal}',
    source: fromRange,
    inputs: ['signalHighest', 'signalLowest', 'driveSteps'],
    compute: (v) => known(spanOf(v) / v.driveSteps),
  }),
  formula({
    symbol: 'valueStep',
    label: 'Smallest real step',
    expression: 'max({controllerSignalStep}, {driveSignalStep}) · |{signalGain}|',
    unit: '{value}',
    source: 'the coarser end decides',
    inputs: ['controllerSignalStep', 'driveSignalStep', 'signalGain'],
    compute: (v) => known(Math.max(v.controllerSignalStep, v.driveSignalStep) * Math.abs(toNumber(v.signalGain))),
  }),
  formula({
    symbol: 'coarserEnd',
    label: 'Limited by',
    expression: 'the coarser of {controllerSignalStep} and {driveSignalStep}',
    unit: '',
    source: 'a tie names both',
    inputs: ['controllerSignalStep', 'driveSignalStep'],
    compute: (v) =>
      known([
        ...(v.controllerSignalStep >= v.driveSignalStep ? ['controller'] : []),
        ...(v.driveSignalStep >= v.controllerSignalStep ? ['drive'] : []),
      ]),
  }),
  formula({
    symbol: 'loadStep',
    label: 'Smallest step at the load',
    expression: '{valueStep} · {loadPerValue}',
    unit: '{u}{perSecond}',
    source: 'n = 60 · v · i / L',
    inputs: ['valueStep', 'loadPerValue'],
    compute: (v) => known(v.valueStep * v.loadPerValue),
  }),
  formula({
    symbol: 'deadbandValue',
    label: 'Deadband at the load',
    expression: '{deadband} · |{signalGain}|',
    unit: '{value}',
    source: 'definition',
    inputs: ['deadband', 'signalGain'],
    compute: (v) => known(v.deadband * Math.abs(toNumber(v.signalGain))),
  }),
  formula({
    symbol: 'fullCommandSpeed',
    label: 'Speed at full command',
    expression: 'max(|{valueAtFullSignal}|, |{valueAtLeastSignal}|) · {loadPerValue}',
    unit: '{u}/s',
    source: 'n = 60 · v · i / L',
    inputs: ['valueAtFullSignal', 'valueAtLeastSignal', 'loadPerValue', 'commandsSpeed'],
    compute: (v) =>
      v.commandsSpeed
        ? known(
            Math.max(Math.abs(toNumber(v.valueAtFullSignal)), Math.abs(toNumber(v.valueAtLeastSignal))) *
              v.loadPerValue,
          )
        : unknown('the command is not a speed command'),
  }),
  formula({
    symbol: 'commandLimits',
    label: 'Limits of the command',
    expression: 'full command',
    unit: '{u}/s',
    source: 'a speed command ends at the end of its range',
    inputs: ['commandsSpeed', 'signalScale', 'signalHighest', 'signalLowest', 'loadPerValue'],
    compute: (v) => {
      if (!v.commandsSpeed) return known<readonly SpeedLimit[]>([]);
      const ends = [v.signalHighest, v.signalLowest].map((end) => Math.abs(toNumber(valueAt(v.signalScale, end))));
      return known<readonly SpeedLimit[]>([{ name: 'full command', speed: Math.max(...ends) * v.loadPerValue }]);
    },
  }),
  formula({
    symbol: 'signalAtWantedSpeed',
    label: 'Signal at wanted speed',
    expression: '{signalAtZero} + {wantedSpeed} / ({loadPerValue} · {signalGain})',
    unit: '{signal}',
    source: line,
    inputs: ['signalAtZero', 'wantedSpeed', 'loadPerValue', 'signalGain', 'commandsSpeed'],
    compute: (v) =>
      v.commandsSpeed
        ? finite(
            toNumber(v.signalAtZero) + v.wantedSpeed / (v.loadPerValue * toNumber(v.signalGain)),
            'the load does not move with the motor',
          )
        : unknown('the command is not a speed command'),
  }),
  formula({
    symbol: 'creepOffset',
    label: 'Offset that stops the drift',
    expression: '−{creep} / {signalGain}',
    unit: '{signal}',
    source: 'the signal that cancels it',
    inputs: ['creep', 'signalGain'],
    compute: (v) => known(-v.creep / toNumber(v.signalGain)),
  }),
  formula({
    symbol: 'creepTrim',
    label: 'Offset in steps of the drive’s trim',
    expression: '{creepOffset} / {trimStep}',
    unit: 'steps',
    source: 'definition',
    inputs: ['creepOffset', 'trimStep'],
    compute: (v) => known(Math.round(v.creepOffset / v.trimStep)),
  }),
  formula({
    symbol: 'rawScale',
    label: 'Drive scale',
    expression: '{signalGain} · ({signalHighest} − {signalLowest}) / ({rawFullScale} · {rawValuePerCount})',
    unit: '',
    source: 'nearest fraction that fits (Stern–Brocot)',
    inputs: [
      'signalScale',
      'signalGain',
      'signalHighest',
      'signalLowest',
      'rawFullScale',
      'rawValuePerCount',
      'rawNumeratorMax',
      'rawDenominatorMax',
    ],
    compute: (v) => {
      const scale = rawScale(v.signalScale, rangeIn(v), v.rawFullScale, v.rawValuePerCount, {
        numerator: v.rawNumeratorMax.ratio.numerator,
        denominator: v.rawDenominatorMax.ratio.numerator,
      });
      return scale
        ? known(scale)
        : unknown('no numerator and denominator within this drive’s limits come near this scale');
    },
  }),
  rawPart('rawNumerator', 'Numerator in the drive', ({ numerator }) => numerator),
  rawPart('rawDenominator', 'Denominator in the drive', ({ denominator }) => denominator),
  rawPart('rawOffset', 'Offset in the drive', ({ offset }) => offset),
  formula({
    symbol: 'carrierPeriod',
    label: 'Carrier period',
    expression: '1 / {carrier}',
    unit: 's',
    source: 'the value changes only once per period',
    inputs: ['carrier'],
    compute: (v) => known(1 / v.carrier),
  }),
];

type Ends = Pick<ScaledSignalValues, 'signalLowest' | 'signalHighest'>;

const rangeIn = ({ signalLowest, signalHighest }: Ends) => ({ lowest: signalLowest, highest: signalHighest });

const spanOf = ({ signalLowest, signalHighest }: Ends): number => toNumber(add(signalHighest, negate(signalLowest)));
