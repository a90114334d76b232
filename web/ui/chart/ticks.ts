/** A number without the digits that come of multiplying fractions. */
const rounded = (value: number) => Number(value.toPrecision(12)) + 0;

/** The least of 1, 2 and 5 times a power of ten that divides a span into no more than so many parts. */
function stepOf(span: number, most: number): number {
  const least = span / most;
  const power = 10 ** Math.floor(Math.log10(least));
  return ([1, 2, 5].find((each) => each * power >= least * (1 - 1e-9)) ?? 10) * power;
}

/** Evenly spaced ticks on whole steps from `low` to `high`, no more than `most` + 1. */
export function ticksWithin(low: number, high: number, most: number): readonly number[] {
  if (!(high > low)) return [low];
  const step = stepOf(high - low, most);
  const first = Math.ceil(low / step - 1e-9);
  const last = Math.floor(high / step + 1e-9);
  return Array.from({ length: last - first + 1 }, (_, k) => rounded((first + k) * step));
}

/** A range that begins and ends at a tick and holds all of `low` to `high`; a range without width gets some. */
export function rangeOnTicks(low: number, high: number, most: number): readonly [number, number] {
  if (!Number.isFinite(low) || !Number.isFinite(high)) return [0, 1];
  const half = high > low ? 0 : Math.abs(low) / 2 || 0.5;
  const [from, to] = [low - half, high + half];
  const step = stepOf(to - from, Math.max(1, most - 1));
  return [rounded(Math.floor(from / step + 1e-9) * step), rounded(Math.ceil(to / step - 1e-9) * step)];
}

/** 1, 2 and 5 times each power of ten between two positive numbers, for a logarithmic axis. */
export function ticksOfDecades(low: number, high: number): readonly number[] {
  if (!(low > 0) || !(high >= low)) return [];
  const first = Math.floor(Math.log10(low));
  const last = Math.ceil(Math.log10(high));
  return Array.from({ length: last - first + 1 }, (_, k) => first + k)
    .flatMap((power) => [1, 2, 5].map((each) => rounded(each * 10 ** power)))
    .filter((tick) => tick >= low * (1 - 1e-9) && tick <= high * (1 + 1e-9));
}
