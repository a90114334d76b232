import { when } from '../finding.ts';
import type { HomingCheck } from './checkedHoming.ts';

// What is planned for a homing, against the axis and its drive.

export const homingFails: HomingCheck = ({ longest }) =>
  when(longest.because !== undefined, {
    id: 'homingFails',
    severity: 'stop',
    station: 'homing',
    path: '/homing/method',
    message: `From some places of the travel this homing fails: ${longest.because ?? ''}.`,
    remedy: 'Look at the path from there in the drawing; choose another method, or correct switches and speeds.',
  });

export const endlessOnLimit: HomingCheck = ({ facts, isEndless }) =>
  when(isEndless && facts.kind === 'edge' && facts.input !== 'homeSwitch', {
    id: 'endlessOnLimit',
    severity: 'stop',
    station: 'homing',
    path: '/homing/method',
    message: 'An endless axis has no limit switch to home on.',
    remedy: 'Home on a flag or an index pulse.',
  });

export const indexAmbiguous: HomingCheck = ({ facts, world, travel }) => {
  const turns = travel / world.indexSpacing;
  return when(facts.kind === 'index' && turns > 1 + 1e-9, {
    id: 'indexAmbiguous',
    severity: 'warn',
    station: 'homing',
    path: '/homing/method',
    message: `The index pulse comes ${Math.round(turns)} times over the travel: on its own it leads to any one of ${Math.round(turns)} places.`,
    remedy: 'Bring the axis to within half a motor turn of home before each homing, or home on a flag.',
  });
};

export const methodNotInDrive: HomingCheck = ({ by, drive }) =>
  when(by === 'drive' && drive?.hasMethod === false, {
    id: 'methodNotInDrive',
    severity: 'stop',
    station: 'homing',
    path: '/homing/method',
    message: 'By its register map the drive does not have this method.',
    remedy: 'Choose one of its methods, or let the controller home.',
  });

export const switchNotAssigned: HomingCheck = ({ by, facts, drive }) =>
  when(by === 'drive' && facts.kind === 'edge' && drive !== undefined && !drive.hasInput(facts.input), {
    id: 'homingSwitchMissing',
    severity: 'stop',
    station: 'homing',
    path: '/homing/method',
    message: 'The drive has no input with the function of the switch that this method homes on.',
    remedy: 'Assign the function to an input of the drive, or choose another method.',
  });

export const offsetNotSaid: HomingCheck = ({ by, definition, drive }) =>
  when(by === 'drive' && drive !== undefined && definition.positionAtHome !== 0 && !drive.saysOffset, {
    id: 'homeOffsetNotSaid',
    severity: 'warn',
    station: 'homing',
    path: '/homing/positionAtHome',
    message:
      'Home is to read another position than 0, and the register map does not say whether home reads the offset of the drive or its opposite: the offset is not written.',
    remedy: 'Look it up in the manual and add the row “profile,home offset”, or let home read 0.',
  });

export const softLimitsNotSaid: HomingCheck = ({ by, definition, drive, softLimits }) =>
  when(
    by === 'drive' &&
      drive !== undefined &&
      definition.positionAtHome !== 0 &&
      !drive.saysSoftLimits &&
      (softLimits.minus !== null || softLimits.plus !== null),
    {
      id: 'softLimitsNotSaid',
      severity: 'warn',
      station: 'homing',
      path: '/settings/minusSoftLimit',
      message:
        'Home is to read another position than 0, and the register map does not say whether soft limits count from zero or from home: they are not written.',
      remedy: 'Look it up in the manual and add the row “profile,soft limits”, or let home read 0.',
    },
  );

export const restsOutside: HomingCheck = ({ longest, softLimits, quantity }) => {
  const { minus, plus } = softLimits;
  const isOutside = (minus !== null && longest.reads < minus) || (plus !== null && longest.reads > plus);
  return when(longest.because === undefined && isOutside, {
    id: 'restsOutsideSoftLimits',
    severity: 'warn',
    station: 'homing',
    path: '/homing/positionAtHome',
    message: `After homing the position reads ${quantity(longest.reads, '{u}')}, outside the soft limits.`,
    remedy: 'Correct the position at home, or widen the soft limits.',
  });
};

export const homesDownwards: HomingCheck = ({ facts, isSuspended }) =>
  when(isSuspended && 'search' in facts && facts.search < 0 && facts.kind !== 'index', {
    id: 'homesDownwards',
    severity: 'warn',
    station: 'homing',
    path: '/homing/method',
    message: 'A suspended load is searched downwards: where the switch fails, it runs onto its lower end with gravity.',
    remedy: 'Choose a method that searches upwards.',
  });

export const homingTorqueLow: HomingCheck = ({ neededTorque, torqueLimit }) =>
  when(neededTorque !== undefined && torqueLimit !== undefined && torqueLimit < neededTorque, {
    id: 'homingTorqueLow',
    severity: 'stop',
    station: 'homing',
    path: '/homing/torqueLimit',
    message: `Friction and gravity take ${Math.ceil(neededTorque ?? 0)} % of rated torque; homing has ${torqueLimit ?? 0} %.`,
    remedy: 'Raise the torque limit while homing.',
  });

export const stopPushedHard: HomingCheck = ({ facts, torqueLimit, neededTorque }) =>
  when(facts.kind === 'hard stop' && (torqueLimit === undefined || torqueLimit > 2 * Math.max(15, neededTorque ?? 0)), {
    id: 'stopPushedHard',
    severity: 'warn',
    station: 'homing',
    path: '/homing/torqueLimit',
    message:
      torqueLimit === undefined
        ? 'No torque limit is planned for the hard stop: the whole torque of the drive presses against it.'
        : `The hard stop is pressed with ${torqueLimit} % of rated torque, more than twice what friction and gravity take.`,
    remedy: 'Plan a torque limit while homing a little above friction and gravity.',
  });

export const limitsDisagree: HomingCheck = ({ facts, plusInputAt, isEndless, by }) => {
  const usesLimits = facts.kind === 'edge' && !isEndless;
  return [
    ...when(usesLimits && plusInputAt === 'minus', {
      id: 'homingLimitsDisagree',
      severity: 'stop' as const,
      station: 'homing' as const,
      path: '/protection/limits/plusInputAt',
      message: `The switch at the minus end is wired to the plus limit input: the ${by} does not stop at it when it searches towards minus, and the axis runs on to the hard stop.`,
      remedy: 'Exchange the two wires, or the functions of the inputs.',
    }),
    ...when(usesLimits && plusInputAt === 'not settled', {
      id: 'homingLimitsNotSettled',
      severity: 'note' as const,
      station: 'homing' as const,
      path: '/protection/limits/plusInputAt',
      message: 'Which switch is wired to the plus limit input has not been settled.',
      remedy: 'Trip each by hand (page Inputs) before the first homing.',
    }),
  ];
};

export const pairHomed: HomingCheck = ({ pair, by, quantity }) => {
  if (!pair) return [];
  return [
    ...when(by === 'drive', {
      id: 'pairHomedBySide',
      severity: 'stop' as const,
      station: 'homing' as const,
      path: '/homing/by',
      message: 'Two motors move this axis: drives that home each for itself twist it.',
      remedy: 'Let the controller home both sides together.',
    }),
    ...when(pair.squaring === 'two home switches' && pair.squaringOffset === undefined, {
      id: 'squaringOffsetUnknown',
      severity: 'warn' as const,
      station: 'homing' as const,
      path: '/pair/squaringOffset',
      message:
        'Each side homes on a switch of its own, and how far apart these are when the axis is square has not been entered.',
      remedy:
        'Home, measure how far the second side is ahead, and enter the squaring offset (page Homing, “Skew after homing”).',
    }),
    ...when(pair.squaring === 'two home switches' && (pair.squaringOffset ?? 0) !== 0, {
      id: 'squaringOffsetUsed',
      severity: 'note' as const,
      station: 'homing' as const,
      path: '/pair/squaringOffset',
      message: `The controller is to move the second side by ${quantity(-(pair.squaringOffset ?? 0), '{u}')} after both sides have found their switches.`,
      remedy: 'Enter the same offset in the controller.',
    }),
  ];
};
