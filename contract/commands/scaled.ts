import { signalUnitOf, type AxisValues, type ScaledCommand } from '@kavrid/core/chain';
import { absolute, exactRatio, toNumber, toRational, type Exact } from '@kavrid/core/quantity';
import { map, valueOf, type Evaluation, type Outcome } from '@kavrid/core/sheet';
import type { SignalRange } from '@kavrid/core/signal';
import type { ScaledCommandDocument } from '../commandDocument.ts';
import type { AxisDocument } from '../documents.ts';
import type { RuleName } from '../rules.ts';
import type { ReadNumber, ReadText } from '../toCore/fieldReader.ts';
import { exactNumber, number } from '../toCore/plannedSetting.ts';
import type { Planned } from './commandFace.ts';

type Results = Evaluation<AxisValues>;

/** The rule for a signal of a command. */
export const signalRuleOf = (command: ScaledCommandDocument): RuleName =>
  command.kind === 'pwm' ? 'duty' : command.range.endsWith('mA') ? 'analogMilliamps' : 'analogVolts';

/** The rule for the value that a signal means. */
export function valueRuleOf({ meaning }: ScaledCommandDocument, motorForm: AxisDocument['motor']['form']): RuleName {
  switch (meaning) {
    case 'speed':
      return motorForm === 'linear' ? 'scaleLinearSpeed' : 'scaleSpeed';
    case 'torque':
      return 'scaleTorque';
    case 'position':
      return 'position';
  }
}

type Scale = Pick<
  ScaledCommand,
  | 'range'
  | 'fromSignal'
  | 'fromValue'
  | 'toSignal'
  | 'toValue'
  | 'faultDetected'
  | 'switchedOn'
  | 'standing'
  | 'creep'
  | 'trimStep'
>;

/** What every scaled signal is read alike. */
export function readScale(
  command: ScaledCommandDocument,
  range: SignalRange,
  motorForm: AxisDocument['motor']['form'],
  text: ReadText,
  number: ReadNumber,
): Scale {
  // A point may be typed in radians. Later formulas add and subtract it, so π is replaced by its digits here.
  const read = (path: string, label: string, value: string, rule: RuleName): Outcome<Exact> =>
    map(text(path, label, value, rule), (each) => exactRatio(toRational(each)));
  const [signal, value] = [signalRuleOf(command), valueRuleOf(command, motorForm)];
  return {
    range,
    fromSignal: read('/command/from/signal', 'the first signal of the scale', command.from.signal, signal),
    fromValue: read('/command/from/value', 'what the first signal means', command.from.value, value),
    toSignal: read('/command/to/signal', 'the second signal of the scale', command.to.signal, signal),
    toValue: read('/command/to/value', 'what the second signal means', command.to.value, value),
    faultDetected: command.faultDetected,
    switchedOn: command.switchedOn,
    standing: read('/command/standing', 'the signal at enable', command.standing, signal),
    creep: number('/command/creep', 'the drift at zero command', command.creep),
    trimStep: number('/command/trimStep', 'a step of the drive’s trim', command.trimStep),
  };
}

/** Steps of a converter. */
export const stepsOfBits = (bits: Outcome<number>): Outcome<number> => map(bits, (each) => 2 ** each);

/** A scale with two points, of which the second means nothing yet. */
export const newScale = (inverted: boolean, from: string, to: string) => ({
  inverted,
  from: { signal: from, value: '0' },
  to: { signal: to, value: '' },
  faultDetected: false,
  standing: '',
  switchedOn: false,
  creep: null,
  trimStep: null,
  calibration: [],
});

/** A falling scale: the drive gets its magnitude and the setting to invert it. */
export const isFalling = (results: Results): boolean => (numberOf(results.signalGain) ?? 0) < 0;
/** A scale or a value without its sign. */
export const sizeOf = (outcome: Results['signalGain']): Exact | undefined => {
  const value = valueOf(outcome);
  return value && absolute(value);
};

/** The signal that means zero, and what ends the creep on top of it. */
export function offsetPlan(results: Results, unit: string) {
  const zero = numberOf(results.signalAtZero);
  return zero === undefined ? undefined : number(zero - (valueOf(results.creepOffset) ?? 0), unit);
}

const numberOf = (outcome: Evaluation<AxisValues>['feedbackResolution']) => {
  const value = valueOf(outcome);
  return value && toNumber(value);
};

/** How a controller is set to send a scaled signal. */
export const scaledController = (command: ScaledCommandDocument, { input, results, travel }: Planned) => {
  const signalUnit = signalUnitOf(input.command);
  const loop = 'loop' in command ? command.loop : null;
  return {
    commandFullSignal: exactNumber(
      input.command.kind === 'analog' ? input.command.range.highest : undefined,
      signalUnit,
    ),
    commandFullSpeed: number(valueOf(results.fullCommandSpeed), `${input.axisUnit}/s`),
    // The drive takes the offset; where its trim is unknown, the controller has to.
    commandOffset:
      valueOf(results.creepTrim) === undefined ? number(valueOf(results.creepOffset), signalUnit) : undefined,
    carrierFrequency: number(valueOf(results.carrier), 'Hz'),
    feedbackCountsPerUnit: exactNumber(valueOf(results.hostCountsPerUnit), `counts/${input.axisUnit}`, travel),
    loopGain: number(valueOf(results.hostGain), '1/s'),
    loopIntegralGain: number(loop?.integralGain, '1/s²'),
    loopVelocityFeedforward: number(loop?.velocityFeedforward, '%'),
    errorLimit: number(valueOf(results.errorLimit), input.axisUnit),
  };
};
