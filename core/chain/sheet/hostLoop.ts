import { divide, exact, multiply, toNumber } from '../../quantity/index.ts';
import { finite, formulaOf, known, type Formula } from '../../sheet/index.ts';
import { runaway } from '../../signal/index.ts';
import type { AxisValues } from '../axisValues.ts';

const formula = formulaOf<AxisValues>();

export const hostLoopFormulas: readonly Formula<AxisValues>[] = [
  formula({
    symbol: 'encoderDivider',
    label: 'Encoder counts per feedback count',
    expression: '{countsPerRevolution} / (4 · {outputPulses})',
    unit: '',
    source: 'quadrature gives four counts a pulse',
    inputs: ['countsPerRevolution', 'outputPulses'],
    compute: (v) => known(divide(v.countsPerRevolution, multiply(exact(4), v.outputPulses))),
  }),
  formula({
    symbol: 'hostCountsPerUnit',
    label: 'Feedback counts at the controller',
    expression: '4 · {outputPulses} · {transmissionRatio} / {travelPerTurn}',
    unit: 'counts/{u}',
    source: 'quadrature gives four counts a pulse',
    inputs: ['outputPulses', 'transmissionRatio', 'travelPerTurn'],
    compute: (v) => known(divide(multiply(exact(4), v.outputPulses, v.transmissionRatio), v.travelPerTurn)),
  }),
  formula({
    symbol: 'hostResolution',
    label: 'Value of one count',
    expression: '1 / {hostCountsPerUnit}',
    unit: '{u}',
    source: 'definition',
    inputs: ['hostCountsPerUnit'],
    compute: (v) => known(divide(exact(1), v.hostCountsPerUnit)),
  }),
  formula({
    symbol: 'encoderRateAtWantedSpeed',
    label: 'Feedback pulse rate at wanted speed',
    expression: '{wantedSpeed} · {hostCountsPerUnit} / 4',
    unit: 'pulses/s',
    source: 'f = v · S',
    inputs: ['wantedSpeed', 'hostCountsPerUnit'],
    compute: (v) => known((v.wantedSpeed * toNumber(v.hostCountsPerUnit)) / 4),
  }),
  formula({
    symbol: 'encoderRateAtFullCommand',
    label: 'Feedback pulse rate at full command',
    expression: '{fullCommandSpeed} · {hostCountsPerUnit} / 4',
    unit: 'pulses/s',
    source: 'f = v · S',
    inputs: ['fullCommandSpeed', 'hostCountsPerUnit'],
    compute: (v) => known((v.fullCommandSpeed * toNumber(v.hostCountsPerUnit)) / 4),
  }),
  formula({
    symbol: 'errorOfOneStep',
    label: 'Error held by one command step',
    expression: '{loadStep} / {hostGain}',
    unit: '{u}',
    source: 'proportional loop: error = speed / gain',
    inputs: ['loadStep', 'hostGain'],
    compute: (v) => known(v.loadStep / v.hostGain),
  }),
  formula({
    symbol: 'hostDamping',
    label: 'Damping of the loop',
    expression: '½ · √(1 / ({hostGain} · (1 / {speedBandwidth} + {signalFilter} + 1.5 · {hostPeriod})))',
    unit: '',
    source: 'second-order loop, ζ = ½·√(1/(K·T)); a sampled loop lags by one and a half periods',
    inputs: ['hostGain', 'speedBandwidth', 'signalFilter', 'hostPeriod'],
    compute: (v) =>
      finite(
        0.5 * Math.sqrt(1 / (v.hostGain * (1 / v.speedBandwidth + v.signalFilter + 1.5 * v.hostPeriod))),
        'the gain is zero',
      ),
  }),
  formula({
    symbol: 'runawaySpeed',
    label: 'Runaway speed at the error limit',
    expression: 'min({hostGain} · {errorLimit}, {fullCommandSpeed})',
    unit: '{u}/s',
    source: 'inverted feedback: x′ = +K·x',
    inputs: ['hostGain', 'errorLimit', 'fullCommandSpeed', 'reactionTime', 'hostDeceleration'],
    compute: (v) => known(caught(v).speed),
  }),
  formula({
    symbol: 'runawayDistance',
    label: 'Worst-case runaway distance',
    expression: '{errorLimit} + {runawaySpeed} · {reactionTime} + {runawaySpeed}² / (2 · {hostDeceleration})',
    unit: '{u}',
    source: 'the error limit, the time to react, and braking',
    inputs: ['runawaySpeed', 'hostGain', 'errorLimit', 'fullCommandSpeed', 'reactionTime', 'hostDeceleration'],
    compute: (v) => finite(caught(v).distance, 'nothing brakes it'),
  }),
];

const caught = (
  v: Pick<AxisValues, 'hostGain' | 'errorLimit' | 'fullCommandSpeed' | 'reactionTime' | 'hostDeceleration'>,
) =>
  runaway({
    gain: v.hostGain,
    errorLimit: v.errorLimit,
    fullSpeed: v.fullCommandSpeed,
    reactionTime: v.reactionTime,
    deceleration: v.hostDeceleration,
  });
