import type { PointerEvent } from 'react';
import type { Plot } from './curve.ts';

/** What a mouse or finger on a chart does, in values of its x axis. */
export interface ChartPointer {
  /** A click; with the shift key it is the second one. */
  readonly pick: (x: number, isSecond: boolean) => void;
  /** A stretch has been drawn over. */
  readonly select: (from: number, to: number) => void;
  /** Dragged with the shift key: by how much the chart moves under the hand. */
  readonly pan: (by: number) => void;
}

/** px within which a press that moves is still a click */
const clickWithin = 4;

/** Tracks a press until release, and highlights the selected stretch while dragging. */
export function chartPointer(event: PointerEvent<HTMLElement>, plot: Plot, pointer: ChartPointer): void {
  if (event.button !== 0) return;
  const element = event.currentTarget;
  const left = element.getBoundingClientRect().left;
  const start = event.clientX - left;
  if (start < plot.x || start > plot.x + plot.width) return;
  const isShifted = event.shiftKey;
  const [low, high] = plot.xRange;
  const valueAt = (px: number) =>
    low + ((Math.min(plot.x + plot.width, Math.max(plot.x, px)) - plot.x) / plot.width) * (high - low);
  const mark = document.createElement('div');
  Object.assign(mark.style, {
    position: 'absolute',
    top: `${plot.y}px`,
    height: `${plot.height}px`,
    background: 'currentColor',
    opacity: '0.12',
    pointerEvents: 'none',
  });
  element.append(mark);
  let last = start;
  const ended = new AbortController();
  const moved = ({ clientX }: { readonly clientX: number }) => {
    const here = clientX - left;
    if (isShifted) {
      // The x range has moved since the press: only the way of the hand counts.
      pointer.pan(((last - here) / plot.width) * (high - low));
      last = here;
      return;
    }
    const [from, to] = [Math.min(start, here), Math.max(start, here)];
    Object.assign(mark.style, { left: `${from}px`, width: `${to - from > clickWithin ? to - from : 0}px` });
  };
  const end = (isDone: boolean, here: number) => {
    ended.abort();
    mark.remove();
    if (!isDone) return;
    if (Math.abs(here - start) <= clickWithin) return pointer.pick(valueAt(start), isShifted);
    if (!isShifted) pointer.select(valueAt(Math.min(start, here)), valueAt(Math.max(start, here)));
  };
  const { signal } = ended;
  window.addEventListener('pointermove', moved, { signal });
  window.addEventListener('pointerup', ({ clientX }) => end(true, clientX - left), { signal });
  window.addEventListener('pointercancel', () => end(false, start), { signal });
  window.addEventListener('keydown', ({ key }) => key === 'Escape' && end(false, start), { signal });
}
