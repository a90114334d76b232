import { screen, within } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { prepareMoves, viewMoves, type MoveRequest } from '../jobs/moveJob.ts';
import { planTuning } from '../jobs/tuningJob.ts';
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

const gains = () => screen.findByRole('table', { name: 'Planned and suggested gains' });

describe('tuning', () => {
  it('suggests gains with their margins, and takes them into the plan alone', async () => {
    const { user, draft } = show(<TuningView />, { axis: axisRecord() });
    expect(within(await gains()).getByRole('row', { name: /^Speed loop bandwidth/ }).textContent).toContain('260300');
    const margins = screen.getByRole('table', { name: 'Margins' });
    expect(within(margins).getAllByRole('row')).toHaveLength(5);
    expect(screen.queryByText(/unstable/)).toBeNull();
    const [use] = screen.getAllByRole('button', { name: 'Use in the plan' });
    if (!use) throw new Error('there is nothing to use');
    await user.click(use);
    const { document } = draft();
    expect(document.kind === 'axis' && document.settings).toMatchObject({
      speedBandwidth: 300,
      positionGain: 60,
      speedIntegralTime: 20,
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

  it('calls gains unstable that the model calls so', async () => {
    const wild = { ...demoAxis, settings: { ...demoAxis.settings, speedBandwidth: 4000, positionGain: 900 } };
    show(<TuningView />, { axis: axisRecord(1, wild) });
    expect(await screen.findByText(/the planned gains are unstable/)).toBeTruthy();
  });

  it('says why there is no model', async () => {
    const table = demoAxes.find(({ name }) => name === 'Turntable') ?? demoAxis;
    show(<TuningView />, { axis: axisRecord(1, table) });
    expect(await screen.findByText('There is no model: this drive closes no position loop.')).toBeTruthy();
  });
});
