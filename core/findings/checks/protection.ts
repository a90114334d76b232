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
      'Enable is inverted: the drive is enabled when the controller has it switched off, and disabled when the controller switches it on.',
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
      ? 'The drive is enabled by “no current” at its enable input: with a broken wire, or while the controller has no power, the axis is live.'
      : 'Nothing is wired to the enable input, and the drive is enabled by “no current” there: the axis is live as soon as the drive has power.',
    remedy: 'Set the enable input active high in the drive, so that current flows for “on”.',
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
          ? 'Alarm contacts that open on alarm are connected in parallel: while one drive is healthy, the alarm of another is not seen.'
          : 'Alarm contacts that close on alarm are connected in series: an alarm is seen only when all drives trip at once.',
      remedy: 'Connect contacts that open on alarm in series, and contacts that close on alarm in parallel.',
    }),
    ...when(!!wire && !wire.isSeen && !!trips?.isSeen, {
      id: 'alarmWireUnseen',
      severity: 'warn',
      station: 'drive',
      path: '/protection/alarm/contact',
      message:
        'The alarm contact closes on alarm: with a broken wire, or with the drive switched off, the alarm signal looks healthy.',
      remedy: 'Use a contact that opens on alarm (normally closed).',
    }),
    ...when(alarm.joined !== 'alone' && alarm.drives > 1 && !!trips?.isSeen && !trips.isIdentified, {
      id: 'alarmNotIdentified',
      severity: 'note',
      station: 'drive',
      path: '/protection/alarm/joined',
      message: `The alarms of ${alarm.drives} drives are combined into one signal: the controller cannot tell which drive tripped.`,
      remedy: 'Check the drive displays, or wire each alarm to an input of its own.',
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
      message: `The limit switches are ${limits.contact === 'normallyClosed' ? 'normally closed' : 'normally open'}, but the drive’s limit inputs are active ${limits.activeLevel}: both limits are reported while the axis is clear of them, and none when a switch is hit.`,
      remedy: `Set the limit inputs active ${limits.activeLevel === 'low' ? 'high' : 'low'}, or change the switches.`,
    }),
    ...when(cases.struckStops && cases.freeMoves && !cases.brokenWireStops, {
      id: 'limitWireUnseen',
      severity: 'warn',
      station: 'drive',
      path: '/protection/limits/contact',
      message: 'The limit switches are normally open: a broken wire is not noticed until the axis overruns its limit.',
      remedy: 'Use normally closed switches and set the limit inputs active low.',
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
      message: 'The safe-torque-off inputs are bridged: only the contactor removes the torque.',
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
