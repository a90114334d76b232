import { all, valueOf } from '../../sheet/index.ts';
import { isElevenBits } from '../../signal/index.ts';
import { when } from '../finding.ts';
import { n, type SpindleCheck } from './checkedSpindle.ts';

/** A bus that is busier leaves no room for a repeat (common practice). */
const busy = 0.7;
/** s, longest sensible communication timeout (common practice). */
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
        message: `One poll cycle of all messages takes ${n(1000 * load.round, 3)} ms; a poll period of ${n(1000 * wanted)} ms is not possible.`,
        remedy: 'Raise the baud rate, combine registers into one message, or use a longer poll period.',
      },
    ];
  return when(load.load > busy, {
    ...finding,
    severity: 'warn',
    message: `The bus load is ${n(100 * load.load, 2)} %: a single repeated message makes it miss the poll period.`,
    remedy: 'Raise the baud rate, combine registers into one message, or use a longer poll period.',
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
        message: 'The drive does not monitor the link: with a broken cable the spindle keeps running.',
        remedy: `Set a communication timeout above ${n(1000 * least, 3)} ms.`,
      },
    ];
  return [
    ...when(set < least, {
      ...finding,
      severity: 'stop',
      message: `A communication timeout of ${n(1000 * set, 3)} ms trips on the first late response; this poll period needs more than ${n(1000 * least, 3)} ms.`,
      remedy: `Set ${n(Math.ceil((1000 * least) / 50) * 50)} ms.`,
    }),
    ...when(set > longTimeOut, {
      ...finding,
      severity: 'warn',
      message: `The drive notices a lost link only after ${n(set, 3)} s.`,
      remedy: `Set a shorter timeout; ${n(Math.ceil((1000 * least) / 50) * 50)} ms is enough.`,
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
        ? 'When the link is lost the drive keeps running at the last speed, and it cannot be stopped over the bus.'
        : 'It has not been stated what the drive does when the link is lost.',
    remedy: 'Set the drive to ramp down on a lost link, and wire its enable into the stop chain.',
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
            message: `The line settings differ: ${{ baud: 'baud rate', parity: 'parity', stopBits: 'stop bits' }[name]} ${controller[name]} at the controller, ${drive[name]} at the drive.`,
            remedy: 'Set both ends to the same value; the drive may need a restart.',
          }),
        )
      : []),
    ...when(addresses !== undefined && addresses[0] !== addresses[1], {
      id: 'addressDiffers',
      severity: 'stop',
      station: 'signal',
      path: '/bus/drive/address',
      message: `The controller polls address ${addresses?.[0] ?? ''}, but the drive is set to address ${addresses?.[1] ?? ''}.`,
      remedy: 'Set the same address at both ends.',
    }),
    ...when(drive !== undefined && !isElevenBits(drive), {
      id: 'notElevenBits',
      severity: 'note',
      station: 'signal',
      path: '/bus/drive/stopBits',
      message:
        'The characters do not have the eleven bits that the Modbus specification asks for: without parity, two stop bits are specified.',
      remedy: 'It works if both ends agree; other devices on the line may not accept it.',
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
      message:
        'The two wires of the pair are swapped: the line idles with the wrong polarity, and there is no communication.',
      remedy: `Wire ${controller.positiveLabel || 'plus'} of the controller to ${drive.positiveLabel || 'plus'} of the drive.`,
    }),
    ...when(differ, {
      id: 'pairLabels',
      severity: 'note',
      station: 'signal',
      path: '/bus/drive/positiveLabel',
      message: `The wire that is positive when idle is labelled ${controller.positiveLabel} at the controller and ${drive.positiveLabel} at the drive.`,
      remedy:
        'Check with a voltmeter while the line is idle, not by the letters: manufacturers label the pair either way round.',
    }),
  ];
};
