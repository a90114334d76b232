import { all, valueOf } from '../../sheet/index.ts';
import { ruinOf } from '../../spindle/index.ts';
import { when } from '../finding.ts';
import { n, type SpindleCheck } from './checkedSpindle.ts';

/** V of boost over the volts of the motor above which it runs hot while it stands (common practice). */
const mostBoost = 0.15;
const weakFlux = 0.9;

export const ruin: SpindleCheck = ({ results }) => {
  const numbers = valueOf(
    all<[Parameters<typeof ruinOf>[0], Parameters<typeof ruinOf>[1], number]>(
      results.curve,
      results.motorPoint,
      results.motorCurrent,
    ),
  );
  const found = numbers && ruinOf(numbers[0], numbers[1]);
  if (!numbers || !found) return [];
  const [curve, motor, current] = numbers;
  const isBase = found.hertz === Math.min(curve.base.hertz, curve.highestHertz);
  return [
    {
      id: 'ruin',
      severity: 'stop',
      station: 'drive',
      path: isBase ? '/settings/baseHertz' : '/settings/points',
      message: `A motor for ${n(motor.hertz)} Hz on ${isBase ? `a drive set to a base of ${n(curve.base.hertz)} Hz` : `a curve with a point at ${n(found.hertz)} Hz`}: at ${n(found.hertz)} Hz it gets ${n(found.flux, 3)} times its rated volts per hertz. The iron saturates, and the motor draws about ${n(found.current * current, 2)} A instead of ${n(current)} A. It burns out within minutes.`,
      remedy: isBase
        ? `Set the base frequency to ${n(motor.hertz)} Hz and the base voltage to ${n(motor.volts)} V before the motor leads are connected.`
        : `Lower the point to ${n((motor.volts / motor.hertz) * found.hertz, 3)} V or less.`,
    },
  ];
};

export const weakField: SpindleCheck = ({ results }) => {
  const numbers = valueOf(
    all<[number, number, number, number]>(results.baseHertz, results.baseVolts, results.plateHertz, results.motorVolts),
  );
  if (!numbers) return [];
  const [hertz, volts, plateHertz, plateVolts] = numbers;
  const flux = volts / hertz / (plateVolts / plateHertz);
  return when(flux < weakFlux, {
    id: 'weakField',
    severity: 'warn',
    station: 'drive',
    path: '/settings/baseHertz',
    message: `With a base of ${n(volts)} V at ${n(hertz)} Hz the motor gets ${n(100 * flux, 3)} % of its rated volts per hertz: its torque at full current falls to about the same percentage.`,
    remedy: `Set the base frequency to ${n(plateHertz)} Hz and the base voltage to ${n(plateVolts)} V, as on the nameplate.`,
  });
};

export const baseAboveOutput: SpindleCheck = ({ results }) => {
  const numbers = valueOf(all<[number, number]>(results.baseVolts, results.outputVolts));
  if (!numbers) return [];
  const [base, output] = numbers;
  return when(base > output * 1.1, {
    id: 'baseAboveOutput',
    severity: 'warn',
    station: 'drive',
    path: '/settings/baseVolts',
    message: `The base voltage is set to ${n(base)} V, but with this supply the drive can give only ${n(output)} V: torque begins to fall at ${n((100 * output) / base, 2)} % of the base frequency.`,
    remedy: 'Set the base voltage to the available voltage, and the base frequency to match.',
  });
};

export const boostTooHigh: SpindleCheck = ({ input, results }) => {
  const numbers = valueOf(all<[number, number]>(input.settings.boost, results.motorVolts));
  if (!numbers) return [];
  const [boost, volts] = numbers;
  return when(boost > mostBoost * volts, {
    id: 'boostTooHigh',
    severity: 'warn',
    station: 'drive',
    path: '/settings/boost',
    message: `A boost of ${n(boost)} V is ${n((100 * boost) / volts, 2)} % of the motor’s rated voltage: the motor heats up at standstill, and the drive may trip at the start.`,
    remedy: `Start with 3 to 5 % (${n(0.04 * volts, 2)} V) and raise it only if the motor does not start.`,
  });
};

export const curveOutOfOrder: SpindleCheck = ({ input, results }) => {
  const base = valueOf(results.baseHertz);
  const { points } = input.settings;
  const isOut = points.some(
    ({ hertz, volts }, k) =>
      (k > 0 && (hertz <= (points[k - 1]?.hertz ?? 0) || volts < (points[k - 1]?.volts ?? 0))) ||
      (base !== undefined && hertz >= base),
  );
  return when(isOut, {
    id: 'curveOutOfOrder',
    severity: 'stop',
    station: 'drive',
    path: '/settings/points',
    message:
      'The points of the V/f curve are not in order: frequency and voltage must rise from point to point and stay below the base frequency.',
    remedy: 'Correct the order, or remove the points that do not fit.',
  });
};

export const tooFastAllowed: SpindleCheck = ({ input, results }) => {
  const numbers = valueOf(
    all<[number, number, number]>(input.settings.highestHertz, results.poles, results.ratioNumber),
  );
  const bounds = valueOf(results.mostBounds);
  if (!numbers || !bounds) return [];
  const [hertz, poles, ratio] = numbers;
  const tool = (120 * hertz) / poles / ratio;
  const [lowest] = bounds
    .filter(({ isSetting }) => !isSetting)
    .map(({ name, speed, at }) => ({ name, speed: at === 'motor' ? speed / ratio : speed }))
    .sort((a, b) => a.speed - b.speed);
  if (!lowest) return [];
  return when(tool > lowest.speed * 1.001, {
    id: 'tooFastAllowed',
    severity: 'stop',
    station: 'drive',
    path: '/settings/highestHertz',
    message: `The drive allows up to ${n(hertz)} Hz, ${n(tool)} rpm at the tool; the limit of the ${lowest.name} is ${n(lowest.speed)} rpm. A wrong speed command could burst it.`,
    remedy: `Set the highest frequency to ${n((lowest.speed * ratio * poles) / 120, 4)} Hz.`,
  });
};

export const topNotReached: SpindleCheck = ({ input, results }) => {
  const { speed, topSpeed } = input.wanted;
  const range = valueOf(results.range);
  if (!range) return [];
  if (range.isEmpty)
    return [
      {
        id: 'noSpeedLeft',
        severity: 'stop',
        station: 'tool',
        path: '/limits',
        message: `No speed is possible: at least ${n(range.lowest)} rpm is needed (${range.lowestBy.join(' and ')}), but at most ${n(range.highest)} rpm is allowed (${range.highestBy.join(' and ')}).`,
        remedy: 'Use another belt step, or another motor.',
      },
    ];
  return [
    ['wanted speed', '/wanted/speed', valueOf(speed)] as const,
    ['highest wanted speed', '/wanted/topSpeed', valueOf(topSpeed)] as const,
  ].flatMap(([name, path, value]) => [
    ...when(value !== undefined && value > range.highest * 1.001, {
      id: 'aboveRange',
      severity: 'stop' as const,
      station: 'tool' as const,
      path,
      message: `The ${name}, ${n(value ?? 0)} rpm, is above the highest possible speed, ${n(range.highest)} rpm (limited by ${range.highestBy.join(' and ')}).`,
      remedy: 'Enter a lower speed, or use another belt step.',
    }),
    ...when(value !== undefined && value < range.lowest * 0.999, {
      id: 'belowRange',
      severity: 'warn' as const,
      station: 'tool' as const,
      path,
      message: `The ${name}, ${n(value ?? 0)} rpm, is below the lowest allowed speed, ${n(range.lowest)} rpm (limited by ${range.lowestBy.join(' and ')}).`,
      remedy: 'Use a slower belt step, or a motor with a separately driven fan.',
    }),
  ]);
};

export const belowCooling: SpindleCheck = ({ input }) => {
  const numbers = valueOf(all<[number, number]>(input.settings.lowestHertz, input.coolingHertz));
  if (!numbers) return [];
  const [lowest, cooling] = numbers;
  return when(lowest < cooling, {
    id: 'belowCooling',
    severity: 'warn',
    station: 'drive',
    path: '/settings/lowestHertz',
    message: `The drive allows speeds down to ${n(lowest)} Hz, but the motor’s shaft-mounted fan cools enough only from ${n(cooling)} Hz.`,
    remedy: `Set the lowest frequency to ${n(cooling)} Hz, or monitor the motor temperature.`,
  });
};
