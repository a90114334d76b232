import type { TraceTrigger } from '../jobs/traceJob.ts';
import type { TraceTraits } from './traceTraits.ts';

export type Window = readonly [number, number];

/** What is chosen on the page of traces. */
export interface TraceState {
  readonly channels: readonly string[];
  readonly over: 'time' | 'position';
  readonly isPredicted: boolean;
  readonly trigger: TraceTrigger | undefined;
  /** s about zero; undefined: the whole */
  readonly window: Window | undefined;
  readonly cursors: readonly [number | undefined, number | undefined];
}

export const startState = ({ usual }: TraceTraits): TraceState => ({
  channels: usual,
  over: 'time',
  isPredicted: true,
  trigger: undefined,
  window: undefined,
  cursors: [undefined, undefined],
});

/** s that a window is wide at least: some samples of a fast trace. */
const narrowest = 0.001;

/** A window within the whole, as wide as asked where that fits. */
export function windowWithin([from, to]: Window, [first, last]: Window): Window | undefined {
  const width = Math.max(narrowest, to - from);
  if (width >= last - first) return undefined;
  const start = Math.min(Math.max(from, first), last - width);
  return [start, start + width];
}

/** Narrower or wider about its middle. @param factor of the width */
export function zoomed(window: Window | undefined, whole: Window, factor: number): Window | undefined {
  const [from, to] = window ?? whole;
  const [middle, half] = [(from + to) / 2, ((to - from) * factor) / 2];
  return windowWithin([middle - half, middle + half], whole);
}

/** Moved by a share of its width. */
export function panned(window: Window | undefined, whole: Window, share: number): Window | undefined {
  if (!window) return undefined;
  const by = share * (window[1] - window[0]);
  return windowWithin([window[0] + by, window[1] + by], whole);
}
