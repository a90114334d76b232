import { known, unknown, type Outcome } from '../sheet/index.ts';

/** How a register of a drive counts its speed reference. */
export interface SpeedWord {
  readonly counts: SpeedCounts;
  readonly signed: boolean;
  readonly bits: 16 | 32;
}

export type SpeedCounts =
  /** Hz that one count is worth: 0.01 or 0.1 */
  | { readonly kind: 'hertz'; readonly each: number }
  /** rpm of the motor that one count is worth */
  | { readonly kind: 'rpm'; readonly each: number }
  /** This many counts are this many hertz: a fraction of full scale. */
  | { readonly kind: 'share'; readonly fullScale: number; readonly hertz: number };

/** What a spindle turns through. */
export interface SpindleChain {
  readonly poles: number;
  /** Motor turns for one turn of the tool. */
  readonly ratio: number;
}

/** Hz at which the field turns the tool at a speed in rpm; slip is left to the drive. */
export const hertzFor = ({ poles, ratio }: SpindleChain, toolRpm: number): number => (toolRpm * ratio * poles) / 120;

/** rpm of the tool at a frequency. */
export const toolRpmAt = ({ poles, ratio }: SpindleChain, hertz: number): number => (120 * hertz) / poles / ratio;

/** Hz per count. */
export function hertzPerCount(counts: SpeedCounts, poles: number): number {
  switch (counts.kind) {
    case 'hertz':
      return counts.each;
    case 'rpm':
      return (counts.each * poles) / 120;
    case 'share':
      return counts.hertz / counts.fullScale;
  }
}

/** The largest number the register holds. */
export const largestCount = ({ signed, bits }: Pick<SpeedWord, 'signed' | 'bits'>): number =>
  2 ** (signed ? bits - 1 : bits) - 1;

/** The whole number to write for a speed of the tool; the reason where the register cannot hold it. */
export function countsFor(word: SpeedWord, chain: SpindleChain, toolRpm: number): Outcome<number> {
  const counts = Math.round(hertzFor(chain, toolRpm) / hertzPerCount(word.counts, chain.poles));
  const most = largestCount(word);
  if (counts < 0 && !word.signed)
    return unknown('the register cannot hold a negative value: the direction has its own bit');
  if (Math.abs(counts) > most)
    return unknown(
      `${counts} exceeds ${word.bits} bits ${word.signed ? 'signed' : 'unsigned'} (at most ${most}): it would read ${wrapped(word, counts)}`,
    );
  return known(counts);
}

/** What a number too large for a register reads as. */
export function wrapped({ signed, bits }: Pick<SpeedWord, 'signed' | 'bits'>, counts: number): number {
  const size = 2 ** bits;
  const low = ((counts % size) + size) % size;
  return signed && low >= size / 2 ? low - size : low;
}

/** Tool speed in rpm for a number in the register. */
export const toolRpmOf = (word: SpeedWord, chain: SpindleChain, counts: number): number =>
  toolRpmAt(chain, counts * hertzPerCount(word.counts, chain.poles));

/** rpm of the tool that one count changes: the step the operator can really resolve. */
export const toolStep = (word: SpeedWord, chain: SpindleChain): number => toolRpmOf(word, chain, 1);
