import type { MeasuredTarget } from '@kavrid/core/evidence';

/** Readings of a target each way, as ISO 230-2 has it. */
export const readingsEachWay = 5;

/**
 * Lines of numbers apart by spaces, tabs or semicolons: the target, five readings approached towards plus, five towards minus.
 * Empty lines are left out.
 */
export function readTargets(
  text: string,
): { readonly targets: readonly MeasuredTarget[] } | { readonly because: string } {
  const lines = text.split('\n').filter((line) => line.trim() !== '');
  if (lines.length === 0) return { because: 'Enter a line for each target.' };
  if (lines.length > 50) return { because: 'At most 50 targets.' };
  const targets: MeasuredTarget[] = [];
  for (const [k, line] of lines.entries()) {
    const parts = line.split(/[\s;]+/).filter(Boolean);
    const numbers = parts.map(Number);
    const wrong = parts.find((_, at) => !Number.isFinite(numbers[at]));
    if (wrong !== undefined) return { because: `Line ${k + 1}: “${wrong}” is no number. Write decimals with a point.` };
    if (numbers.length !== 1 + 2 * readingsEachWay)
      return {
        because: `Line ${k + 1} has ${numbers.length} numbers: a target, ${readingsEachWay} readings towards plus and ${readingsEachWay} towards minus make ${1 + 2 * readingsEachWay}.`,
      };
    const [target = 0, ...readings] = numbers;
    targets.push({ target, plus: readings.slice(0, readingsEachWay), minus: readings.slice(readingsEachWay) });
  }
  return { targets };
}
