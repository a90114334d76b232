/** Starts that a homing series goes to by default. */
const usualRuns = 4;
/** Of the stretch between the soft limits: starts lie so near home, so that a series does not take long. */
const near = 0.2;

/** Places near home, between the soft limits, none like another; empty where a limit is not planned. */
export function randomStarts(minus: number | null, plus: number | null, home: number): readonly number[] {
  if (minus === null || plus === null || !(plus > minus)) return [];
  const reach = near * (plus - minus);
  const [low, high] = [Math.max(minus, home - reach), Math.min(plus, home + reach)];
  const digits = reach > 20 ? 0 : 2;
  return Array.from({ length: usualRuns }, () => Number((low + (high - low) * Math.random()).toFixed(digits)));
}

/** Numbers apart by spaces. */
export function readStarts(text: string): { readonly starts: readonly number[] } | { readonly because: string } {
  const parts = text.split(/\s+/).filter(Boolean);
  const starts = parts.map(Number);
  const wrong = parts.find((_, k) => !Number.isFinite(starts[k]));
  if (wrong !== undefined) return { because: `“${wrong}” is no number. Enter positions with spaces between them.` };
  if (starts.length === 0) return { because: 'Enter at least one position.' };
  return starts.length > 49 ? { because: 'At most 49 positions.' } : { starts };
}
