import { moveTorque } from '../../motion/index.ts';
import { toNumber } from '../../quantity/index.ts';
import { formulaOf, known, unknown, type Formula, type Outcome } from '../../sheet/index.ts';
import { moveOfTrain, trainResult, type TrainResult } from '../../signal/index.ts';
import type { AxisValues, TrainValues } from '../axisValues.ts';

const formula = formulaOf<AxisValues>();

const row = <K extends keyof TrainValues & keyof AxisValues>(
  symbol: K,
  label: string,
  expression: string,
  unit: string,
  source: string,
  pick: (result: TrainResult) => number,
) =>
  formula({
    symbol,
    label,
    expression,
    unit,
    source,
    inputs: ['boundTrain', 'stepsPerUnit'],
    compute: (v): Outcome<AxisValues[K]> => {
      const value = pick(trainResult(v.boundTrain, toNumber(v.stepsPerUnit)));
      return (Number.isFinite(value) ? known(value) : unknown('these numbers give no move')) as Outcome<AxisValues[K]>;
    },
  });

/** Torque of the trains, one after the other at their period, or at the earliest where they are not repeated. */
const torqueOf = (
  v: Pick<AxisValues, 'boundTrain' | 'stepsPerUnit' | 'driveTrain' | 'metresPerRadian' | 'earliestNextTrain'>,
) => {
  const move = moveOfTrain(v.boundTrain, toNumber(v.stepsPerUnit));
  const period = v.boundTrain.repeatPeriod ?? v.earliestNextTrain;
  return moveTorque(move, Math.max(0, period - move.duration), {
    ...v.driveTrain,
    radiansPerUnit: 1 / (1000 * v.metresPerRadian),
  });
};
const torqueInputs = ['boundTrain', 'stepsPerUnit', 'driveTrain', 'metresPerRadian', 'earliestNextTrain'] as const;

export const trainFormulas: readonly Formula<AxisValues>[] = [
  formula({
    symbol: 'boundTrain',
    label: 'Train check',
    expression: 'speed at most {speedAtMotor}, others {furtherLimits}',
    unit: '',
    source: 'the lowest limit of drive, motor, supply and mechanics',
    inputs: ['train', 'speedAtMotor', 'furtherLimits'],
    compute: (v) =>
      known({
        ...v.train,
        speedLimit: Math.min(v.train.speedLimit, v.speedAtMotor, ...v.furtherLimits.map(({ speed }) => speed)),
      }),
  }),
  row('trainDistance', 'Length of the move', 'pulses / {stepsPerUnit}', '{u}', 'definition', (r) => r.distance),
  row('trainTime', 'Time to send the train', 'pulses / rate', 's', 'definition', (r) => r.trainTime),
  row(
    'trainProfileTime',
    'Time of the drive’s own profile',
    'd / v + v / a, or 2 · √(d / a) for a short move',
    's',
    'trapezoidal move',
    (r) => r.profileTime,
  ),
  row(
    'trainMoveTime',
    'From the first pulse to rest',
    'd / v + v / a with v no faster than the pulses come, + smoothing',
    's',
    'the drive moves as far as it has been told',
    (r) => r.moveTime,
  ),
  row(
    'lowestTrainRate',
    'Lowest rate that does not starve it',
    '{stepsPerUnit} · min(v, √(a · d))',
    'pulses/s',
    'pulses must come as fast as the profile goes at its peak',
    (r) => r.lowestRate,
  ),
  row(
    'earliestNextTrain',
    'Earliest start of the next train',
    'when the move has come to rest',
    's',
    'definition',
    (r) => r.moveTime,
  ),
  formula({
    symbol: 'trainPeakTorque',
    label: 'Peak {effort} of the train',
    expression: 'max |T| over the drive’s profile',
    unit: '{torque}',
    source: 'power balance of each stage',
    inputs: torqueInputs,
    compute: (v) => known(torqueOf(v).peak),
  }),
  formula({
    symbol: 'trainTorqueReserve',
    label: '{Effort} reserve of the train',
    expression: '100 · (1 − {trainPeakTorque} / {peakTorque})',
    unit: '%',
    source: 'definition, of the motor’s peak',
    inputs: ['trainPeakTorque', 'peakTorque'],
    compute: (v) => known(100 * (1 - v.trainPeakTorque / v.peakTorque)),
  }),
  formula({
    symbol: 'trainRmsTorque',
    label: 'RMS {effort} over the repeat period',
    expression: '√(Σ T² · t / period)',
    unit: '{torque}',
    source: 'duty-cycle sum, Machinery’s Handbook',
    inputs: torqueInputs,
    compute: (v) => known(torqueOf(v).rms),
  }),
];
