import { homingDigest, type LiveState } from '@kavrid/contract';
import { act, fireEvent, screen, within } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { planHoming, type HomingRequest } from '../jobs/homingJob.ts';
import { live as liveSlice } from '../store/live.ts';
import { linkedState } from '../test/liveState.ts';
import { answer, axisRecord, demoAxes, demoAxis, replies, requests, show } from '../test/screen.tsx';
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
    await user.click(screen.getByRole('tab', { name: 'Measured and proven' }));
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

describe('what is measured of homing', () => {
  const kept = (homes: readonly number[], digest: string, at: string) => ({
    kind: 'homing series',
    ...{ madeAt: at, revision: 1, identity: 'x', digest },
    payload: { of: homes.length, homes, end: 'finished', by: 'controller' },
  });

  it('lists what was kept, says where the plan has changed since, and draws the chosen one over the prediction', async () => {
    const axis = { ...demoAxis, homing: { ...demoAxis.homing, method: 17, switchScatter: 0.05 } } as const;
    replies.set('GET /axes/a/evidence', [
      kept([0, 0.03, -0.02, 0.01], homingDigest(axis), '2026-11-30T10:00:00.000Z'),
      kept([0, 0.5], 'other', '2026-11-29T10:00:00.000Z'),
    ]);
    const { user } = show(<HomingView />, { axis: axisRecord(1, axis) });
    await user.click(screen.getByRole('tab', { name: 'Measured and proven' }));
    const table = await screen.findByRole('table', { name: 'Series kept as evidence' });
    const [, first, second] = within(table).getAllByRole('row');
    expect(first?.textContent).toContain('by the controller4');
    expect(first?.textContent).toContain('version 1');
    expect(second?.textContent).toContain('plan changed since version 1');
    // s of 0, 0.03, −0.02, 0.01 by hand: √(0.0013/3).
    expect(first?.textContent).toContain('0.0208');
    await user.click(within(table).getAllByRole('button')[0] ?? table);
    const spread = screen.getByRole('table', { name: 'Repeatability, predicted' });
    expect(within(spread).getByRole('row', { name: /Measured in 4 homings/ }).textContent).toContain('0.0208');
  });

  it('positions read at a gauge give the figures of ISO 230-2, and are kept', async () => {
    replies.set('GET /axes/a/evidence', []);
    replies.set('POST /axes/a/measurements', answer(200, {}));
    const { user } = show(<HomingView />, { axis: axisRecord() });
    await user.click(screen.getByRole('tab', { name: 'Measured and proven' }));
    const field = screen.getByLabelText(/^Target, 5 readings/);
    await user.type(field, '100 1 2 3');
    expect(screen.getByText(/Line 1 has 4 numbers/)).toBeTruthy();
    await user.clear(field);
    // Deviations 1, 2, 3, 2, 2 and −1, −2, −3, −2, −2: s = √(2/4), B = 4.
    await user.type(field, '100 101 102 103 102 102 99 98 97 98 98');
    const table = screen.getByRole('table', { name: 'Positions, measured' });
    expect(within(table).getAllByRole('row')[1]?.textContent).toBe('10040.7070.7072.832.836.83');
    const keep: HTMLButtonElement | undefined = screen.getAllByRole<HTMLButtonElement>('button', {
      name: 'Keep as evidence',
    })[0];
    if (!keep) throw new Error('there is no button');
    await user.click(keep);
    await vi.waitFor(() =>
      expect(requests.find(({ path }) => path === '/axes/a/measurements')?.body).toEqual({
        version: 1,
        measured: {
          kind: 'positioning',
          targets: [{ target: 100, plus: [101, 102, 103, 102, 102], minus: [99, 98, 97, 98, 98] }],
        },
      }),
    );
  });

  it('two zeros: the soft limits of the drive as the controller reads them', async () => {
    replies.set('GET /axes/a/evidence', []);
    const { user, store } = show(<HomingView />, { axis: axisRecord() });
    await user.click(screen.getByRole('tab', { name: 'Measured and proven' }));
    act(
      () =>
        void store.dispatch(liveSlice.actions.liveArrived({ ...linkedState, homed: true, position: 30 } as LiveState)),
    );
    await user.type(screen.getByLabelText(/^What the controller reads/), '10');
    const table = screen.getByRole('table', { name: 'Two zeros' });
    expect(within(table).getByRole('row', { name: /Drive less controller/ }).textContent).toContain('20 mm');
    // −8 and 1845 of the drive.
    expect(within(table).getByRole('row', { name: /Minus soft limit/ }).textContent).toContain('-28 mm');
    expect(within(table).getByRole('row', { name: /Plus soft limit/ }).textContent).toContain('1\u202f825 mm');
  });
});

it('a histogram counts every value once', () => {
  const bars = histogramOf([0, 1, 1, 2, 3, 3, 3]);
  expect(bars.reduce((sum, { count }) => sum + count, 0)).toBe(7);
  expect([bars[0]?.from, bars.at(-1)?.to, bars.at(-1)?.count]).toEqual([0, 3, 3]);
  expect(histogramOf([2, 2])).toEqual([]);
});
