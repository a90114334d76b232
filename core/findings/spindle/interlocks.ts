import { when } from '../finding.ts';
import type { SpindleCheck } from './checkedSpindle.ts';

export const enable: SpindleCheck = ({ input }) => {
  const { enable: is } = input.interlocks;
  return [
    ...when(is === 'nothing there', {
      id: 'enableOpen',
      severity: 'stop',
      station: 'drive',
      path: '/interlocks/enable',
      message: 'Nothing is at the drive’s enable terminal: it will not start, and shows no fault either.',
      remedy: 'Wire it to the machine’s stop chain, or put the link in that was delivered with the drive.',
    }),
    ...when(is === 'link in place', {
      id: 'enableLinked',
      severity: 'warn',
      station: 'drive',
      path: '/interlocks/enable',
      message: 'A link holds the drive enabled for ever: the stop chain of the machine does not reach it.',
      remedy: 'Take the link out and wire the enable through the stop chain.',
    }),
  ];
};

export const runSource: SpindleCheck = ({ input }) => {
  const { settings, interlocks } = input;
  return when(settings.runSource !== interlocks.runSource, {
    id: 'runSource',
    severity: 'stop',
    station: 'drive',
    path: '/settings/runSource',
    message: `The drive is set to be started by “${settings.runSource}”, but it is “${interlocks.runSource}” that starts it.`,
    remedy: `Set the source of the run command to “${interlocks.runSource}”.`,
  });
};

export const trip: SpindleCheck = ({ input }) =>
  when(!input.interlocks.tripStopsMachine, {
    id: 'tripUnheard',
    severity: 'stop',
    station: 'drive',
    path: '/interlocks/tripStopsMachine',
    message: 'When the drive trips, the axes feed on into a tool that stands.',
    remedy: 'Wire its trip contact, normally closed, into the machine’s stop chain.',
  });

export const atSpeed: SpindleCheck = ({ input }) => {
  const { atSpeed: way } = input.interlocks;
  return [
    ...when(way === 'nothing', {
      id: 'feedBeforeSpeed',
      severity: 'stop',
      station: 'tool',
      path: '/interlocks/atSpeed',
      message: 'Nothing tells the controller that the tool is at its speed: the feed begins while it still runs up.',
      remedy:
        'Wire the drive’s at-speed output, read its actual speed over the bus, or wait as long as the ramp takes.',
    }),
    ...when(way === 'dwell', {
      id: 'feedByTime',
      severity: 'note',
      station: 'tool',
      path: '/interlocks/atSpeed',
      message: 'The feed waits a time, not for the speed: a stretched ramp or a trip goes unseen.',
      remedy: 'Use the drive’s at-speed output where there is one.',
    }),
    ...when(way === 'read over the bus' && input.command.kind !== 'fieldBus', {
      id: 'atSpeedWithoutBus',
      severity: 'stop',
      station: 'tool',
      path: '/interlocks/atSpeed',
      message: 'The speed is to be read over a field bus, but this spindle has none.',
      remedy: 'Wire the drive’s at-speed output instead.',
    }),
  ];
};
