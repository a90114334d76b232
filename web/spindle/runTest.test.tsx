import { readEarlierTrace, type RunRecord, type SpindleDocument } from '@kavrid/contract';
import { act, screen } from '@testing-library/react';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { JobRequest } from '../jobs/serveJob.ts';
import { runSpindleTest, type SpindleRunRequest } from '../jobs/spindleRunJob.ts';
import { live } from '../store/live.ts';
import { demoSpindle, replies, show } from '../test/screen.tsx';
import { RunTestView } from './RunTestView.tsx';

let isBroken = false;
/** The worker without a thread of its own: it answers in its turn, with the revision it was asked for. */
class Worker {
  onmessage: ((event: MessageEvent) => void) | undefined;
  onerror: ((event: { readonly message: string }) => void) | undefined;
  postMessage({ revision, input }: JobRequest<SpindleRunRequest>) {
    if (isBroken) return void queueMicrotask(() => act(() => this.onerror?.({ message: 'out of memory' })));
    const result = runSpindleTest({ spindle: input.spindle, measured: input.run && trace });
    const data = { kind: 'done', revision, result };
    queueMicrotask(() => act(() => this.onmessage?.({ data } as MessageEvent)));
  }
  terminate() {
    this.onmessage = undefined;
  }
}

const samples = 400;
const constant = (value: number) => Array.from({ length: samples }, () => value);
const reading = readEarlierTrace(
  {
    period: 0.02,
    channels: {
      hertz: constant(47.5),
      speed: constant(2840),
      current: constant(3.25),
      torque: constant(0.4),
      busVolts: constant(326.5),
    },
  },
  '',
);
if (reading.kind === 'refused') throw new Error(reading.because);
const { trace } = reading;
const run: RunRecord = {
  id: 'r',
  memberId: 'a',
  kind: 'run test',
  end: 'fault',
  because: 'DC bus overvoltage',
  startedAt: '2026-01-02T03:04:05.000Z',
  seconds: 8,
  axisVersion: 1,
  name: '',
  notes: '',
  axis: demoSpindle,
  trace: trace.header,
};

beforeEach(() => {
  vi.stubGlobal('Worker', Worker);
  vi.stubGlobal(
    'ResizeObserver',
    class {
      observe = () => undefined;
      unobserve = () => undefined;
      disconnect = () => undefined;
    },
  );
  const { axis: _, trace: __, ...summary } = run;
  replies.set('GET /axes/a/runs', [summary]);
  replies.set('GET /runs/r', run);
});
const open = (spindle: SpindleDocument = demoSpindle) => show(<RunTestView />, { spindle });
const fact = (what: string) => screen.getByRole('row', { name: new RegExp(`^${what}`) }).textContent;

describe('the run test on screen', () => {
  it('is predicted, with its energy; an edit is recalculated', async () => {
    const { user } = open();
    expect(await screen.findByText('Predicted: the drive completes it without a trip.')).toBeTruthy();
    expect(fact('From the supply')).toMatch(/kJ$/);
    expect(screen.getByText(/In and out agree within/).textContent).toMatch(/within 0(\.0\d+)? %|e/);
    await user.click(screen.getByRole('switch', { name: 'With the brake resistor' }));
    expect(await screen.findByText(/Predicted: the drive trips on overvoltage at/)).toBeTruthy();
    expect(screen.getByText(/absorb\. Lengthen the ramp down, or fit a resistor/)).toBeTruthy();
  });

  it('tells when the drive is held at its limit, and what is missing', async () => {
    const { user } = open({ ...demoSpindle, settings: { ...demoSpindle.settings, rampUp: 0.1 } });
    expect(await screen.findByText(/the drive holds its ramp/)).toBeTruthy();
    const stop = screen.getByLabelText('Stop at');
    await user.clear(stop);
    expect(await screen.findByText(/the time of the stop has not been entered/)).toBeTruthy();
  });

  it('a job that breaks says so in its own place, and the test can still be edited', async () => {
    isBroken = true;
    try {
      open();
      expect(await screen.findByText(/The run cannot be shown: .*out of memory/)).toBeTruthy();
      expect(screen.getByLabelText('Stop at')).toBeTruthy();
    } finally {
      isBroken = false;
    }
  });

  it('a run is laid over what was planned when it was made, with how it ended', async () => {
    const { user, store } = open();
    await screen.findByText(/^Predicted: /);
    await user.click(await screen.findByRole('combobox', { name: 'Run shown' }));
    await user.click(await screen.findByRole('option', { name: /run test · fault/ }));
    expect(await screen.findByText('The run ended: DC bus overvoltage')).toBeTruthy();
    expect(screen.getByRole('region', { name: 'Measured over predicted' })).toBeTruthy();
    expect(fact('Highest DC bus')).toContain('measured 326.5 V');
    expect(fact('Highest current')).toContain('measured 3.25 A');
    // A run that arrives is shown at once.
    await user.click(screen.getByRole('combobox', { name: 'Run shown' }));
    await user.click(screen.getByRole('option', { name: 'prediction only' }));
    expect(screen.queryByText(/The run ended/)).toBeNull();
    act(() => void store.dispatch(live.actions.runArrived('r')));
    expect(await screen.findByText(/The run ended/)).toBeTruthy();
  });
});
