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
      message: 'Nothing is connected to the drive’s enable terminal: the drive will not start, and it shows no fault.',
      remedy: 'Wire it to the machine’s stop chain.',
    }),
    ...when(is === 'link in place', {
      id: 'enableLinked',
      severity: 'warn',
      station: 'drive',
      path: '/interlocks/enable',
      message: 'A wire link keeps the drive enabled at all times: the machine’s stop chain does not act on it.',
      remedy: 'Remove the link and wire the enable through the stop chain.',
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
    message: `The run command source set in the drive is “${settings.runSource}”, but the run command comes from “${interlocks.runSource}”.`,
    remedy: `Set the run command source to “${interlocks.runSource}”.`,
  });
};

export const trip: SpindleCheck = ({ input }) =>
  when(!input.interlocks.tripStopsMachine, {
    id: 'tripUnheard',
    severity: 'stop',
    station: 'drive',
    path: '/interlocks/tripStopsMachine',
    message: 'When the drive trips, the axes keep feeding into a stationary tool.',
    remedy: 'Wire the drive’s trip contact (normally closed) into the machine’s stop chain.',
  });

export const atSpeed: SpindleCheck = ({ input }) => {
  const { atSpeed: way } = input.interlocks;
  return [
    ...when(way === 'nothing', {
      id: 'feedBeforeSpeed',
      severity: 'stop',
      station: 'tool',
      path: '/interlocks/atSpeed',
      message:
        'Nothing tells the controller that the tool is at speed: the feed begins while the spindle is still accelerating.',
      remedy:
        'Wire the drive’s at-speed output, read the actual speed over the bus, or program a dwell as long as the ramp.',
    }),
    ...when(way === 'dwell', {
      id: 'feedByTime',
      severity: 'note',
      station: 'tool',
      path: '/interlocks/atSpeed',
      message: 'The feed waits for a fixed time, not for the speed: a longer ramp or a trip is not noticed.',
      remedy: 'Use the drive’s at-speed output if it has one.',
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
