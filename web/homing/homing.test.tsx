import type { LiveState } from '@kavrid/contract';
import { act, fireEvent, screen, within } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { planHoming, type HomingRequest } from '../jobs/homingJob.ts';
import { live as liveSlice } from '../store/live.ts';
import { linkedState } from '../test/liveState.ts';
import { axisRecord, demoAxes, demoAxis, show } from '../test/screen.tsx';
import { histogramOf } from './histogramOf.ts';
import { HomingView } from './HomingView.tsx';
import { randomStarts, readStarts } from './seriesStarts.ts';

/** Does what the worker does, at once. */
class WorkerAtOnce {
  onmessage?: (event: { data: unknown }) => void;
  postMessage({ revision, input }: { readonly revision: number; readonly input: HomingRequest }): void {
    const result = planHoming(input);
    queueMicrotask(() => this.onmessage?.({ data: { kind: 'done', revision, result } }));
  }
  terminate(): void {
    // Nothing runs.
  }
}

beforeEach(() => vi.stubGlobal('Worker', WorkerAtOnce));
afterEach(() => vi.unstubAllGlobals());

const named = (name: string) => demoAxes.find((each) => each.name === name) ?? demoAxis;

describe('the page of homing', () => {
  it('shows the way from the start, and another start shows another way', async () => {
    show(<HomingView />, { axis: axisRecord() });
    expect(await screen.findByText('home reads 0 mm')).toBeTruthy();
    const legs = screen.getByRole('table', { name: 'Legs of the homing' });
    expect(within(legs).getByText('1. Search for the minus limit')).toBeTruthy();
    const slider = screen.getByRole('slider', { name: 'Start of the homing' });
    expect(slider.getAttribute('aria-valuetext')).toBe('925 mm');
    fireEvent.keyDown(slider, { key: 'Home' });
    // On the limit it creeps off at once.
    expect(within(legs).getByText('1. Creep over the edge of the minus limit')).toBeTruthy();
    fireEvent.keyDown(slider, { key: 'ArrowRight' });
    fireEvent.keyDown(slider, { key: 'x' });
    expect(Number(slider.getAttribute('aria-valuenow'))).toBeCloseTo(-20 + 19.25, 2);
  });

  it('offers methods with why and cost, and uses the one that is chosen', async () => {
    const { user } = show(<HomingView />, { axis: axisRecord() });
    const offered = await screen.findByRole('list', { name: 'Methods that fit' });
    expect(within(offered).getAllByRole('listitem').length).toBeGreaterThan(1);
    const other = within(offered).getAllByRole('button', { name: 'Use' })[0];
    if (!other) throw new Error('there is nothing to choose');
    await user.click(other);
    expect(within(screen.getByRole('list', { name: 'Methods that fit' })).getByText('planned')).toBeTruthy();
    // Without limit switches nothing is homed on them.
    await user.click(screen.getByRole('checkbox', { name: 'limit switches' }));
    expect(screen.queryByText(/^17 · /)).toBeNull();
  });

  it.each([
    ['Spray lift', 'The controller homes this axis', 'home reads 200 mm'],
    ['Tile stop', 'Plus hard stop', 'home reads 99.5 mm'],
    ['Turntable', 'one of 72 places', 'home reads 0 deg'],
  ])('of the %s says what matters there', async (name, words, home) => {
    show(<HomingView />, { axis: axisRecord(1, named(name)) });
    expect(await screen.findByText(home)).toBeTruthy();
    expect((await screen.findAllByText(new RegExp(words))).length).toBeGreaterThan(0);
  });

  it('says what is missing instead of drawing', () => {
    const axis = { ...demoAxis, homing: { ...demoAxis.homing, creepSpeed: null } };
    show(<HomingView />, { axis: axisRecord(1, axis) });
    expect(screen.getByText('There is no drawing: the homing creep speed has not been entered.')).toBeTruthy();
  });
});

describe('the starts of a series', () => {
  it('lie between the soft limits and near home; without limits there are none', () => {
    for (let k = 0; k < 50; k++)
      for (const start of randomStarts(-8, 1845, 0)) {
        expect(start).toBeGreaterThanOrEqual(-8);
        expect(start).toBeLessThanOrEqual(371);
      }
    expect(randomStarts(null, 5, 0)).toEqual([]);
    expect(randomStarts(5, 5, 0)).toEqual([]);
  });

  it('are read as numbers apart by spaces, and what is none is named', () => {
    expect(readStarts(' 20  40.5 -3 ')).toEqual({ starts: [20, 40.5, -3] });
    expect(readStarts('20 4O')).toEqual({ because: '“4O” is no number. Enter positions with spaces between them.' });
    expect(readStarts('')).toMatchObject({ because: 'Enter at least one position.' });
    expect(readStarts('1 '.repeat(50))).toMatchObject({ because: 'At most 49 positions.' });
  });

  it('are sent as shown, and what was measured is shown with its jumps', async () => {
    const { user, store } = show(<HomingView />, { axis: axisRecord() });
    const live = {
      ...linkedState,
      deviceState: 'operation enabled',
      homingSeries: { of: 4, startedAt: 0, homes: [0, 0.002, 106.667], by: 'drive', isPaused: false },
    } as LiveState;
    act(() => void store.dispatch(liveSlice.actions.liveArrived(live)));
    const field = screen.getByLabelText(/^Starts/);
    await user.clear(field);
    await user.type(field, '20 x');
    expect(screen.getByText(/“x” is no number/)).toBeTruthy();
    await user.clear(field);
    await user.type(field, '20 30');
    const button: HTMLButtonElement = screen.getByRole('button', { name: 'Home 3 times' });
    expect(button.disabled).toBe(false);
    const table = screen.getByRole('table', { name: 'Repeatability, measured' });
    expect(within(table).getByText('3 of 4')).toBeTruthy();
    expect(within(table).getByText('1 of 3')).toBeTruthy();
  });
});

it('a histogram counts every value once', () => {
  const bars = histogramOf([0, 1, 1, 2, 3, 3, 3]);
  expect(bars.reduce((sum, { count }) => sum + count, 0)).toBe(7);
  expect([bars[0]?.from, bars.at(-1)?.to, bars.at(-1)?.count]).toEqual([0, 3, 3]);
  expect(histogramOf([2, 2])).toEqual([]);
});
