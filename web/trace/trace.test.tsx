import { Blob as NodeBlob } from 'node:buffer';
import { readImported } from '@kavrid/contract';
import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { answerTable, type TableWork } from '../jobs/answerTable.ts';
import { answerTrace, type TraceWork } from '../jobs/answerTrace.ts';
import { axisRecord, demoSpindle, replies, requests, show } from '../test/screen.tsx';
import { shownUnits } from '../ui/units.ts';
import { columnGuess, mappingOf } from './columnMapping.ts';
import { panned, windowWithin, zoomed } from './traceState.ts';
import { traceTraits } from './traceTraits.ts';
import { TraceView } from './TraceView.tsx';

/** Does what the workers do, without a thread. */
class WorkerHere {
  onmessage?: (event: { data: unknown }) => void;
  readonly #isTable: boolean;
  constructor(url: URL) {
    this.#isTable = String(url).includes('table');
  }
  async postMessage({ revision, input }: { readonly revision: number; readonly input: unknown }): Promise<void> {
    const result = this.#isTable ? await answerTable(input as TableWork) : await answerTrace(input as TraceWork);
    this.onmessage?.({ data: { kind: 'done', revision, result } });
  }
  terminate(): void {
    // Nothing runs.
  }
}

const run = {
  id: 'r1',
  memberId: 'a',
  kind: 'test move',
  end: 'stopped',
  because: 'stopped',
  startedAt: '2026-01-02T03:04:05.000Z',
  seconds: 1,
  axisVersion: 1,
  name: 'After greasing',
  notes: 'Coupling tightened',
} as const;
const channels = [{ id: 'followingError', label: 'Following error', unit: 'mm', scale: 1, format: 'float64' }];

beforeEach(() => {
  vi.stubGlobal('Worker', WorkerHere);
  replies.set('GET /axes/a/runs', []);
});
afterEach(() => vi.unstubAllGlobals());

describe('the page of traces', () => {
  it('measures the prediction while there is no run: values, moves with a zoom to one, a spectrum, a table', async () => {
    const { user } = show(<TraceView />, { axis: axisRecord() });
    const table = await screen.findByRole('table', { name: 'Window shown' });
    // The demo’s test move goes from 200 to 1000 mm at 1200 mm/s.
    await waitFor(() =>
      expect(within(table).getByRole('row', { name: /^Actual position/ }).textContent).toContain('200'),
    );
    expect(screen.getByText(/leaves .* to the torque limit of 150 %/)).toBeTruthy();
    await user.click(screen.getByRole('tab', { name: 'Moves' }));
    const moves = screen.getByRole('table', { name: 'Moves' });
    expect(within(moves).getAllByRole('row')).toHaveLength(5);
    await user.click(within(moves).getByRole('button', { name: 'prediction, move 2' }));
    await waitFor(() =>
      expect(within(screen.getByRole('table', { name: 'Moves' })).getAllByRole('row')).toHaveLength(2),
    );
    await user.click(screen.getByRole('button', { name: 'Whole' }));
    await user.click(screen.getByRole('tab', { name: 'Table' }));
    expect(within(screen.getByRole('table', { name: 'The curves as a table' })).getAllByRole('row')).toHaveLength(41);
    await user.click(screen.getByRole('tab', { name: 'Cursors' }));
    fireEvent.change(screen.getByLabelText('Cursor A'), { target: { value: '0' } });
    fireEvent.change(screen.getByLabelText('Cursor B'), { target: { value: '0.5' } });
    expect(await screen.findByText(/B is 0.5 s after A, as a period 2 Hz/)).toBeTruthy();
  });

  it('shows a run with its notes and how it ended, and sends a new name', async () => {
    replies.set('GET /axes/a/runs', [run]);
    replies.set('GET /runs/r1', { ...run, axis: axisRecord().document, trace: { period: 0.001, count: 0, channels } });
    replies.set('GET /runs/r1/samples', '');
    replies.set('PUT /runs/r1/name', { ...run, name: 'Before' });
    const { user } = show(<TraceView />, { axis: axisRecord() });
    expect(await screen.findByText('Coupling tightened')).toBeTruthy();
    expect(screen.getByText('This run ended early: stopped.')).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Name and notes' }));
    fireEvent.change(screen.getByLabelText('Name'), { target: { value: ' Before ' } });
    await user.click(screen.getByRole('button', { name: 'Save' }));
    await waitFor(() =>
      expect(requests.find(({ method }) => method === 'PUT')?.body).toEqual({
        name: 'Before',
        notes: 'Coupling tightened',
      }),
    );
  });

  it('of a spindle draws its run test with its steady speeds, and has nothing of positions', async () => {
    const { user } = show(<TraceView />, { spindle: demoSpindle });
    const table = await screen.findByRole('table', { name: 'Window shown' });
    await waitFor(() => expect(within(table).getByRole('row', { name: /^Output frequency, Hz/ })).toBeTruthy());
    expect(screen.getByText(/^Current reserve, prediction: RMS .* to the rated [\d.]+ A\.$/)).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'over position' })).toBeNull();
    expect(screen.queryByRole('tab', { name: 'Moves' })).toBeNull();
    await user.click(screen.getByRole('tab', { name: 'Steady speeds' }));
    // The slip of the motor is all that a model lacks of its commanded speed: some per cent.
    const errors = within(screen.getByRole('table', { name: 'Steady speeds' }))
      .getAllByRole('row')
      .slice(1)
      .map((row) => Number(row.lastElementChild?.textContent?.replace('−', '-')));
    expect(errors.length).toBeGreaterThan(0);
    expect(errors.every((error) => error < 0 && error > -8)).toBe(true);
  });

  it('imports a table: columns recognised, units converted, what cannot be taken said', async () => {
    let sent: Blob | undefined;
    const { user } = show(<TraceView />, { axis: axisRecord() });
    await user.click(await screen.findByRole('button', { name: 'Import a trace' }));
    const choose = (text: string) =>
      fireEvent.change(screen.getByTestId('trace-file'), { target: { files: [new File([text], 'old drive.csv')] } });
    choose('t (ms);Lag (µm)\n0;10\n1;20\n1,4;30\n3;30\n');
    expect((await screen.findByRole('alert')).textContent).toContain('not evenly spaced: line');
    choose('t (ms);Lag (µm)\n0;10\n1;20\n2;30,5\n');
    const kept = await screen.findByRole('table', { name: 'The trace as it will be kept' });
    // 30.5 µm are 0.0305 mm.
    expect(kept.textContent).toContain('0.01 to 0.0305');
    expect(kept.textContent).toContain('1 ms');
    // Requests of Node know the blobs of Node alone.
    vi.stubGlobal('Blob', NodeBlob);
    const plain = globalThis.fetch;
    vi.stubGlobal('fetch', async (input: globalThis.Request, init?: RequestInit) => {
      if (input.method !== 'POST') return plain(input, init);
      sent = await input.clone().blob();
      return new Response(JSON.stringify(run), { status: 201, headers: { 'content-type': 'application/json' } });
    });
    await user.click(screen.getByRole('button', { name: 'Import' }));
    await waitFor(() => expect(sent).toBeDefined());
    const packed = readImported(new Uint8Array(await (sent as Blob).arrayBuffer()));
    expect(packed).toMatchObject({
      name: 'old drive',
      trace: { header: { count: 3, channels: [{ id: 'followingError', unit: 'mm' }] } },
    });
  });
});

describe('the part shown', () => {
  it('stays within the whole and is the whole when it is as wide', () => {
    expect(windowWithin([-1, 1], [0, 10])).toEqual([0, 2]);
    expect(windowWithin([9.5, 11], [0, 10])).toEqual([8.5, 10]);
    expect(windowWithin([-3, 12], [0, 10])).toBeUndefined();
    expect(zoomed(undefined, [0, 10], 0.5)).toEqual([2.5, 7.5]);
    expect(zoomed([2.5, 7.5], [0, 10], 2)).toBeUndefined();
    expect(panned([2, 4], [0, 10], 0.5)).toEqual([3, 5]);
    expect(panned(undefined, [0, 10], 0.5)).toBeUndefined();
  });
});

describe('columns of a table', () => {
  it('of a spindle are recognised as Kavrid writes them', () => {
    const titles = Object.values(traceTraits.spindle.channels).map(({ label, unit }) => `${label} (${unit})`);
    const units = shownUnits({ axisUnit: 'mm' } as never, 'metric');
    const guessed = columnGuess(['Time (s)', ...titles], units, traceTraits.spindle);
    expect(guessed.map(({ channel }) => channel)).toEqual(['time', ...Object.keys(traceTraits.spindle.channels)]);
    expect(guessed.every(({ scale }) => scale === 1)).toBe(true);
  });

  it('are recognised once each, and a length shown in inches is kept in the unit of the axis', () => {
    const inches = shownUnits({ axisUnit: 'mm' } as never, 'inch');
    const columns = columnGuess(
      ['Time', 'Position error (in)', 'Commanded position', 'Lag', ''],
      inches,
      traceTraits.axis,
    );
    expect(columns.map(({ channel }) => channel)).toEqual([
      'time',
      'followingError',
      'demandPosition',
      'other',
      'none',
    ]);
    const { channels: mapped, time } = mappingOf(columns, inches, 1, 0, [], traceTraits.axis);
    expect(time).toEqual({ column: 0, seconds: 1 });
    expect(mapped[0]).toMatchObject({ id: 'followingError', unit: 'mm', scale: 25.4 });
  });
});
