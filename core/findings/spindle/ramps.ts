import { all, valueOf } from '../../sheet/index.ts';
import { when } from '../finding.ts';
import { n, type SpindleCheck } from './checkedSpindle.ts';

/** From here on a guard has to be locked until a coasting spindle stands (common practice). */
const longCoast = 10;

export const rampUpTooShort: SpindleCheck = ({ results }) => {
  const numbers = valueOf(all<[number, number, number]>(results.plannedStart, results.reachableStart, results.rampUp));
  if (!numbers) return [];
  const [planned, reachable, ramp] = numbers;
  return when(planned < reachable, {
    id: 'rampUpTooShort',
    severity: 'warn',
    station: 'drive',
    path: '/settings/rampUp',
    message: `The ramp reaches the highest speed in ${n(planned, 3)} s; motor and drive need at least ${n(reachable, 3)} s. The drive will lengthen the ramp, or trip.`,
    remedy: `Set a ramp of ${n(Math.ceil((10 * 1.1 * ramp * reachable) / planned) / 10)} s or more.`,
  });
};

export const startTooSlow: SpindleCheck = ({ results }) => {
  const numbers = valueOf(all<[number, number]>(results.plannedStart, results.startTime));
  if (!numbers) return [];
  const [planned, wanted] = numbers;
  return when(planned > wanted * 1.001, {
    id: 'startTooSlow',
    severity: 'note',
    station: 'drive',
    path: '/wanted/startTime',
    message: `The start takes ${n(planned, 3)} s; the wanted time is ${n(wanted)} s.`,
    remedy: 'Shorten the ramp as far as the fastest start allows.',
  });
};

export const stopTooSlow: SpindleCheck = ({ input, results }) => {
  const stop = input.settings.stopWay === 'coast' ? results.coastingTime : results.plannedStop;
  const numbers = valueOf(all<[number, number]>(stop, results.stopTime));
  if (!numbers) return [];
  const [planned, wanted] = numbers;
  return when(planned > wanted * 1.001, {
    id: 'stopTooSlow',
    severity: 'warn',
    station: 'drive',
    path: '/wanted/stopTime',
    message: `The stop takes ${n(planned, 3)} s ${input.settings.stopWay === 'coast' ? 'of coasting' : 'on its ramp'}; the wanted time is ${n(wanted)} s.`,
    remedy: 'Shorten the ramp, and fit a brake resistor if the energy requires it.',
  });
};

export const stopTrips: SpindleCheck = ({ input, results }) => {
  const numbers = valueOf(
    all<[number, number, number, number, number]>(
      results.plannedStop,
      results.shortestStop,
      results.returnedEnergy,
      results.capacitorEnergy,
      results.rampDown,
    ),
  );
  if (!numbers || input.settings.stopWay === 'coast' || input.resistor) return [];
  const [planned, shortest, returned, room, ramp] = numbers;
  return when(planned < shortest, {
    id: 'stopTrips',
    severity: 'stop',
    station: 'drive',
    path: '/settings/rampDown',
    message: `A stop in ${n(planned, 3)} s returns ${n(returned, 3)} J; the capacitors can absorb ${n(room, 3)} J before the drive trips on overvoltage and the spindle coasts.`,
    remedy: `Set a ramp of ${n(Math.ceil((10 * ramp * shortest) / planned) / 10)} s or more, or fit a brake resistor${input.drive.hasChopper ? '' : ' with a separate brake chopper'}.`,
  });
};

export const resistor: SpindleCheck = ({ input, results }) => {
  const fitted = input.resistor;
  if (!fitted) return [];
  if (!input.drive.hasChopper)
    return [
      {
        id: 'noChopper',
        severity: 'stop',
        station: 'drive',
        path: '/resistor',
        message: 'A brake resistor is fitted, but the drive has no chopper to switch it.',
        remedy: 'Use a drive with a brake chopper, or a longer ramp.',
      },
    ];
  const ohms = valueOf(fitted.ohms);
  const least = valueOf(results.leastOhms);
  const most = valueOf(results.resistorMost);
  const mean = valueOf(results.resistorMean);
  const power = valueOf(fitted.power);
  return [
    ...when(ohms !== undefined && least !== undefined && ohms < least, {
      id: 'resistorTooSmall',
      severity: 'stop',
      station: 'drive',
      path: '/resistor/ohms',
      message: `The brake resistor has ${n(ohms ?? 0)} Ω, less than the ${n(least ?? 0)} Ω minimum of the drive’s chopper: the chopper fails at the first stop.`,
      remedy: `Use ${n(least ?? 0)} Ω or more.`,
    }),
    ...when(ohms !== undefined && most !== undefined && ohms > most, {
      id: 'resistorTooLarge',
      severity: 'warn',
      station: 'drive',
      path: '/resistor/ohms',
      message: `The brake resistor of ${n(ohms ?? 0)} Ω absorbs ${n((valueOf(results.chopperVolts) ?? 0) ** 2 / (ohms ?? 1), 3)} W; this stop returns ${n(valueOf(results.resistorPeak) ?? 0, 3)} W at its start.`,
      remedy: `Use ${n(most ?? 0, 3)} Ω or less, or a longer ramp.`,
    }),
    ...when(mean !== undefined && power !== undefined && mean > power, {
      id: 'resistorTooWeak',
      severity: 'stop',
      station: 'drive',
      path: '/resistor/power',
      message: `With a stop every ${n(valueOf(results.stopEvery) ?? 0)} s the brake resistor dissipates ${n(mean ?? 0, 3)} W on average, more than its rating of ${n(power ?? 0)} W.`,
      remedy: 'Choose a resistor with a higher power rating, or allow more time between stops.',
    }),
  ];
};

export const coasting: SpindleCheck = ({ input, results }) => {
  const time = valueOf(results.coastingTime);
  return when(time !== undefined && time > longCoast && !input.interlocks.guardLock, {
    id: 'longCoast',
    severity: 'warn',
    station: 'tool',
    path: '/interlocks/guardLock',
    message: `After a trip the tool coasts for ${n(time ?? 0, 2)} s, and nothing keeps the guard locked in the meantime.`,
    remedy: 'Lock the guard until the tool has stopped (ISO 14119), or brake the tool.',
  });
};
