import { formatNumber, toNumber } from '../../quantity/index.ts';
import { valueOf } from '../../sheet/index.ts';
import { when, type Check } from '../finding.ts';

const n = (value: number) => formatNumber(value, 5);

export const counterWraps: Check = ({ input, results, quantity }) => {
  const [turns, time] = [valueOf(results.turnsToWrap), valueOf(results.timeToWrap)];
  const [travel, L, i] = [valueOf(results.travel), valueOf(results.travelPerTurn), valueOf(results.transmissionRatio)];
  if (turns === undefined || time === undefined || !L || !i) return [];
  const needed = input.endless ? Infinity : travel ? (toNumber(travel) * toNumber(i)) / toNumber(L) : 0;
  if (needed <= turns) return [];
  return [
    {
      id: 'counterWraps',
      severity: input.endless ? 'warn' : 'stop',
      station: 'drive',
      path: '/drive/counterBits',
      message: `The drive’s position counter wraps after ${quantity(turns, 'motor {turns}')}, ${n(time)} s at the motor’s highest speed.`,
      remedy: input.endless
        ? 'Make sure that the controller evaluates position differences, or command whole turns and clear the counter.'
        : 'Use a lower encoder resolution in the drive, or shorten the travel.',
    },
  ];
};

export const encoderTooCoarse: Check = ({ results, quantity }) => {
  const [wanted, feedback] = [valueOf(results.wantedResolution), valueOf(results.feedbackResolution)];
  if (!wanted || !feedback) return [];
  return when(toNumber(feedback) > toNumber(wanted) * 1.0001, {
    id: 'encoderTooCoarse',
    severity: 'warn',
    station: 'motor',
    path: '/motor/encoder',
    message: `One encoder count is ${quantity(toNumber(feedback), '{u}')}, coarser than the ${quantity(toNumber(wanted), '{u}')} wanted.`,
    remedy: 'Use an encoder with more lines or bits, or gear the motor down more.',
  });
};
