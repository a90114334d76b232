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
    message: `The nameplate values contradict each other: ${message}.`,
    remedy: 'Read the nameplate again, or measure: one of these numbers is wrong.',
  }));

export const noConnection: SpindleCheck = ({ input, results }) => {
  const { connectionChoice, outputVolts } = results;
  const hasPlate = input.plate.star !== undefined || input.plate.delta !== undefined;
  return when(connectionChoice.state === 'unknown' && outputVolts.state === 'known' && hasPlate, {
    id: 'noConnection',
    severity: 'stop',
    station: 'motor',
    path: '/motor/starVolts',
    message: `This motor cannot be run at its rated voltage: ${connectionChoice.state === 'unknown' ? connectionChoice.because : ''}.`,
    remedy: 'Use a supply with a higher voltage, or a motor that suits this supply.',
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
        message: `For the available ${n(valueOf(results.outputVolts) ?? 0)} V the motor would normally be connected in ${choice.connection}; ${connection} is correct only as long as the base voltage stays at ${n(volts)} V.`,
        remedy: `Keep the base voltage, or connect the motor in ${choice.connection} with ${n(choice.volts)} V.`,
      },
    ];
  const consequence =
    share === undefined
      ? 'the nameplate has no values for it'
      : share > 1
        ? `it would get ${n(share, 3)} times its rated voltage, and the iron saturates`
        : `it would get ${n(100 * share, 3)} % of its rated voltage and give ${n(100 * share ** 2, 2)} % of its torque`;
  return [
    {
      id: 'wrongConnection',
      severity: 'stop',
      station: 'motor',
      path: '/settings/connection',
      message: `The motor is planned in ${connection}, but ${n(choice.volts)} V needs ${choice.connection}: in ${connection} ${consequence}.`,
      remedy: `Connect the motor in ${choice.connection} before its leads are connected to the drive.`,
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
        message: `The protection is set to ${n(set)} A, but the nameplate says ${n(rated)} A in this connection: the motor burns out before it trips.`,
      },
    ];
  return when(set < rated * protectionTooLow, {
    ...finding,
    severity: 'warn',
    message: `The protection is set to ${n(set)} A, below the rated ${n(rated)} A on the nameplate: it trips before the motor reaches full load.`,
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
    message: `The drive is rated for ${n(drive)} A; the motor needs ${n(motor)} A at full load: only about ${n((100 * drive) / motor, 2)} % of its torque is available.`,
    remedy: 'Use a larger drive, or accept less torque.',
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
      message: `The supply has ${supply.phases === 1 ? 'one phase' : 'three phases'}; the drive needs ${drive.phases === '1' ? 'one' : 'three'}.`,
      remedy: 'Use a supply that suits the drive, or a drive that suits this supply.',
    }),
    ...when(volts !== undefined && ((least !== undefined && volts < least) || (most !== undefined && volts > most)), {
      id: 'supplyVolts',
      severity: 'stop',
      station: 'drive',
      path: '/supply/volts',
      message: `The supply voltage is ${n(volts ?? 0)} V; the drive accepts ${n(least ?? 0)} to ${n(most ?? 0)} V.`,
      remedy: 'Use a supply that suits the drive, or a drive that suits this supply.',
    }),
    ...when(!supply.isEarthed, {
      id: 'noEarth',
      severity: 'stop',
      station: 'drive',
      path: '/supply/isEarthed',
      message: 'Drive and motor have no protective earth: the leakage current of the drive can make their frames live.',
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
    message: `At full load the drive draws about ${n(current, 3)} A from the supply; the fuse is rated ${n(fuse)} A.`,
    remedy: 'Use a larger fuse if the wiring and the drive allow it; otherwise it will blow.',
  });
};
