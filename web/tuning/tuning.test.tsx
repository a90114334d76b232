import { act, cleanup, screen, waitFor, within } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { prepareMoves, viewMoves, type MoveRequest } from '../jobs/moveJob.ts';
import { planTuning } from '../jobs/tuningJob.ts';
import { live } from '../store/live.ts';
import { liveAxis } from '../test/liveAxis.ts';
import { axisRecord, demoAxes, demoAxis, replies, show } from '../test/screen.tsx';
import type { AxisDocument } from '@kavrid/contract';
import { TuningView } from './TuningView.tsx';

/** Does what the workers do, at once. */
class WorkerAtOnce {
  onmessage?: (event: { data: unknown }) => void;
  readonly #url: string;
  constructor(url: URL) {
    this.#url = String(url);
  }
  postMessage({ revision, input }: { readonly revision: number; readonly input: unknown }): void {
    const result = this.#url.includes('tuning')
      ? planTuning(input as AxisDocument)
      : viewMoves(prepareMoves({ axis: (input as MoveRequest).axis, measured: undefined }), { points: 10 });
    queueMicrotask(() => this.onmessage?.({ data: { kind: 'done', revision, result } }));
  }
  terminate(): void {
    // Nothing runs.
  }
}

beforeEach(() => {
  vi.stubGlobal('Worker', WorkerAtOnce);
  replies.set('GET /axes/a/runs', []);
});
afterEach(() => vi.unstubAllGlobals());

describe('tuning', () => {
  it('suggests gains with their margins, and takes them into the plan alone', async () => {
    const { user, draft } = show(<TuningView />, { axis: axisRecord() });
    const table = await screen.findByRole('table', { name: 'Gains' });
    // The drive believes in an inertia ratio of 14, and it is 15.2: for 300 rad/s it is keyed in as 325.
    await waitFor(() =>
      expect(within(table).getByRole('row', { name: /^Speed loop bandwidth/ }).textContent).toContain('325'),
    );
    const margins = screen.getByRole('table', { name: 'Margins' });
    // Planned, on trial, suggested: both loops of each, and the heads.
    expect(within(margins).getAllByRole('row')).toHaveLength(7);
    expect(screen.queryByText(/unstable/)).toBeNull();
    await user.click(screen.getByRole('button', { name: 'Plan an inertia ratio of 15.2' }));
    await waitFor(() =>
      expect(within(table).getByRole('row', { name: /^Speed loop bandwidth/ }).textContent).not.toContain('325'),
    );
    await user.click(screen.getByRole('button', { name: 'Plan the suggestion' }));
    const { document } = draft();
    expect(document.kind === 'axis' && document.settings).toMatchObject({
      inertiaRatio: 15.2,
      // 300 by an inertia ratio that is 15.23 before it is rounded.
      speedBandwidth: 301,
      positionGain: 60,
      speedIntegralTime: 20,
      accelerationFeedforward: 100,
      notchFrequency: null,
    });
  });

  it('says what the predicted move shows, with what to change and what comes of it', async () => {
    const { user, draft } = show(<TuningView />, { axis: axisRecord() });
    const advice = await screen.findByRole('list', { name: 'Advice' });
    expect(advice.textContent).toContain('behind its demand');
    expect(advice.textContent).toContain('expected peak error');
    const lag = within(advice)
      .getAllByRole('listitem')
      .find(({ textContent }) => textContent?.includes('behind its demand'));
    await user.click(within(lag ?? advice).getByRole('button', { name: 'Use in the plan' }));
    const { document } = draft();
    expect(document.kind === 'axis' && document.settings.velocityFeedforward).toBeGreaterThan(90);
  });

  it('asks for a deliberate act before gains are tried that the model calls unstable, and keeps them in the plan', async () => {
    const trial = { ...demoAxis.tuning.trial, speedBandwidth: 5000, positionGain: 900 };
    const { user, draft, store } = show(<TuningView />, {
      axis: axisRecord(1, { ...demoAxis, tuning: { ...demoAxis.tuning, trial } }),
    });
    act(() => void store.dispatch(live.actions.liveArrived(liveAxis)));
    expect(await screen.findByText(/By the model the trial gains are unstable/)).toBeTruthy();
    const go = screen.getByRole<HTMLButtonElement>('button', { name: 'Try the gains' });
    expect(go.disabled).toBe(true);
    await user.click(screen.getByRole('checkbox', { name: /Try them all the same/ }));
    expect(go.disabled).toBe(false);
    await user.click(screen.getByRole('button', { name: 'Keep: plan the trial gains' }));
    const { document } = draft();
    expect(document.kind === 'axis' && document.settings).toMatchObject({
      speedBandwidth: 5000,
      positionGain: 900,
      // Of what is not tried nothing changes.
      torqueFilter: null,
    });
    expect(go.disabled).toBe(true);
  });

  it('calls gains unstable that the model calls so', async () => {
    const wild = { ...demoAxis, settings: { ...demoAxis.settings, speedBandwidth: 4000, positionGain: 900 } };
    show(<TuningView />, { axis: axisRecord(1, wild) });
    expect(await screen.findByText(/the planned gains are unstable/)).toBeTruthy();
  });

  it('says why there is no model, and models a position loop that the controller closes', async () => {
    const table = demoAxes.find(({ name }) => name === 'Turntable') ?? demoAxis;
    if (table.command.kind !== 'analog' || !table.command.loop) throw new Error('the turntable has no loop');
    const { user, draft } = show(<TuningView />, { axis: axisRecord(1, table) });
    const gains = await screen.findByRole('table', { name: 'Gains' });
    // The gains of the controller in place of those that the drive does not use.
    expect(within(gains).getByRole('textbox', { name: 'Position gain, controller' })).toBeTruthy();
    expect(within(gains).queryByRole('textbox', { name: 'Position gain' })).toBeNull();
    await screen.findByRole('table', { name: 'Margins' });
    await user.click(screen.getByRole('button', { name: 'Plan the suggestion' }));
    const { document } = draft();
    if (document.kind !== 'axis' || document.command.kind !== 'analog') throw new Error('another axis');
    expect(document.command.loop?.gain).toBeGreaterThan(table.command.loop.gain ?? 0);
    expect(document.settings.positionGain).toBe(table.settings.positionGain);
    cleanup();
    const open = { ...table, command: { ...table.command, loop: null } };
    show(<TuningView />, { axis: axisRecord(1, open) });
    expect(await screen.findByText('There is no model: nothing closes a position loop.')).toBeTruthy();
  });
});
