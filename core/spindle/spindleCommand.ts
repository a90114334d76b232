import { add, divide, exact, exactRatio, multiply, negate, rationalFromNumber, type Exact } from '../quantity/index.ts';
import { all, known, map, unknown, type Outcome } from '../sheet/index.ts';
import { signalAt, valueAt, type TwoPointScale } from '../signal/index.ts';
import type { SpeedSource } from './speedSource.ts';
import { hertzPerCount, largestCount, wrapped, type SpeedWord } from './speedWord.ts';

/** Forms of a signal whose height is the speed. */
export const spindleSignals = ['dial', '0–10 V', '0–20 mA', '4–20 mA', 'PWM', 'pulse frequency'] as const;
export type SpindleSignal = (typeof spindleSignals)[number];

/** The speed as a signal: signal A means a, signal B means b, in Hz of the drive. */
export interface SignalCommand {
  readonly kind: 'signal';
  readonly signal: SpindleSignal;
  readonly scale: Outcome<TwoPointScale>;
  /** In what its two points are alike, so that they give no scale. */
  readonly alike?: 'signal' | 'hertz';
  /** Steps over the whole of its range, at the end that sends and at the one that takes; unknown where it is stepless. */
  readonly senderSteps: Outcome<number>;
  readonly takerSteps: Outcome<number>;
  /** rpm of the tool at which the controller sends its full signal. */
  readonly controllerTop: Outcome<number>;
}

/** A speed that inputs of the drive pick. */
export interface FixedSpeed {
  /** Levels of the inputs, the first input first: `10` */
  readonly pattern: string;
  readonly hertz: Outcome<number>;
}

/** How the speed of a spindle is commanded. */
export type SpindleCommand =
  | SignalCommand
  | { readonly kind: 'fixedSpeeds'; readonly speeds: readonly FixedSpeed[] }
  | { readonly kind: 'fieldBus'; readonly word: Outcome<SpeedWord> };

/** What the signal is counted in. */
export function spindleSignalUnit(command: SpindleCommand): string {
  switch (command.kind) {
    case 'fixedSpeeds':
      return 'inputs';
    case 'fieldBus':
      return 'counts';
    case 'signal':
      return signalUnits[command.signal].unit;
  }
}

const signalUnits = {
  dial: { unit: '% of turn', lowest: 0, highest: 100 },
  '0–10 V': { unit: 'V', lowest: 0, highest: 10 },
  '0–20 mA': { unit: 'mA', lowest: 0, highest: 20 },
  '4–20 mA': { unit: 'mA', lowest: 4, highest: 20 },
  PWM: { unit: '%', lowest: 0, highest: 100 },
  'pulse frequency': { unit: 'Hz', lowest: 0, highest: Infinity },
} as const satisfies Readonly<Record<SpindleSignal, object>>;

/** Where a signal begins and ends, in its unit; a pulse frequency has no end of its own. */
export const spindleSignalRange = (
  signal: SpindleSignal,
): { readonly unit: string; readonly lowest: number; readonly highest: number } => signalUnits[signal];

const exactly = (value: number): Exact => exactRatio(rationalFromNumber(value));

/** What a drive gets when a frequency is asked of it. */
export interface CommandedSignal {
  /** V, mA, %, Hz, counts; the number of the inputs’ pattern. */
  readonly value: Exact;
  /** As it is shown where a number does not say it: the pattern of the inputs. */
  readonly text?: string;
  /** Hz that the drive makes of it. */
  readonly hertz: Exact;
}

/** The signal for a frequency, and what the drive really makes of it: whole counts, the nearest fixed speed. */
export function signalFor(command: SpindleCommand, poles: number, hertz: Exact): Outcome<CommandedSignal> {
  switch (command.kind) {
    case 'signal':
      return map(command.scale, (scale) => ({ value: signalAt(scale, hertz), hertz }));
    case 'fieldBus': {
      if (command.word.state === 'unknown') return command.word;
      const word = command.word.value;
      const each = exactly(hertzPerCount(word.counts, poles));
      const counts = nearestWhole(divide(hertz, each));
      const [number, most] = [Number(counts), largestCount(word)];
      if (number < 0 && !word.signed)
        return unknown('the register cannot hold a negative value: the direction has its own bit', '/command/signed');
      if (Math.abs(number) > most)
        return unknown(
          `${number} counts exceed ${word.bits} bits ${word.signed ? 'signed' : 'unsigned'} (at most ${most}): it would read ${wrapped(word, number)}`,
          '/command/signed',
        );
      return known({ value: exact(counts), hertz: multiply(exact(counts), each) });
    }
    case 'fixedSpeeds': {
      const speeds = all<Rated[]>(...command.speeds.map(ratedOf));
      if (speeds.state === 'unknown') return speeds;
      const [nearest] = [...speeds.value].sort((a, b) => distance(a, hertz) - distance(b, hertz));
      return nearest
        ? known({ value: exact(parseInt(nearest.pattern, 2)), text: nearest.pattern, hertz: exactly(nearest.hertz) })
        : unknown('no fixed speed is stored', '/command/speeds');
    }
  }
}

/** Hz for a signal. */
export function hertzOf(command: SpindleCommand, poles: number, signal: Exact): Outcome<Exact> {
  switch (command.kind) {
    case 'signal':
      return map(command.scale, (scale) => valueAt(scale, signal));
    case 'fieldBus':
      return map(command.word, ({ counts }) => multiply(signal, exactly(hertzPerCount(counts, poles))));
    case 'fixedSpeeds': {
      const wanted = Number(signal.ratio.numerator);
      const speed = command.speeds.find(({ pattern }) => parseInt(pattern, 2) === wanted);
      return speed ? map(speed.hertz, exactly) : unknown(`no speed is stored for the pattern ${wanted.toString(2)}`);
    }
  }
}

type Rated = { readonly pattern: string; readonly hertz: number };
const ratedOf = ({ pattern, hertz }: FixedSpeed): Outcome<Rated> => map(hertz, (value) => ({ pattern, hertz: value }));
const distance = ({ hertz }: Rated, wanted: Exact) =>
  Math.abs(hertz - Number(wanted.ratio.numerator) / Number(wanted.ratio.denominator));

/** The nearest whole number; halves go up, as drives and controllers round. */
function nearestWhole({ ratio }: Exact): bigint {
  const twice = add(multiply(exact(ratio.numerator, ratio.denominator), exact(2)), exact(1)).ratio;
  const below = twice.denominator * 2n;
  const down = twice.numerator / below;
  return twice.numerator < 0n && twice.numerator % below !== 0n ? down - 1n : down;
}

/** Signal that one Hz more takes; unknown for fixed speeds. */
export function signalPerHertz(command: SpindleCommand, poles: number): Outcome<Exact> {
  switch (command.kind) {
    case 'signal':
      return map(command.scale, (scale) => add(signalAt(scale, exact(1)), negate(signalAt(scale, exact(0)))));
    case 'fieldBus':
      return map(command.word, ({ counts }) => divide(exact(1), exactly(hertzPerCount(counts, poles))));
    case 'fixedSpeeds':
      return unknown('only the fixed speeds can be selected');
  }
}

/** Which source of the speed a command needs at the drive. */
export function neededSpeedSource(command: SpindleCommand): SpeedSource {
  switch (command.kind) {
    case 'fixedSpeeds':
      return 'fixed speeds';
    case 'fieldBus':
      return 'field bus';
    case 'signal':
      switch (command.signal) {
        case 'dial':
          return 'dial';
        case 'PWM':
          return 'PWM';
        case 'pulse frequency':
          return 'pulses';
        case '0–10 V':
        case '0–20 mA':
        case '4–20 mA':
          return 'analog';
      }
  }
}
