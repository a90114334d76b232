import { all, valueOf } from '../../sheet/index.ts';
import { contradictionsOf } from '../../spindle/index.ts';
import { when } from '../finding.ts';
import { n, type SpindleCheck } from './checkedSpindle.ts';

/** More than the plate’s amps by this much is no protection any more (common practice). */
const protectionMargin = 1.05;
const protectionTooLow = 0.85;
/** IEC 60034-1: ± 10 % (from memory). */
const voltsBand = 0.1;

export const plateContradicts: SpindleCheck = ({ input }) =>
  contradictionsOf(input.plate).map(({ id, isImpossible, message }, index) => ({
    id: `plate-${id}`,
    severity: isImpossible ? 'stop' : 'warn',
    station: 'motor',
    path: `/motor/${{ speed: 'poles', volts: 'starVolts', amps: 'starAmps', power: `power#${index}` }[id]}`,
    message: `The plate contradicts itself: ${message}.`,
    remedy: 'Read the plate again, or measure; one of these numbers is wrong.',
  }));

export const noConnection: SpindleCheck = ({ input, results }) => {
  const { connectionChoice, outputVolts } = results;
  const hasPlate = input.plate.star !== undefined || input.plate.delta !== undefined;
  return when(connectionChoice.state === 'unknown' && outputVolts.state === 'known' && hasPlate, {
    id: 'noConnection',
    severity: 'stop',
    station: 'motor',
    path: '/motor/starVolts',
    message: `This motor cannot be had at its full volts: ${connectionChoice.state === 'unknown' ? connectionChoice.because : ''}.`,
    remedy: 'Take a supply of more volts, or a motor for this one.',
  });
};

export const wrongConnection: SpindleCheck = ({ input, results }) => {
  const choice = valueOf(results.connectionChoice);
  const { connection } = input.settings;
  const asIs = input.plate[connection];
  if (!choice || choice.connection === connection) return [];
  const volts = Math.min(valueOf(results.baseVolts) ?? Infinity, valueOf(results.outputVolts) ?? Infinity);
  const share = asIs ? volts / asIs.volts : undefined;
  if (share !== undefined && Math.abs(share - 1) <= voltsBand)
    return [
      {
        id: 'wrongConnection',
        severity: 'note',
        station: 'motor',
        path: '/settings/connection',
        message: `The supply of ${n(valueOf(results.outputVolts) ?? 0)} V would take the motor in ${choice.connection}; in ${connection} it is right only while the base stays at ${n(volts)} V.`,
        remedy: `Keep the base volts, or connect it in ${choice.connection} with ${n(choice.volts)} V.`,
      },
    ];
  const consequence =
    share === undefined
      ? 'the plate has no numbers for it'
      : share > 1
        ? `it would get ${n(share, 3)} times its volts, and the iron is full`
        : `it would get ${n(100 * share, 3)} % of its volts and give ${n(100 * share ** 2, 2)} % of its torque`;
  return [
    {
      id: 'wrongConnection',
      severity: 'stop',
      station: 'motor',
      path: '/settings/connection',
      message: `The motor is to be connected in ${connection}, but ${n(choice.volts)} V want ${choice.connection}: in ${connection} ${consequence}.`,
      remedy: `Connect it in ${choice.connection}, before its leads go to the drive.`,
    },
  ];
};

export const protectionCurrent: SpindleCheck = ({ input, results }) => {
  const numbers = valueOf(all<[number, number]>(input.settings.protectionCurrent, results.motorCurrent));
  if (!numbers) return [];
  const [set, rated] = numbers;
  const finding = {
    id: 'protectionCurrent',
    station: 'motor',
    path: '/settings/protectionCurrent',
    remedy: `Set ${n(rated)} A.`,
  } as const;
  if (set > rated * protectionMargin)
    return [
      {
        ...finding,
        severity: 'stop',
        message: `The protection is set to ${n(set)} A, but the plate says ${n(rated)} A in this connection: the motor burns before it trips.`,
      },
    ];
  return when(set < rated * protectionTooLow, {
    ...finding,
    severity: 'warn',
    message: `The protection is set to ${n(set)} A, below the ${n(rated)} A of the plate: it trips before the motor gives its power.`,
  });
};

export const driveTooSmall: SpindleCheck = ({ input, results }) => {
  const numbers = valueOf(all<[number, number]>(input.drive.ratedCurrent, results.motorCurrent));
  if (!numbers) return [];
  const [drive, motor] = numbers;
  return when(drive < motor, {
    id: 'driveTooSmall',
    severity: 'warn',
    station: 'drive',
    path: '/drive/ratedCurrent',
    message: `The drive gives ${n(drive)} A, the motor wants ${n(motor)} A at full load: only ${n((100 * drive) / motor, 2)} % of its torque can be had.`,
    remedy: 'Take a larger drive, or be content with less.',
  });
};

export const supplyOfDrive: SpindleCheck = ({ input }) => {
  const { supply, drive } = input;
  const volts = valueOf(supply.volts);
  const [least, most] = [valueOf(drive.supplyLeast), valueOf(drive.supplyMost)];
  const wrongPhases = drive.phases !== '' && !drive.phases.includes(String(supply.phases));
  return [
    ...when(wrongPhases, {
      id: 'supplyPhases',
      severity: 'stop',
      station: 'drive',
      path: '/supply/phases',
      message: `The supply has ${supply.phases === 1 ? 'one phase' : 'three phases'}, the drive is for ${drive.phases === '1' ? 'one' : 'three'}.`,
      remedy: 'Take the right supply, or a drive for this one.',
    }),
    ...when(volts !== undefined && ((least !== undefined && volts < least) || (most !== undefined && volts > most)), {
      id: 'supplyVolts',
      severity: 'stop',
      station: 'drive',
      path: '/supply/volts',
      message: `The supply has ${n(volts ?? 0)} V, the drive takes ${n(least ?? 0)} to ${n(most ?? 0)} V.`,
      remedy: 'Take the right supply, or a drive for this one.',
    }),
    ...when(!supply.isEarthed, {
      id: 'noEarth',
      severity: 'stop',
      station: 'drive',
      path: '/supply/isEarthed',
      message:
        'No protective earth is connected to drive and motor: their frames can be live, and leakage of the drive makes them so.',
      remedy: 'Connect the protective earth of supply, drive and motor before anything else (IEC 60204-1).',
    }),
  ];
};

export const fuseTooSmall: SpindleCheck = ({ input, results }) => {
  const numbers = valueOf(all<[number, number]>(input.supply.fuse, results.supplyCurrent));
  if (!numbers) return [];
  const [fuse, current] = numbers;
  return when(fuse < current, {
    id: 'fuseTooSmall',
    severity: 'warn',
    station: 'drive',
    path: '/supply/fuse',
    message: `At full load the drive takes about ${n(current, 3)} A from the supply; the fuse is for ${n(fuse)} A.`,
    remedy: 'Take a larger fuse as far as wires and drive allow, or expect it to blow.',
  });
};
