import { formatNumber } from '../../quantity/index.ts';
import { valueOf } from '../../sheet/index.ts';
import type { Check } from '../finding.ts';

const n = (value: number) => formatNumber(value, 5);

export const controllerRateExceeded: Check = ({ input, results, quantity }) => {
  const [rate, limit] = [valueOf(results.pulseRateAtWantedSpeed), valueOf(input.controllerPulseRate)];
  if (rate === undefined || limit === undefined || rate <= limit) return [];
  const reached = valueOf(results.speedAtControllerRate) ?? 0;
  return [
    {
      id: 'controllerRateExceeded',
      severity: 'stop',
      station: 'controller',
      path: '/controller/maximumPulseRate',
      message: `The wanted speed needs ${n(rate)} pulses/s; the controller sends at most ${n(limit)}, enough for ${quantity(reached, '{u}/s')}.`,
      remedy:
        'Choose a coarser resolution from the range below, a lower speed, or a controller with a higher pulse rate.',
    },
  ];
};

export const driveRateExceeded: Check = ({ input, results }) => {
  const [rate, limit] = [valueOf(results.pulseRateAtWantedSpeed), valueOf(input.driveInputRate)];
  if (rate === undefined || limit === undefined || rate <= limit) return [];
  return [
    {
      id: 'driveRateExceeded',
      severity: 'stop',
      station: 'drive',
      path: '/command/electrical',
      message: `The wanted speed needs ${n(rate)} pulses/s; the drive’s input accepts at most ${n(limit)} with this kind of line.`,
      remedy: 'Use a differential line if both ends have one, a coarser resolution, or a lower speed.',
    },
  ];
};

export const motorOverspeed: Check = ({ input, results, quantity }) => {
  const [speed, limit] = [valueOf(results.motorSpeedAtWantedSpeed), valueOf(input.motorTopSpeed)];
  if (speed === undefined || limit === undefined || speed <= limit) return [];
  return [
    {
      id: 'motorOverspeed',
      severity: 'stop',
      station: 'motor',
      path: '/wanted/speed',
      message: `The wanted speed needs a motor speed of ${quantity(speed, '{motorSpeed}')}; the motor’s highest speed is ${quantity(limit, '{motorSpeed}')}.`,
      remedy: 'Lower the wanted speed, or use a lower transmission ratio.',
    },
  ];
};

export const testMoveTooFast: Check = ({ results, quantity }) => {
  const [move, highest] = [valueOf(results.testMove), valueOf(results.highestSpeed)];
  if (!move || highest === undefined || move.peakSpeed <= highest * (1 + 1e-9)) return [];
  return [
    {
      id: 'testMoveTooFast',
      severity: 'stop',
      station: 'controller',
      path: '/testMove/speed',
      message: `The test move reaches ${quantity(move.peakSpeed, '{u}/s')}; the highest speed of the axis is ${quantity(highest, '{u}/s')} (limited by ${valueOf(results.bindingLimits)?.join(', ') ?? ''}).`,
      remedy: 'Lower the speed of the test move.',
    },
  ];
};
