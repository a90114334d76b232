/** How a value lies in 16-bit registers. */
export type RegisterType = 'u16' | 'i16' | 'u32' | 'i32';
export type WordOrder = 'high word first' | 'low word first';

export const wordsOf = (type: RegisterType): 1 | 2 => (type === 'u32' || type === 'i32' ? 2 : 1);

const ranges: Readonly<Record<RegisterType, readonly [number, number]>> = {
  u16: [0, 0xffff],
  i16: [-0x8000, 0x7fff],
  u32: [0, 0xffffffff],
  i32: [-0x80000000, 0x7fffffff],
};

/** The least and the greatest raw value a type holds. */
export const rangeOf = (type: RegisterType): readonly [number, number] => ranges[type];

/** @throws RangeError when the raw value is not whole or does not fit. */
export function encodeRegisters(value: number, type: RegisterType, order: WordOrder = 'high word first'): number[] {
  const [least, greatest] = ranges[type];
  if (!Number.isInteger(value) || value < least || value > greatest) {
    throw new RangeError(`${value} does not fit a register of type ${type} (${least} to ${greatest}).`);
  }
  const bits = value < 0 ? value + 2 ** (16 * wordsOf(type)) : value;
  if (wordsOf(type) === 1) return [bits];
  const words = [Math.floor(bits / 0x10000), bits % 0x10000];
  return order === 'high word first' ? words : words.reverse();
}

/** @throws RangeError when there are too few words. */
export function decodeRegisters(
  words: readonly number[],
  type: RegisterType,
  order: WordOrder = 'high word first',
): number {
  const [first, second] = words;
  if (first === undefined || (wordsOf(type) === 2 && second === undefined))
    throw new RangeError(`A ${type} needs ${wordsOf(type)} registers.`);
  if (wordsOf(type) === 1) return type === 'i16' && first > 0x7fff ? first - 0x10000 : first;
  const [high, low] = order === 'high word first' ? [first, second as number] : [second as number, first];
  const bits = high * 0x10000 + low;
  return type === 'i32' && bits > 0x7fffffff ? bits - 0x100000000 : bits;
}

/** The value in some bits of a raw register value; unsigned. */
export const bitsOf = (raw: number, { from, to }: { readonly from: number; readonly to: number }): number =>
  Math.floor((raw < 0 ? raw + 2 ** 32 : raw) / 2 ** from) % 2 ** (to - from + 1);

/** A raw register value with some of its bits replaced. @throws RangeError when the value does not fit its bits */
export function withBits(
  raw: number,
  { from, to }: { readonly from: number; readonly to: number },
  value: number,
): number {
  const size = 2 ** (to - from + 1);
  if (!Number.isInteger(value) || value < 0 || value >= size)
    throw new RangeError(`${value} does not fit ${to - from + 1} bits.`);
  return raw + (value - bitsOf(raw, { from, to })) * 2 ** from;
}
