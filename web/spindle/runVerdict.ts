import type { RunEnd } from '@kavrid/contract';

/** What a run test came to. */
export type RunVerdict = 'only predicted' | 'not finished' | 'never turned' | 'too slow' | 'went through';

/** Share of the predicted speed below which a spindle has not turned, and below which it did not follow. */
const turned = 0.05;
const followed = 0.85;

/** @param measured the end of the run and its highest motor speed, rpm; undefined: none was made */
export function runVerdict(
  predictedSpeed: number,
  measured: { readonly end: RunEnd; readonly speed: number } | undefined,
): RunVerdict {
  if (!measured) return 'only predicted';
  if (measured.speed < turned * predictedSpeed) return 'never turned';
  if (measured.end !== 'finished') return 'not finished';
  return measured.speed < followed * predictedSpeed ? 'too slow' : 'went through';
}
