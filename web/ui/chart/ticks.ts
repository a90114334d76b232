/** A number without the digits that come of multiplying fractions. */
const rounded = (value: number) => Number(value.toPrecision(12)) + 0;

/** 1, 2 and 5 times powers of ten, from the one that divides a span into no more than so many parts upwards. */
function stepsFor(span: number, most: number): readonly number[] {
  const least = (span / most) * (1 - 1e-9);
  const power = Math.floor(Math.log10(least));
  return [power, power + 1]
    .flatMap((exponent) => [1, 2, 5].map((each) => each * 10 ** exponent))
    .filter((step) => step >= least);
}

const isMultiple = (value: number, step: number) => Math.abs(value / step - Math.round(value / step)) < 1e-6;

/** Evenly spaced ticks on whole steps from `low` to `high`, no more than `most` + 1; at both ends where they are round. */
export function ticksWithin(low: number, high: number, most: number): readonly number[] {
  if (!(high > low)) return [low];
  const steps = stepsFor(high - low, most);
  const step = steps.find((each) => isMultiple(low, each) && isMultiple(high, each)) ?? steps[0] ?? high - low;
  const first = Math.ceil(low / step - 1e-6);
  const last = Math.floor(high / step + 1e-6);
  return Array.from({ length: last - first + 1 }, (_, k) => rounded((first + k) * step));
}

/** A range that begins and ends at a tick and holds all of `low` to `high`; a range without width gets some. */
export function rangeOnTicks(low: number, high: number, most: number): readonly [number, number] {
  if (!Number.isFinite(low) || !Number.isFinite(high)) return [0, 1];
  const half = high > low ? 0 : Math.abs(low) / 2 || 0.5;
  const [from, to] = [low - half, high + half];
  const ends = stepsFor(to - from, most).map(
    (step) => [Math.floor(from / step + 1e-6) * step, Math.ceil(to / step - 1e-6) * step, step] as const,
  );
  const [first, last] = ends.find(([start, end, step]) => Math.round((end - start) / step) <= most) ?? [from, to];
  return [rounded(first), rounded(last)];
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
