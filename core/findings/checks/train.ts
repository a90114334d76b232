import { formatNumber } from '../../quantity/index.ts';
import { valueOf } from '../../sheet/index.ts';
import { when, type Check } from '../finding.ts';

const n = (value: number) => formatNumber(value, 4);

export const trainStarves: Check = ({ input, results }) => {
  const [train, lowest] = [input.train && valueOf(input.train), valueOf(results.lowestTrainRate)];
  if (!train || lowest === undefined) return [];
  return when(train.rate < lowest * (1 - 1e-9), {
    id: 'trainStarves',
    severity: 'warn',
    station: 'controller',
    path: '/command/rate',
    message: `The train is sent at ${n(train.rate)} pulses/s; the drive’s own profile uses up to ${n(lowest)}. The drive runs out of pulses and moves in jerks at the pulse rate.`,
    remedy: `Send at ${n(lowest)} pulses/s or faster, or lower the drive’s speed limit or acceleration.`,
  });
};

export const trainTooFast: Check = ({ input, results }) => {
  const [train, highest] = [input.train && valueOf(input.train), valueOf(results.highestPulseRate)];
  if (!train || highest === undefined) return [];
  return when(train.rate > highest * (1 + 1e-9), {
    id: 'trainTooFast',
    severity: 'stop',
    station: 'controller',
    path: '/command/rate',
    message: `The train is sent at ${n(train.rate)} pulses/s; controller and drive together allow ${n(highest)}. Pulses are lost.`,
    remedy: 'Lower the rate of the train.',
  });
};

export const trainTooSoon: Check = ({ input, results }) => {
  const [train, move] = [input.train && valueOf(input.train), valueOf(results.trainMoveTime)];
  if (!train || move === undefined || train.repeatPeriod === undefined) return [];
  return when(train.repeatPeriod < move * (1 - 1e-9), {
    id: 'trainTooSoon',
    severity: 'warn',
    station: 'controller',
    path: '/command/repeatPeriod',
    message: `The next train starts after ${n(train.repeatPeriod)} s; the move takes ${n(move)} s. The moves run into each other, and the axis falls behind without any alarm.`,
    remedy: `Set a repeat period of ${n(move)} s or more, or wait for the drive’s in-position signal.`,
  });
};

export const trainOverloads: Check = ({ input, results, quantity }) => {
  const [peak, rms] = [valueOf(results.trainPeakTorque), valueOf(results.trainRmsTorque)];
  const [most, rated] = [valueOf(input.peakTorque), valueOf(input.ratedTorque)];
  return [
    ...when(peak !== undefined && most !== undefined && peak > most, {
      id: 'trainTooHard',
      severity: 'stop',
      station: 'motor',
      path: '/command/acceleration',
      message: `The train needs ${quantity(peak ?? 0, '{torque}')}; the motor’s peak is ${quantity(most ?? 0, '{torque}')}.`,
      remedy: 'Lower the drive’s acceleration.',
    }),
    ...when(rms !== undefined && rated !== undefined && rms > rated, {
      id: 'trainOverheats',
      severity: 'warn',
      station: 'motor',
      path: '/command/repeatPeriod',
      message: `Repeated at its period, the train needs ${quantity(rms ?? 0, '{torque}')} RMS; the motor is rated for ${quantity(rated ?? 0, '{torque}')}.`,
      remedy: 'Lengthen the repeat period, or lower the drive’s acceleration.',
    }),
  ];
};

export const trainLimitTooHigh: Check = ({ input, results, quantity }) => {
  const [train, bound] = [input.train && valueOf(input.train), valueOf(results.boundTrain)];
  if (!train || !bound) return [];
  return when(train.speedLimit > bound.speedLimit * (1 + 1e-9), {
    id: 'trainLimitTooHigh',
    severity: 'warn',
    station: 'drive',
    path: '/command/speedLimit',
    message: `The drive’s speed limit for trains is ${quantity(train.speedLimit, '{u}/s')}; motor, supply and mechanics allow ${quantity(bound.speedLimit, '{u}/s')}.`,
    remedy: 'Lower the speed limit in the drive.',
  });
};
