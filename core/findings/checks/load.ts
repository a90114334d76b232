import { formatNumber } from '../../quantity/index.ts';
import { valueOf } from '../../sheet/index.ts';
import type { Check } from '../finding.ts';

const n = (value: number) => formatNumber(value, 5);

export const highInertiaRatio: Check = ({ results }) => {
  const ratio = valueOf(results.inertiaRatio);
  if (ratio === undefined || ratio <= 10) return [];
  return [
    {
      id: 'highInertiaRatio',
      severity: ratio > 30 ? 'warn' : 'note',
      station: 'load',
      path: '/load',
      message: `The load is ${n(ratio)} times the motor’s own inertia. Factory gains suit about 0.6 to 2 (common practice).`,
      remedy:
        'Enter the inertia ratio in the drive and tune it; the inertia ratio falls with the square of a higher gear ratio.',
    },
  ];
};

export const torqueExceeded: Check = ({ input, results, quantity }) => {
  const [peak, rms] = [valueOf(results.testMovePeakTorque), valueOf(results.testMoveRmsTorque)];
  const [peakLimit, rated] = [valueOf(input.peakTorque), valueOf(input.ratedTorque)];
  const found: ReturnType<Check>[number][] = [];
  if (peak !== undefined && peakLimit !== undefined && peak > peakLimit) {
    found.push({
      id: 'peakTorqueExceeded',
      severity: 'stop',
      station: 'motor',
      path: '/testMove/acceleration',
      message: `The test move needs ${quantity(peak, '{torque}')}; the motor’s peak is ${quantity(peakLimit, '{torque}')}.`,
      remedy: 'Lower the acceleration of the test move.',
    });
  }
  if (rms !== undefined && rated !== undefined && rms > rated) {
    found.push({
      id: 'rmsTorqueExceeded',
      severity: 'warn',
      station: 'motor',
      path: '/testMove/dwell',
      message: `Repeated without end, the test move needs ${quantity(rms, '{torque}')} RMS; the motor is rated for ${quantity(rated, '{torque}')}.`,
      remedy: 'Lengthen the dwell, lower the acceleration, or limit the number of repeats.',
    });
  }
  return found;
};
