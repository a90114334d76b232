import { isRational, toNumber, type Exact } from './exact.ts';

/** Below this a computed number is what rounding has left of zero, in any unit that is shown. */
const roundingLeft = 1e-10;

/**
 * A number for reading: at most `digits` significant digits, thin-spaced thousands, never an exponent between 1e-6
 * and 1e15, no trailing zeros. What is smaller than 1e-10 is zero.
 */
export const formatNumber = (value: number, digits = 6): string =>
  Math.abs(value) < roundingLeft ? '0' : formatAnySize(value, digits);

function formatAnySize(value: number, digits: number): string {
  if (!Number.isFinite(value)) return '—';
  if (value === 0) return '0';
  const size = Math.abs(value);
  if (size >= 1e15 || size < 1e-6) return value.toExponential(Math.max(0, digits - 1)).replace(/\.?0+e/, 'e');
  const decimals = Math.max(0, Math.min(12, digits - 1 - Math.floor(Math.log10(size))));
  const [whole = '', fraction] = value.toFixed(decimals).split('.');
  const grouped = whole.replace(/\B(?=(\d{3})+$)/g, '\u202f');
  const trimmed = fraction?.replace(/0+$/, '');
  return trimmed ? `${grouped}.${trimmed}` : grouped;
}

/** An exact value for reading; `≈` stands before it when the shown digits are not the whole value. */
export function formatExact(value: Exact, digits = 9): string {
  const text = formatAnySize(toNumber(value), digits);
  return isRational(value) && isTerminating(value, digits) ? text : `≈ ${text}`;
}

function isTerminating(value: Exact, digits: number): boolean {
  let rest = value.ratio.denominator;
  for (const prime of [2n, 5n]) while (rest % prime === 0n) rest /= prime;
  if (rest !== 1n) return false;
  const shown = Number(toNumber(value).toPrecision(digits));
  return shown === toNumber(value);
}
