import type { AxisDocument, LiveState } from '@kavrid/contract';

/** How far, and how fast, the axis has to go to where its test move begins; undefined: it is there, or not known. Axis units. */
export function approachOf(
  { testMove: { from, distance, speed }, jogSpeed }: AxisDocument,
  live: LiveState | undefined,
): { readonly distance: number; readonly speed: number } | undefined {
  const position = live?.position;
  if (position === undefined || from === null || distance === null || speed === null) return undefined;
  const missing = from - position;
  if (Math.abs(missing) <= Math.abs(distance) / 1000) return undefined;
  return { distance: missing, speed: Math.min(speed, jogSpeed ?? speed, live?.jogLimit?.speed ?? Infinity) };
}
