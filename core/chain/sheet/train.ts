import { toNumber } from '../../quantity/index.ts';
import { formulaOf, known, unknown, type Formula, type Outcome } from '../../sheet/index.ts';
import { trainResult, type TrainResult, type UntimedTrain } from '../../signal/index.ts';
import type { AxisValues } from '../axisSheet.ts';

/** An untimed pulse train: how long it takes, and how fast it may be sent. */
export interface TrainValues {
  readonly train: UntimedTrain;
  readonly trainDistance: number;
  readonly trainTime: number;
  readonly trainProfileTime: number;
  readonly trainMoveTime: number;
  readonly lowestTrainRate: number;
}

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
    inputs: ['train', 'stepsPerUnit'],
    compute: (v): Outcome<AxisValues[K]> => {
      const value = pick(trainResult(v.train, toNumber(v.stepsPerUnit)));
      return (Number.isFinite(value) ? known(value) : unknown('these numbers give no move')) as Outcome<AxisValues[K]>;
    },
  });

export const trainFormulas: readonly Formula<AxisValues>[] = [
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
    'max(train, profile) + smoothing',
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
];
