import { formatNumber } from '../../quantity/index.ts';
import { valueOf } from '../../sheet/index.ts';
import { when, type Check } from '../finding.ts';

const n = (value: number) => formatNumber(value, 4);

export const supplyOutOfRange: Check = ({ input: { supply } }) => {
  const volts = valueOf(supply.voltage);
  if (volts === undefined) return [];
  const { minimum = 0, maximum = Infinity } = supply;
  return when(volts < minimum || volts > maximum, {
    id: 'supplyOutOfRange',
    severity: 'stop',
    station: 'drive',
    path: '/supply/voltage',
    message: `The supply voltage is ${n(volts)} V; the drive accepts ${maximum === Infinity ? `${n(minimum)} V or more` : `${n(minimum)} to ${n(maximum)} V`}.`,
    remedy: volts > maximum ? 'Do not connect it: it would destroy the drive.' : 'Choose a supply within the range.',
  });
};

export const supplyTooWeak: Check = ({ input, results }) => {
  const [total, rated] = [valueOf(results.supplyTotalCurrent), valueOf(input.supply.ratedCurrent)];
  if (input.supply.kind === 'AC' || total === undefined || rated === undefined) return [];
  return when(total > rated, {
    id: 'supplyTooWeak',
    severity: 'warn',
    station: 'drive',
    path: '/supply/ratedCurrent',
    message: `With all axes at peak the current is ${n(total)} A; the supply is rated for ${n(rated)} A. Its voltage drops, and drives trip on undervoltage.`,
    remedy: 'Use a larger supply, stagger the moves, or lower the accelerations.',
  });
};

/** Electrolytic capacitors and drives alike stand only so much over the drive's range. */
export const supplyCannotTakeBack: Check = ({ input, results }) => {
  const { supply } = input;
  const [energy, after] = [valueOf(results.brakingEnergy), valueOf(results.supplyVoltageAfterBraking)];
  if (supply.kind === 'AC' || supply.takesEnergyBack || energy === undefined || energy < 0.01) return [];
  if (after === undefined)
    return [
      {
        id: 'supplyCannotTakeBack',
        severity: 'note',
        station: 'drive',
        path: '/supply/capacitance',
        message: `A stop returns ${n(energy)} J to a supply that cannot absorb it; the voltage rise depends on the capacitors.`,
        remedy: 'Enter the total capacitance of supply and drive.',
      },
    ];
  return when(supply.maximum !== undefined && after > supply.maximum, {
    id: 'supplyCannotTakeBack',
    severity: 'stop',
    station: 'drive',
    path: '/supply/takesEnergyBack',
    message: `A stop returns ${n(energy)} J, which raises the supply to ${n(after)} V; the drive is rated for ${n(supply.maximum ?? 0)} V.`,
    remedy: 'Add a brake chopper or more capacitance, or brake more gently.',
  });
};

export const supplyPolarity: Check = ({ input: { supply } }) =>
  when(supply.kind === 'DC' && !supply.reversePolaritySafe, {
    id: 'supplyPolarity',
    severity: 'note',
    station: 'drive',
    path: '/supply',
    message: 'The drive has no reverse-polarity protection: swapping plus and minus destroys it at once.',
    remedy: 'Measure the polarity at the unplugged connector before plugging it in.',
  });

export const supplyLimitsSpeed: Check = ({ results, quantity }) => {
  const wanted = valueOf(results.wantedSpeed);
  const limit = valueOf(results.furtherLimits)?.find(({ isSupply }) => isSupply);
  if (wanted === undefined || !limit) return [];
  return when(wanted > limit.speed * (1 + 1e-9), {
    id: 'supplyLimitsSpeed',
    severity: 'stop',
    station: 'drive',
    path: '/supply/voltage',
    message: `The wanted speed is ${quantity(wanted, '{u}/s')}; at this supply voltage the motor reaches ${quantity(limit.speed, '{u}/s')} at rated current.`,
    remedy:
      'Use a higher supply voltage within the drive’s range, a motor with a lower voltage constant, or a lower speed.',
  });
};
