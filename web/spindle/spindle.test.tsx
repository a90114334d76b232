import { newSpindle, withValueAt, type DocumentPath, type SpindleDocument, type SpindleLive } from '@kavrid/contract';
import { act, screen, waitFor, within } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { EndsView } from '../ends/EndsView.tsx';
import { runSpindleTest } from '../jobs/spindleRunJob.ts';
import { live } from '../store/live.ts';
import { axisRecord, demoSpindle, replies, requests, show, type Request, typeInto } from '../test/screen.tsx';
import { BusView } from './BusView.tsx';
import { CurveView } from './CurveView.tsx';
import { RampsView } from './RampsView.tsx';
import { SpindleChainView } from './SpindleChainView.tsx';
import { SpindleRunPanel } from './SpindleRunPanel.tsx';
import { spindleComputation } from '../member/spindleComputation.ts';
import { spindleSteps } from './spindleSteps.ts';
import { TachometerView } from './TachometerView.tsx';

const edited = (path: DocumentPath, value: unknown): SpindleDocument => withValueAt(demoSpindle, path, value);
const probe = (name: string) => screen.getByRole<HTMLInputElement>('textbox', { name: new RegExp(`^${name}:`) }).value;
const result = (symbol: string) => document.querySelector(`[data-result="${symbol}"] .value`)?.textContent;
const plain = (text: string | null | undefined) => text?.replace(/\u202f/g, ' ');

describe('the chain of a spindle', () => {
  it('a value typed at any station stands at all the others', async () => {
    const { user } = show(<SpindleChainView />, { spindle: demoSpindle });
    expect([probe('Speed command'), probe('Signal'), probe('Drive'), probe('Motor')].map(plain)).toEqual([
      '1 900',
      '4 750',
      '47.5',
      '2 850',
    ]);
    const drive = screen.getByRole('textbox', { name: /^Drive:/ });
    await user.clear(drive);
    await typeInto(user, drive, '50 Hz');
    expect([probe('Speed command'), probe('Signal'), probe('Tool')].map(plain)).toEqual(['2 000', '5 000', '15.708']);
    await user.clear(drive);
    await typeInto(user, drive, '3 m');
    expect(screen.getByRole('alert').textContent).toMatch(/Hz/);
    // What was typed stays, and nothing is shown as if it followed.
    await user.tab();
    expect(probe('Drive')).toBe('3 m');
    expect(probe('Signal')).toBe('');
    await user.clear(drive);
    await typeInto(user, drive, '25');
    expect(plain(probe('Signal'))).toBe('2 500');
  });

  it('every station opens its fields, and every kind of command its own', async () => {
    const { user, spindle } = show(<SpindleChainView />, { spindle: demoSpindle });
    const station = (name: string | RegExp) =>
      within(screen.getByRole('region', { name: 'Chain' })).getByRole('button', { name });
    for (const [name, field] of [
      ['Speed command', 'Working speed'],
      ['Drive', 'Rated current'],
      ['Motor', 'Star: volts'],
      ['Belt', 'Friction'],
      ['Tool', 'Diameter'],
    ] as const) {
      await user.click(station(name));
      expect(screen.getByLabelText(field), name).toBeTruthy();
    }
    await user.click(station(/^Signal/));
    await user.click(screen.getByRole('combobox', { name: 'Speed command source' }));
    await user.click(screen.getByRole('option', { name: 'a signal or dial' }));
    await typeInto(user, screen.getByLabelText('Upper frequency'), '60');
    expect(spindle().command).toMatchObject({ kind: 'signal', to: { signal: '10', hertz: '60 Hz' } });
    // 60 Hz at 10 V are 2400 rpm of the tool.
    expect(result('toolSpeedAtFullSignal')).toBe('2\u202f400');
    await user.click(screen.getByRole('combobox', { name: 'Speed command source' }));
    await user.click(screen.getByRole('option', { name: 'fixed speeds, by inputs' }));
    await user.click(screen.getByRole('button', { name: 'One more' }));
    expect(spindle().command).toMatchObject({ kind: 'fixedSpeeds', speeds: { length: 4 } });
    expect(document.body.textContent).not.toMatch(/NaN|Infinity|undefined/);
  });

  it('a new spindle says what it waits for, and its steps are open', () => {
    show(<SpindleChainView />, { spindle: newSpindle('Saw') });
    expect(screen.getByText(/the rated frequency has not been entered/)).toBeTruthy();
    expect(document.body.textContent).not.toMatch(/NaN|Infinity|undefined/);
    const standings = (spindle: SpindleDocument) =>
      spindleSteps(spindleComputation(spindle), 0, undefined, false, 'not begun', false).map(
        ({ standing }) => standing,
      );
    expect(standings(newSpindle('Saw')).slice(0, 4)).toEqual(['open', 'open', 'open', 'open']);
    expect(standings(demoSpindle).slice(0, 4)).toEqual(['checked', 'checked', 'checked', 'checked']);
    expect(standings(edited(['settings', 'baseHertz'], 5))[1]).toBe('1 to correct');
  });
});

describe('connection and curve', () => {
  it('the classic ruin is a stop finding as soon as the base is wrong', async () => {
    const { user } = show(<CurveView />, { spindle: demoSpindle });
    expect(screen.getByText('Findings here (0)')).toBeTruthy();
    const motor = screen.getByLabelText('Base frequency');
    await user.clear(motor);
    await typeInto(user, motor, '20');
    expect(screen.getByText(/2.5 times its rated volts per hertz/)).toBeTruthy();
    expect(plain(result('worstFlux'))).toBe('250');
    expect(screen.getByText(/base \(50 Hz, 230 V\)/)).toBeTruthy();
  });

  it('shows how the links lie, and that star gives a third of the torque on this supply', async () => {
    const { user } = show(<CurveView />, { spindle: demoSpindle });
    expect(screen.getByRole('img', { name: /Delta: U1 with W2/ })).toBeTruthy();
    await user.click(screen.getByRole('combobox', { name: 'Motor connected in' }));
    await user.click(screen.getByRole('option', { name: 'star' }));
    expect(screen.getByRole('img', { name: /Star: W2, U2 and V2 are connected/ })).toBeTruthy();
    expect(screen.getByText(/give 33 % of its torque/)).toBeTruthy();
  });
});

describe('ramps, bus and interlocks', () => {
  it('without a resistor the stop trips, and the shortest ramp without one is told', async () => {
    const { user, spindle } = show(<RampsView />, { spindle: demoSpindle });
    await user.click(screen.getByRole('button', { name: 'Remove' }));
    expect(spindle().resistor).toBeNull();
    expect(screen.getByText(/trips on overvoltage/)).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Fit one' }));
    await typeInto(user, screen.getByLabelText('Resistance'), '22');
    expect(screen.getByText(/less than the 47 Ω/)).toBeTruthy();
  });

  it('polls are edited in place, and a period too short is found', async () => {
    const { user, spindle } = show(<BusView />, { spindle: demoSpindle });
    await user.click(screen.getByRole('button', { name: 'Add a message' }));
    await typeInto(user, screen.getByLabelText('Register, from 0, message 4'), '8452');
    expect(spindle().bus.messages[3]).toEqual({ name: 'status', functionCode: '3', register: 8452, registers: 1 });
    const period = screen.getByLabelText('Poll period');
    await user.clear(period);
    await typeInto(user, period, '50');
    expect(spindle().bus.period).toBeCloseTo(0.05, 12);
    expect(screen.getByText(/a poll period of 50 ms is not possible/)).toBeTruthy();
    await user.click(screen.getByRole('combobox', { name: 'On loss of communication' }));
    await user.click(screen.getByRole('option', { name: 'goes on' }));
    expect(screen.getByText(/speed, and it cannot be stopped over the bus/)).toBeTruthy();
    await user.click(screen.getByRole('switch', { name: 'Spindle trip stops the machine' }));
    expect(screen.getByText(/keep feeding into a stationary tool/)).toBeTruthy();
  });

  it('both ends are keyed in from one plan', async () => {
    replies.set('GET /library/spindle-drive-a', undefined);
    const { user } = show(<EndsView />, { spindle: demoSpindle });
    const code = (name: string) => document.querySelector(`[data-code="${name}"]`)?.textContent ?? '';
    expect(code('Signal for one rpm')).toContain('2.5');
    expect(code('2 register')).toContain('8193');
    await user.click(screen.getByRole('tab', { name: /^Drive:/ }));
    expect(code('Highest frequency')).toContain('60 Hz');
  });
});

describe('a tachometer', () => {
  it('corrects what stands clear, as a revision of its own, and leaves noise alone', async () => {
    const points = [800, 1200, 1600, 2000, 2200].map((commanded) => ({ commanded, measured: 0.97 * commanded }));
    replies.set('PUT /axes/a', ({ body }: Request) => ({
      ...axisRecord(2),
      document: (body as { document: unknown }).document,
    }));
    replies.set('PUT /axes/a/revisions/2/name', null);
    const { user, spindle } = show(<TachometerView />, { spindle: edited(['tachometer', 'points'], points) });
    await user.click(screen.getByRole('button', { name: 'Take over 0.97' }));
    expect(spindle().tachometer.correction).toBe('0.97');
    await waitFor(() =>
      expect(requests.find(({ path }) => path.includes('/revisions/2'))?.body).toEqual({
        name: expect.stringContaining('speed corrected to 0.97'),
      }),
    );
  });

  it('that agrees says so', () => {
    show(<TachometerView />, { spindle: demoSpindle });
    expect(screen.getByText(/speeds; no correction is needed/)).toBeTruthy();
    expect(screen.queryByRole('button', { name: /^Take over/ })).toBeNull();
  });
});

describe('at the drive', () => {
  const state: SpindleLive = {
    kind: 'spindle',
    memberId: 'a',
    link: 'up',
    message: '',
    deviceState: 'switched on',
    activity: 'idle',
    fault: undefined,
    pastFaults: [],
    progress: '',
    watchdog: 0.5,
    temporary: [],
    version: 1,
    holder: 'this window',
    isWatchOnly: false,
    identity: { kind: 1, firmware: 1, serial: 7, mark: '1:7', isWeak: false, isConfirmed: true },
    isStopping: false,
    unchecked: [],
    address: { kind: 'tcp', host: '127.0.0.1', port: 5502, unit: 1 },
    toolSpeed: 0,
    inputs: [],
    outputs: [],
    otherFirmware: undefined,
    walk: undefined,
    readings: {
      channels: [{ id: 'hertz', label: 'Output', unit: 'Hz', decimals: 2 }],
      values: { hertz: 0, motorSpeed: 0 },
    },
    atSpeed: false,
  };
  const button = (name: string) => screen.getByRole<HTMLButtonElement>('button', { name });

  it('runs only when its stop has been tried; shows how it runs, and why it tripped', async () => {
    const { user, store } = show(<SpindleRunPanel />, { spindle: demoSpindle });
    const arrives = (more: Partial<SpindleLive>) =>
      act(() => void store.dispatch(live.actions.liveArrived({ ...state, ...more })));
    expect(button('Run').disabled).toBe(true);
    arrives({});
    expect(button('Run').disabled).toBe(true);
    await user.click(screen.getByRole('checkbox', { name: /hardware stop/ }));
    expect(button('Run').disabled).toBe(false);
    expect(screen.getByLabelText<HTMLInputElement>('Run speed').value).toBe('800');
    arrives({ deviceState: 'operation enabled', toolSpeed: 1893.4, atSpeed: true });
    expect(screen.getByLabelText('Tool speed').textContent).toBe('1893');
    expect(screen.getByText('at speed')).toBeTruthy();
    expect(button('Ramp down').disabled).toBe(false);
    arrives({ deviceState: 'fault', fault: 'DC bus overvoltage' });
    expect(screen.getByRole('alert').textContent).toContain('overvoltage');
    expect(button('Reset the trip')).toBeTruthy();
  });
});

describe('the predicted run test', () => {
  it('answers with the run, or with what is missing', () => {
    const result = runSpindleTest({ spindle: demoSpindle });
    if (result.kind !== 'run') throw new Error(result.because);
    expect(result).toMatchObject({ trip: undefined, held: 0, ratio: 1.5, speedPerHertz: 60, tripVolts: 410 });
    // 2200 rpm of the tool are 3300 of the field.
    expect(Math.max(...result.recording.speed)).toBeGreaterThan(3280);
    expect(runSpindleTest({ spindle: edited(['resistor'], null) })).toMatchObject({ trip: { kind: 'overvoltage' } });
    expect(runSpindleTest({ spindle: newSpindle('Saw') })).toMatchObject({ kind: 'unknown' });
  });
});
