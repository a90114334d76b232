import { alarmCases, enableCases, limitCases } from '../../signal/index.ts';
import { when, type Check } from '../finding.ts';

export const enableInverted: Check = ({ input }) => {
  const [on, off] = enableCases(input.protection.enable);
  return when(input.protection.enable.isWired && !!on && !!off && !on.isRight && !off.isRight, {
    id: 'enableInverted',
    severity: 'stop',
    station: 'drive',
    path: '/protection/enable/controllerLevel',
    message:
      'Enable is inverted: the drive holds the axis exactly when the controller thinks it is off, and lets go when it should hold.',
    remedy: 'Set the same active level at both ends.',
  });
};

export const enabledWithoutSignal: Check = ({ input }) => {
  const cases = enableCases(input.protection.enable);
  const alone = cases.filter(({ situation, isEnabled }) => isEnabled && /wire|power/.test(situation));
  return when(alone.length > 0, {
    id: 'enabledWithoutSignal',
    severity: 'stop',
    station: 'drive',
    path: '/settings/enableActiveLevel',
    message: input.protection.enable.isWired
      ? 'The drive takes “no current” for enabled: with a broken wire, or while the controller has no power, the axis is live.'
      : 'Nothing is wired to enable, and the drive takes “no current” for enabled: the axis is live as soon as the drive has power.',
    remedy: 'Set enable to be active high in the drive, with current flowing for “on”.',
  });
};

export const alarmUnseen: Check = ({ input }) => {
  const { alarm } = input.protection;
  const cases = alarmCases(alarm);
  const [trips, wire] = cases;
  return [
    ...when(!!trips && !trips.isSeen, {
      id: 'alarmUnseen',
      severity: 'stop',
      station: 'drive',
      path: '/protection/alarm/joined',
      message:
        alarm.contact === 'normallyClosed'
          ? 'Alarm contacts that open on alarm are joined in parallel: while one drive is healthy, the alarm of another goes unseen.'
          : 'Alarm contacts that close on alarm are joined in series: only when all drives trip at once is it seen.',
      remedy: 'Join contacts that open in series, contacts that close in parallel.',
    }),
    ...when(!!wire && !wire.isSeen && !!trips?.isSeen, {
      id: 'alarmWireUnseen',
      severity: 'warn',
      station: 'drive',
      path: '/protection/alarm/contact',
      message: 'The alarm contact closes on alarm: a broken wire, or a drive without power, looks healthy.',
      remedy: 'Use a contact that opens on alarm (normally closed).',
    }),
    ...when(alarm.joined !== 'alone' && alarm.drives > 1 && !!trips?.isSeen && !trips.isIdentified, {
      id: 'alarmNotIdentified',
      severity: 'note',
      station: 'drive',
      path: '/protection/alarm/joined',
      message: `The alarms of ${alarm.drives} drives come as one signal: the controller cannot tell which of them tripped.`,
      remedy: 'Look at the drives’ displays, or give each an input of its own.',
    }),
  ];
};

export const limitsWiredWrong: Check = ({ input }) => {
  const { limits } = input.protection;
  if (input.motionKind !== 'linear') return [];
  const cases = limitCases(limits);
  return [
    ...when(!cases.struckStops || !cases.freeMoves, {
      id: 'limitsInverted',
      severity: 'stop',
      station: 'drive',
      path: '/settings/limitActiveLevel',
      message: `The limit switches are ${limits.contact === 'normallyClosed' ? 'normally closed' : 'normally open'}, and the drive takes ${limits.activeLevel} for struck: it reports both limits while the axis is free, and none when it strikes one.`,
      remedy: `Set the limits to be active ${limits.activeLevel === 'low' ? 'high' : 'low'}, or change the switches.`,
    }),
    ...when(cases.struckStops && cases.freeMoves && !cases.brokenWireStops, {
      id: 'limitWireUnseen',
      severity: 'warn',
      station: 'drive',
      path: '/protection/limits/contact',
      message: 'The limit switches are normally open: a broken wire goes unseen until the axis runs past its end.',
      remedy: 'Use normally closed switches and set the limits to be active low.',
    }),
  ];
};

export const torqueOffNotWired: Check = ({ input }) => {
  const { safeTorqueOff } = input.protection;
  return [
    ...when(safeTorqueOff === 'bridged', {
      id: 'torqueOffBridged',
      severity: 'warn',
      station: 'drive',
      path: '/protection/safeTorqueOff',
      message: 'The safe-torque-off inputs are bridged: nothing but the contactor takes the torque away.',
      remedy:
        'Wire both channels to the safety relay (IEC 60204-1, ISO 13849-1), or prove the contactor before first power.',
    }),
    ...when(safeTorqueOff === 'one channel', {
      id: 'torqueOffOneChannel',
      severity: 'warn',
      station: 'drive',
      path: '/protection/safeTorqueOff',
      message: 'Only one channel of safe torque off is wired: a single fault keeps the torque on.',
      remedy: 'Wire both channels separately (ISO 13849-1, category 3).',
    }),
  ];
};
