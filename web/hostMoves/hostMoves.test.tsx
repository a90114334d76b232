import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { axisRecord, demoAxes, demoAxis, replies, show } from '../test/screen.tsx';
import { HostMovesView } from './HostMovesView.tsx';
import { IndicatorPanel } from './IndicatorPanel.tsx';
import { ProgramPanel } from './ProgramPanel.tsx';

const judged = {
  faults: [{ cause: 'known factor', words: 'It went 2 times as far as commanded: a factor of two.' }],
  figures: {
    moves: 6,
    demanded: 200,
    ratio: 2,
    pulsesWanted: 10_000,
    pulsesReceived: 20_000,
    drift: 0,
    pulsesDrifted: 0,
    peakSpeed: 200,
    travelError: 100,
    restingError: 0.01,
  },
};
const ends = {
  ...{ isOneWay: false, wanted: 90, plus: 91, minus: -90, zero: 1.5, ratio: 1.005 },
  faults: [{ cause: 'offset', words: 'At zero command the axis creeps at 1.5 mm/s.' }],
};
const run = {
  id: 'r1',
  memberId: 'a',
  kind: 'controller move',
  end: 'finished',
  startedAt: '2026-01-02T03:04:05.000Z',
  seconds: 9,
  axisVersion: 1,
  name: '',
  notes: '',
} as const;

/** Answers as the worker would of a recording. */
class WorkerOf {
  onmessage?: (event: { data: unknown }) => void;
  postMessage({ revision }: { readonly revision: number }): void {
    queueMicrotask(() =>
      this.onmessage?.({ data: { kind: 'done', revision, result: { moves: judged, ends, picks: undefined } } }),
    );
  }
  terminate(): void {
    // Nothing runs.
  }
}

beforeEach(() => {
  vi.stubGlobal('Worker', WorkerOf);
  replies.set('GET /axes/a/runs', [run]);
  replies.set('GET /runs/r1', { ...run, axis: demoAxis, trace: { period: 0.001, count: 0, channels: [] } });
});
afterEach(() => vi.unstubAllGlobals());

describe('moves by the controller', () => {
  it('show the verdict by its name with the figures, and are not started without a link', async () => {
    show(<HostMovesView />, { axis: axisRecord() });
    expect((await screen.findAllByRole('alert')).map(({ textContent }) => textContent)).toContain(
      judged.faults[0]?.words,
    );
    const signal = screen.getByRole('table', { name: 'Speed command at both ends and zero' });
    expect(within(signal).getByRole('row', { name: /^Zero/ }).textContent).toContain('1.67 %');
    const received = screen.getByRole('table', { name: 'What the drive received' });
    expect(within(received).getByRole('row', { name: /received/ }).textContent).toContain('20\u202f000');
    expect(screen.getByRole('table', { name: 'What the axis did' }).textContent).toContain('100 mm');
    expect(screen.getByRole('button', { name: 'Connect' })).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'Start the recording' })).toBeNull();
  });

  it.each([
    ['Carriage', ['Distance', 'Speed', 'Repeats'], true, true],
    ['Turntable', ['Distance', 'Speed', 'Repeats'], true, false],
    ['Glaze pump', ['Speed'], false, false],
    ['Tile stop', [], false, false],
  ])('of the %s ask for what its controller can send', (name, fields, isProgrammed, losesPulses) => {
    replies.set('GET /axes/a/runs', []);
    const document = demoAxes.find((each) => each.name === name);
    show(<HostMovesView />, { axis: axisRecord(1, document) });
    for (const field of ['Distance', 'Speed', 'Repeats', 'Speed at both ends'])
      expect(screen.queryByLabelText(field) !== null).toBe(fields.includes(field));
    expect(screen.queryByText('Program for the controller') !== null).toBe(isProgrammed);
    expect(screen.queryByText(/^Lost pulses without a link/) !== null).toBe(losesPulses);
  });

  it('become a program in each language, or say what is missing', async () => {
    const { user } = show(<ProgramPanel />, { axis: axisRecord() });
    const program = () => screen.getByLabelText('Program').textContent ?? '';
    expect(program()).toContain('G1 X100.0 F6000.0');
    const choose = async (name: RegExp) => {
      fireEvent.mouseDown(screen.getByRole('combobox', { name: 'Written as' }));
      await user.click(await screen.findByRole('option', { name }));
    };
    await choose(/IEC 61131-3/);
    expect(program()).toContain('MC_MoveRelative');
    await choose(/bursts/);
    expect(program()).toContain('1,plus,10000,10000.0,1.0');
    await choose(/C header/);
    expect(program()).toContain('CARRIAGE_TICKS');
    fireEvent.change(screen.getByLabelText('Clock of the timer'), { target: { value: '15000' } });
    await waitFor(() => expect(screen.getByText(/less than two ticks/)).toBeTruthy());
    expect(screen.getByRole('button', { name: 'Save the program' })).toHaveProperty('disabled', true);
  });

  it('returns to an indicator: a drift in pulses, and what is no number', () => {
    show(<IndicatorPanel />, { axis: axisRecord() });
    const readings = screen.getByLabelText(/^Readings in mm/);
    fireEvent.change(readings, { target: { value: '0 0.3 0.6 0,9' } });
    expect(screen.getByText('“0,9” is no number. Write decimals with a point.')).toBeTruthy();
    fireEvent.change(readings, { target: { value: '0 0.3 0.61 0.89 1.2' } });
    // 0.03 mm a return at 100 pulses/mm.
    expect(
      within(screen.getByRole('table', { name: 'Drift' })).getByRole('row', { name: /In pulses/ }).textContent,
    ).toMatch(/2\.99|3/);
    expect(screen.getByText(/pulses are lost or counted twice/)).toBeTruthy();
  });
});
