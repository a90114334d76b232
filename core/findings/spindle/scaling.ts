import { toNumber, type Exact } from '../../quantity/index.ts';
import { all, valueOf } from '../../sheet/index.ts';
import { countsFor, neededSpeedSource, spindleSignalRange, tachometer } from '../../spindle/index.ts';
import { when } from '../finding.ts';
import { n, type SpindleCheck } from './checkedSpindle.ts';

/** A step of more than this share of the wanted speed is felt. */
const coarseStep = 0.01;

export const wordOverflows: SpindleCheck = ({ input, results }) => {
  const { command } = input;
  if (command.kind !== 'fieldBus') return [];
  const numbers = valueOf(all<[number, number, number]>(results.poles, results.ratioNumber, results.highestToolSpeed));
  const word = valueOf(command.word);
  if (!numbers || !word) return [];
  const [poles, ratio, top] = numbers;
  const counts = countsFor(word, { poles, ratio }, top);
  return when(counts.state === 'unknown', {
    id: 'wordOverflows',
    severity: 'stop',
    station: 'signal',
    path: '/command/signed',
    message: `At a tool speed of ${n(top)} rpm, ${counts.state === 'unknown' ? counts.because : ''}. The spindle would suddenly run slowly, or in reverse.`,
    remedy:
      'Set the speed register to unsigned or 32 bits at both ends, use coarser counts, or lower the highest speed.',
  });
};

export const coarse: SpindleCheck = ({ results }) => {
  const numbers = valueOf(
    all<[number, number, readonly string[]]>(results.toolStep, results.wantedSpeed, results.coarserEnd),
  );
  if (!numbers) return [];
  const [step, wanted, ends] = numbers;
  return when(step > coarseStep * wanted, {
    id: 'coarseSpeed',
    severity: 'warn',
    station: 'signal',
    path: '/command',
    message: `The tool speed can be set only in steps of ${n(step, 3)} rpm, ${n((100 * step) / wanted, 2)} % of the wanted speed (limited by ${ends.join(' and ')}).`,
    remedy: 'Use more of the signal range, or a speed register with finer counts.',
  });
};

/** Two points that give no scale; they may have been saved so. */
export const scaleFlat: SpindleCheck = ({ input: { command } }) => {
  const alike = command.kind === 'signal' ? command.alike : undefined;
  return when(alike !== undefined, {
    id: 'scaleFlat',
    severity: 'stop',
    station: 'signal',
    path: `/command/to/${alike ?? ''}`,
    message: `There is no scale: its two points have the same ${alike ?? ''}.`,
    remedy: 'Enter two points that differ in both, such as no signal at 0 Hz and full signal at the highest frequency.',
  });
};

export const endsDiffer: SpindleCheck = ({ input, results }) => {
  const { command } = input;
  if (command.kind !== 'signal') return [];
  const numbers = valueOf(
    all<[number, number, Exact]>(command.controllerTop, results.toolSpeedAtFullSignal, results.hertzPerToolRpm),
  );
  if (!numbers) return [];
  const [controller, drive, perRpm] = numbers;
  return when(Math.abs(controller / drive - 1) > 0.002, {
    id: 'endsDiffer',
    severity: 'stop',
    station: 'signal',
    path: '/command/controllerTop',
    message: `The controller sends its full signal for ${n(controller)} rpm, but the drive runs the tool at ${n(drive)} rpm on it: every speed is wrong by ${n(100 * (drive / controller - 1), 3)} %.`,
    remedy: `Set ${n(drive, 6)} rpm at the controller, or set the drive’s frequency at full signal to ${n(controller * toNumber(perRpm), 6)} Hz.`,
  });
};

export const fullSignalTooFast: SpindleCheck = ({ input, results }) => {
  const numbers = valueOf(all<[number, number]>(results.toolSpeedAtFullSignal, results.highestToolSpeed));
  if (!numbers || input.command.kind !== 'signal' || !Number.isFinite(spindleSignalRange(input.command.signal).highest))
    return [];
  const [full, highest] = numbers;
  return [
    ...when(full > highest * 1.001, {
      id: 'fullSignalTooFast',
      severity: 'note',
      station: 'signal',
      path: '/command/to',
      message: `At full signal the tool would run at ${n(full)} rpm; the drive limits it to ${n(highest)} rpm, and the rest of the signal range has no effect.`,
      remedy: 'Scale the full signal to the highest speed: the resolution is then finer.',
    }),
    ...when(full < (valueOf(results.wantedTop) ?? 0) * 0.999, {
      id: 'fullSignalTooSlow',
      severity: 'stop',
      station: 'signal',
      path: '/command/to',
      message: `At full signal the tool runs at ${n(full)} rpm, below the highest wanted speed of ${n(valueOf(results.wantedTop) ?? 0)} rpm.`,
      remedy: 'Scale the full signal to a higher frequency.',
    }),
  ];
};

export const fixedSpeeds: SpindleCheck = ({ input, results }) => {
  const { command } = input;
  if (command.kind !== 'fixedSpeeds') return [];
  const patterns = command.speeds.map(({ pattern }) => pattern);
  const twice = patterns.filter((pattern, k) => patterns.indexOf(pattern) !== k);
  const still = command.speeds.findIndex(({ pattern, hertz }) => /^0+$/.test(pattern) && (valueOf(hertz) ?? 0) > 0);
  const top = valueOf(results.hertzAtTop);
  return [
    ...twice.map((pattern) => ({
      id: 'patternTwice',
      severity: 'stop' as const,
      station: 'signal' as const,
      path: `/command/speeds#${pattern}`,
      message: `The pattern ${pattern} selects two speeds.`,
      remedy: 'Give each speed a pattern of its own.',
    })),
    ...when(still >= 0, {
      id: 'speedWithoutInputs',
      severity: 'stop',
      station: 'signal',
      path: `/command/speeds/${still}/hertz`,
      message:
        'With all inputs off, a speed is still selected: a broken wire can start the spindle or change its speed.',
      remedy: 'Use all inputs off for “stop”, and select speeds with one or more inputs on.',
    }),
    ...command.speeds.flatMap(({ pattern, hertz }, k) =>
      when(top !== undefined && (valueOf(hertz) ?? 0) > top * 1.001, {
        id: 'fixedTooFast',
        severity: 'stop' as const,
        station: 'signal' as const,
        path: `/command/speeds/${k}/hertz`,
        message: `The pattern ${pattern} selects ${n(valueOf(hertz) ?? 0)} Hz, above the ${n(top ?? 0)} Hz of the highest speed.`,
        remedy: 'Lower this frequency.',
      }),
    ),
  ];
};

export const speedSource: SpindleCheck = ({ input }) => {
  const needed = neededSpeedSource(input.command);
  return when(input.settings.speedSource !== needed, {
    id: 'speedSource',
    severity: 'stop',
    station: 'drive',
    path: '/settings/speedSource',
    message: `The speed command source set in the drive is “${input.settings.speedSource}”, but the command comes from “${needed}”: the spindle runs at another speed, or not at all.`,
    remedy: `Set the speed command source to “${needed}”.`,
  });
};

export const measuredSpeeds: SpindleCheck = ({ input }) => {
  const measured = valueOf(tachometer(input.tachometer));
  if (!measured) return [];
  const off = 100 * (measured.scale - 1);
  return [
    ...when(measured.isWorthCorrecting && Math.abs(off) > 0.2, {
      id: 'measuredScale',
      severity: 'warn',
      station: 'tool',
      path: '/tachometer',
      message: `The tachometer reads ${n(Math.abs(off), 3)} % ${off > 0 ? 'more' : 'less'} than commanded (± ${n(100 * measured.uncertainty, 2)} %).`,
      remedy: 'Correct the scaling as shown in the tachometer check; part of the difference is slip under load.',
    }),
    ...when(measured.linearity > 0.02, {
      id: 'measuredBow',
      severity: 'warn',
      station: 'tool',
      path: '/tachometer#linearity',
      message: `The measured speeds deviate from a straight line by up to ${n(100 * measured.linearity, 2)} %.`,
      remedy: 'Look for a slipping belt, a signal that does not reach its full range, or a speed limit in the drive.',
    }),
  ];
};

export const scaleWithinRange: SpindleCheck = ({ input: { command } }) => {
  if (command.kind !== 'signal') return [];
  const scale = valueOf(command.scale);
  if (!scale) return [];
  const { lowest, highest, unit } = spindleSignalRange(command.signal);
  return (['from', 'to'] as const).flatMap((end) => {
    const signal = toNumber(scale[end].signal);
    return when(signal < lowest || signal > highest, {
      id: 'scaleOutside',
      severity: 'stop' as const,
      station: 'signal' as const,
      path: `/command/${end}/signal`,
      message: `${n(signal)} ${unit} is outside the signal range of ${lowest} to ${highest} ${unit}.`,
      remedy: 'Enter a signal within the range.',
    });
  });
};
