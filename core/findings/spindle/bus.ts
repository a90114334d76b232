import { all, valueOf } from '../../sheet/index.ts';
import { isElevenBits } from '../../signal/index.ts';
import { when } from '../finding.ts';
import { n, type SpindleCheck } from './checkedSpindle.ts';

/** A bus that is busier leaves no room for a repeat (common practice). */
const busy = 0.7;
/** s from a lost link to the drive’s notice of it that nobody should want to exceed (common practice). */
const longTimeOut = 2;

export const period: SpindleCheck = ({ results }) => {
  const load = valueOf(results.busLoadResult);
  const wanted = valueOf(results.pollPeriod);
  if (!load || wanted === undefined) return [];
  const finding = { id: 'pollPeriod', station: 'signal', path: '/bus/period' } as const;
  if (!load.isPossible)
    return [
      {
        ...finding,
        severity: 'stop',
        message: `All messages once take ${n(1000 * load.round, 3)} ms; a period of ${n(1000 * wanted)} ms cannot be kept.`,
        remedy: 'Raise the baud, join registers into one message, or poll more slowly.',
      },
    ];
  return when(load.load > busy, {
    ...finding,
    severity: 'warn',
    message: `The bus is busy for ${n(100 * load.load, 2)} % of the time: one repeat and the period is missed.`,
    remedy: 'Raise the baud, join registers into one message, or poll more slowly.',
  });
};

export const timeOut: SpindleCheck = ({ input, results }) => {
  const { bus } = input;
  const numbers = bus && valueOf(all<[number, number]>(bus.timeOut, results.leastTimeOut));
  if (!numbers) return [];
  const [set, least] = numbers;
  const finding = { id: 'timeOut', station: 'drive', path: '/bus/timeOut' } as const;
  if (set === 0)
    return [
      {
        ...finding,
        severity: 'stop',
        message: 'The drive watches its link not at all: with a broken cable the spindle turns on.',
        remedy: `Set a time-out above ${n(1000 * least, 3)} ms.`,
      },
    ];
  return [
    ...when(set < least, {
      ...finding,
      severity: 'stop',
      message: `A time-out of ${n(1000 * set, 3)} ms trips on the first late answer; polled so, it wants more than ${n(1000 * least, 3)} ms.`,
      remedy: `Set ${n(Math.ceil((1000 * least) / 50) * 50)} ms.`,
    }),
    ...when(set > longTimeOut, {
      ...finding,
      severity: 'warn',
      message: `Only ${n(set, 3)} s after its link is lost does the drive notice.`,
      remedy: `Set less; ${n(Math.ceil((1000 * least) / 50) * 50)} ms would do.`,
    }),
  ];
};

export const lostLinkAction: SpindleCheck = ({ input }) => {
  const { bus } = input;
  if (!bus) return [];
  return when(bus.lostLink === 'goes on' || bus.lostLink === 'not settled', {
    id: 'lostLink',
    severity: 'stop',
    station: 'drive',
    path: '/bus/lostLink',
    message:
      bus.lostLink === 'goes on'
        ? 'When its link is lost the drive goes on at the last speed; nobody can stop it by the bus.'
        : 'It is not settled what the drive does when its link is lost.',
    remedy: 'Let it ramp to rest, and wire the enable into the stop chain.',
  });
};

export const linesDiffer: SpindleCheck = ({ input }) => {
  const { bus } = input;
  if (!bus) return [];
  const [controller, drive] = [valueOf(bus.controller.line), valueOf(bus.drive.line)];
  const addresses = valueOf(all<[number, number]>(bus.controller.address, bus.drive.address));
  return [
    ...(controller && drive
      ? (['baud', 'parity', 'stopBits'] as const).flatMap((name) =>
          when(controller[name] !== drive[name], {
            id: `line-${name}`,
            severity: 'stop' as const,
            station: 'signal' as const,
            path: `/bus/drive/${name}`,
            message: `The two ends speak differently: ${{ baud: 'baud', parity: 'parity', stopBits: 'stop bits' }[name]} ${controller[name]} at the controller, ${drive[name]} at the drive.`,
            remedy: 'Set both ends alike; the drive takes it after a restart.',
          }),
        )
      : []),
    ...when(addresses !== undefined && addresses[0] !== addresses[1], {
      id: 'addressDiffers',
      severity: 'stop',
      station: 'signal',
      path: '/bus/drive/address',
      message: `The controller asks address ${addresses?.[0] ?? ''}, the drive answers to ${addresses?.[1] ?? ''}.`,
      remedy: 'Set both ends alike.',
    }),
    ...when(drive !== undefined && !isElevenBits(drive), {
      id: 'notElevenBits',
      severity: 'note',
      station: 'signal',
      path: '/bus/drive/stopBits',
      message:
        'The characters have not the eleven bits of the specification: two stop bits stand in for a missing parity.',
      remedy: 'It works where both ends agree; other devices on the line may not.',
    }),
  ];
};

export const pairLabels: SpindleCheck = ({ input }) => {
  const { bus } = input;
  if (!bus) return [];
  const { controller, drive, crossed } = bus;
  const isNamed = controller.positiveLabel !== '' && drive.positiveLabel !== '';
  const differ = isNamed && controller.positiveLabel !== drive.positiveLabel;
  return [
    ...when(crossed, {
      id: 'pairCrossed',
      severity: 'stop',
      station: 'signal',
      path: '/bus/crossed',
      message: 'The two wires of the pair are crossed: the line rests the wrong way, and nobody hears anybody.',
      remedy: `Wire ${controller.positiveLabel || 'plus'} of the controller to ${drive.positiveLabel || 'plus'} of the drive.`,
    }),
    ...when(differ, {
      id: 'pairLabels',
      severity: 'note',
      station: 'signal',
      path: '/bus/drive/positiveLabel',
      message: `The line that is positive at rest is called ${controller.positiveLabel} at the controller and ${drive.positiveLabel} at the drive.`,
      remedy: 'Go by a voltmeter at rest, not by the letters: makers name the pair either way round.',
    }),
  ];
};
