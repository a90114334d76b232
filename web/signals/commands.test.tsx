import { newCommand, withValueAt, type AxisDocument } from '@kavrid/contract';
import { act, screen, within } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { ChainView } from '../chain/ChainView.tsx';
import library from '../../demo/library.json';
import { preferencesChanged } from '../store/preferences.ts';
import { axisRecord, demoAxes, demoAxis, replies, show, typeInto } from '../test/screen.tsx';
import { SignalsView } from './SignalsView.tsx';

const named = (name: string): AxisDocument => {
  const found = demoAxes.find((axis) => axis.name === name);
  if (!found) throw new Error(`the demo has no ${name}`);
  return found;
};
const [pump, table, stop] = [named('Glaze pump'), named('Turntable'), named('Tile stop')];
const open = async (topic: string, document: AxisDocument) => {
  const shown = show(<SignalsView />, { axis: axisRecord(1, document) });
  await shown.user.click(screen.getByRole('tab', { name: new RegExp(topic) }));
  return shown;
};
type User = Awaited<ReturnType<typeof open>>['user'];
const type = async (user: User, label: string, text: string) => {
  await user.clear(screen.getByLabelText(label));
  if (text !== '') await typeInto(user, screen.getByLabelText(label), text);
};
const choose = async (user: User, label: string, option: string | RegExp) => {
  await user.click(screen.getByRole('combobox', { name: label }));
  await user.click(await screen.findByRole('option', { name: option }));
};
const findings = () => screen.getByRole('region', { name: 'Findings' }).textContent ?? '';
const fact = (name: string, what: string | RegExp) =>
  within(screen.getByRole('row', { name: what instanceof RegExp ? what : new RegExp(`^${what}`) })).getByRole('cell')
    .textContent ?? name;

describe('scale', () => {
  it('an analog speed from nothing: every kind of it on screen, and bad input at its field', async () => {
    const { user, draft } = await open('Scale', table);
    expect(fact('Scale', 'Gain')).toBe('300 rpm/V');
    await choose(user, 'Range', '0–10 V');
    await type(user, 'Signal A', '5');
    await type(user, 'Value at signal B', '1500');
    expect(fact('Scale', 'At the lowest signal')).toBe('-1\u202f500 rpm');
    expect(screen.getByRole('img', { name: 'From 0 V (-1\u202f500 rpm) to 10 V (1\u202f500 rpm)' })).toBeTruthy();
    expect(findings()).toContain(
      'The drive takes a broken wire for a command: with the signal wire broken, at 0 V, it runs at -1\u202f500 rpm',
    );
    await type(user, 'Signal B', '30');
    expect(screen.getByText('Must be at most 12 V. 10 V is kept until then.')).toBeTruthy();
    expect(fact('Scale', 'Gain')).toBe('300 rpm/V');
    expect(document.body.textContent).not.toMatch(/NaN|Infinity/);
    await choose(user, 'Range', '4–20 mA');
    expect(draft().document.command).toMatchObject({ from: { signal: '4 mA' }, to: { signal: '20 mA' }, standing: '' });
    await type(user, 'Signal B', '20 V');
    expect(screen.getByText(/cannot be used here. Use mA/)).toBeTruthy();
    await type(user, 'Signal B', '20 mA');
    expect(findings()).toContain('The live zero is not monitored');
    await user.click(screen.getByLabelText('Trip on signal loss'));
    expect(findings()).not.toContain('live zero');
    await choose(user, 'Commanded quantity', 'a torque');
    expect(draft().document.command).toMatchObject({ meaning: 'torque', range: '4–20 mA', faultDetected: true });
    expect(screen.queryByRole('tab', { name: /loop/i })).toBeNull();
  });

  it('a potentiometer: what it takes, where it sags, how much of its turn does anything', async () => {
    const { user } = await open('Scale', table);
    await choose(user, 'Range', 'potentiometer');
    expect(screen.getByText(/The potentiometer is not known:/)).toBeTruthy();
    await type(user, 'Potentiometer', '1 kΩ');
    await type(user, 'Reference current limit', '5');
    await type(user, 'Drive’s input', '10000');
    // 10 mA through the track and 1 mA into the input
    expect(fact('Scale', 'Current from the reference')).toBe('11 mA');
    expect(findings()).toContain('the drive’s reference output gives 5 mA');
  });

  it('a duty cycle: the drive’s whole numbers, and who limits the step', async () => {
    const { user } = await open('Scale', pump);
    expect(fact('Scale', /Drive: N/)).toBe('10000 / 3069 − 167');
    await type(user, 'Capture clock', '49000');
    // 100 ticks a period: a hundredth of 3333.3 rpm
    expect(fact('Scale', /Smallest step \(/)).toBe('33.333 rpm');
    await type(user, 'Other function of this input', 'the run input');
    expect(findings()).toContain('one input cannot have two functions');
    await choose(user, 'Commanded quantity', 'a position');
    await type(user, 'Value at signal B', '100 mL');
    expect(fact('Scale', /Drive: N.*counts/)).toContain('/');
  });

  it('a position is shown in inches where lengths are, on every part of the screen', async () => {
    const command = { ...newCommand('analog', {}), meaning: 'position', to: { signal: '10 V', value: '254 mm' } };
    const { user, store } = await open('Scale', { ...demoAxis, command } as AxisDocument);
    expect(fact('Scale', 'Gain')).toBe('25.4 mm/V');
    act(() => void store.dispatch(preferencesChanged({ lengths: 'inch' })));
    expect(fact('Scale', 'Gain')).toBe('1 in/V');
    expect(screen.getByRole('img', { name: 'From -10 V (-10 in) to 10 V (10 in)' })).toBeTruthy();
    await user.click(screen.getByRole('tab', { name: /Zero/ }));
    expect(screen.queryByText('Drift at zero')).toBeNull();
    for (const [k, [volts, inches]] of [
      ['0', '0'],
      ['10', '10.1'],
    ].entries()) {
      await user.click(screen.getByRole('button', { name: 'Add a point' }));
      await typeInto(user, screen.getByLabelText(`Signal, V, point ${k + 1}`), volts ?? '');
      await typeInto(user, screen.getByLabelText(`Measured, point ${k + 1}`), inches ?? '');
    }
    expect(fact('Calibration', 'Measured gain')).toContain('1.01 in/V');
  });

  it('stands in the plates beside the chain, in volts and rpm', async () => {
    const { user } = show(<ChainView />, { axis: axisRecord(1, table) });
    const volts = screen.getByLabelText<HTMLInputElement>('Controller: V');
    await user.clear(volts);
    await typeInto(user, volts, '2');
    expect(screen.getByLabelText<HTMLInputElement>('Drive: rpm').value).toBe('600');
    expect(screen.getByLabelText<HTMLInputElement>('Load: deg/s').value).toBe('50');
    expect(screen.getByRole('region', { name: 'Scale' })).toBeTruthy();
    expect(document.body.textContent).not.toContain('Steps per unit');
  });
});

describe('the library beside the command', () => {
  it('fills in what the controller has, and says what the drive does not take', async () => {
    for (const { id, item } of library.entries)
      replies.set(`GET /library/${id}`, { id, version: 1, updatedAt: '2026-01-01T00:00:00.000Z', usedBy: 1, item });
    const { user, draft } = show(<ChainView />, { axis: axisRecord(1, pump) });
    await user.click(screen.getByRole('button', { name: /Controller/ }));
    await choose(user, 'Command signal', 'An analog signal');
    await choose(user, 'Command signal', 'A duty cycle (PWM)');
    expect(draft().document.command).toMatchObject({ kind: 'pwm', generatorBits: 10, carrier: 490 });
    expect(screen.queryByText(/The library does not list/)).toBeNull();
    await choose(user, 'Commanded quantity', 'a position');
    expect(screen.getByText('The library does not list PWM position for this drive.')).toBeTruthy();
  });
});

describe('zero and calibration', () => {
  it('a command is switched on only when nothing stands at enable', async () => {
    const off = withValueAt(withValueAt(table, ['command', 'switchedOn'], false), ['command', 'standing'], '2 V');
    const { user, draft } = await open('Zero', off);
    expect(screen.getByText(/Refused: 2 V, at which the axis runs at 600 rpm/)).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Switch the command on' }).disabled).toBe(true);
    await type(user, 'Signal present at enable', '0');
    await user.click(screen.getByRole('button', { name: 'Switch the command on' }));
    expect(draft().document.command).toMatchObject({ switchedOn: true, standing: '0 V' });
    await user.click(screen.getByRole('button', { name: 'Switch the command off' }));
    expect(draft().document.command).toMatchObject({ switchedOn: false });
  });

  it('creep becomes an offset, and a series of points a gain with its uncertainty', async () => {
    const { user, draft } = await open('Zero', table);
    expect(fact('Offset', 'Offset that stops it')).toBe('-0.002 V');
    expect(fact('Offset', 'Offset in steps of the drive’s trim')).toBe('-4');
    expect(fact('Offset', 'Signal that the drive takes for zero')).toBe('0.002 V');
    expect(screen.getByRole('img', { name: /Residuals of 5 points/ })).toBeTruthy();
    // By hand: Σxy / Σxx = 8·2394.1 + 4·1196.3 + 4·1198.2 + 8·2395.2 over 160
    expect(fact('Calibration', 'Measured gain')).toContain('299.33 rpm/V ± 0.06');
    expect(fact('Calibration', 'At zero command')).toBe('0.72 rpm');
    await user.click(screen.getByRole('button', { name: 'Take 0.72 rpm as the creep' }));
    expect(draft().document.command).toMatchObject({ creep: 0.72 });
    for (const _ of [1, 2, 3, 4]) await user.click(screen.getByRole('button', { name: 'Remove point 1' }));
    expect(screen.getByText(/a straight line needs two points at different positions/)).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Add a point' }));
    expect(draft().document.command).toMatchObject({ calibration: [{ signal: 8 }, { signal: null }] });
  });
});

describe('loop in the controller', () => {
  it('counts, rates and the worst runaway follow from what is typed', async () => {
    const { user, draft } = await open('loop', table);
    expect(fact('Loop', 'Feedback counts at the controller')).toBe('1\u202f638.4 counts/deg');
    expect(fact('Runaway', 'Runaway distance, worst case')).toBe('32 deg');
    await type(user, 'Error limit', '2');
    // 60°/s: 2 + 1.2 + 3600 / 3000
    expect(fact('Runaway', 'Runaway distance, worst case')).toBe('4.4 deg');
    expect(findings()).toContain('the position gain alone');
    await user.click(screen.getByLabelText('Feedback direction opposite to command'));
    expect(findings()).toContain('runs away; the error limit trips at 60 deg/s');
    expect(fact('Analog outputs', /Output 1 at rated torque/)).toBe('3.333 V (30 % a volt)');
    await user.click(screen.getByRole('button', { name: 'Leave the loop to the drive' }));
    expect(draft().document.command).toMatchObject({ loop: null });
    await user.click(screen.getByRole('button', { name: 'Close the loop in the controller' }));
    expect(draft().document.command).toMatchObject({ loop: { gain: 20, errorLimit: null } });
    expect(findings()).toContain('nothing stops the axis');
  });
});

describe('moves picked by inputs', () => {
  it('the first enable, the way from one pattern to the next, and each move are said before anything moves', async () => {
    const { user, draft } = await open('Moves', stop);
    expect(screen.getByText('At the first enable the axis homes.')).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Remove edge 1' }));
    expect(screen.getByText(/At the first enable the axis homes, then starts “down” by itself/)).toBeTruthy();
    expect(findings()).toContain('Pattern 0, at which the axis goes to 10 mm (down), is present at the drive');
    await type(user, 'Inputs, first to last', 'DI3, DI7');
    await user.click(screen.getByRole('button', { name: '11' }));
    expect(screen.getByRole('region', { name: 'Move of 11' })).toBeTruthy();
    await choose(user, 'Type of move', 'move until torque');
    expect(findings()).toContain('Missing: speed, torque limit');
    await type(user, 'Speed', '20');
    await type(user, 'Torque limit', '30');
    expect(draft().document.command).toMatchObject({
      moves: [{}, {}, { pattern: '11', kind: 'move until torque', speed: 20 }],
    });
    await choose(user, 'Type of move', 'nothing');
    expect(draft().document.command).toMatchObject({ moves: [{ pattern: '00' }, { pattern: '10' }] });
    // An input that goes takes the patterns along that need it; one that stays keeps the rest.
    await type(user, 'Inputs, first to last', 'DI9');
    expect(draft().document.command).toMatchObject({ moves: [{ pattern: '0' }, { pattern: '1' }] });
    await type(user, 'Inputs, first to last', 'DI3, DI3');
    expect(screen.getByText('Two inputs have the same name.')).toBeTruthy();
  });

  it('a pattern that is passed through, unless it is debounced', async () => {
    const { user } = await open('Moves', {
      ...stop,
      command: {
        ...(stop.command as Extract<AxisDocument['command'], { kind: 'choice' }>),
        inputs: ['A', 'B'],
        edges: [],
        moves: ['10', '01', '11'].map((pattern) => ({
          pattern,
          kind: 'position' as const,
          name: `to ${pattern}`,
          target: 50,
          fence: null,
          speed: 10,
          acceleration: 100,
          deceleration: null,
          torqueLimit: null,
          window: null,
          signalFrom: null,
          valueFrom: null,
          signalTo: null,
          valueTo: null,
          armingInput: '',
        })),
        patternAtEnable: '00',
      },
    });
    expect(screen.getByText('While the inputs change one by one, no other move is selected.')).toBeTruthy();
    await type(user, 'Minimum input duration', '0');
    expect(
      within(screen.getByRole('list', { name: 'Between patterns' })).getAllByRole('listitem')[0]?.textContent,
    ).toBe('From 00 to 11 it may do 10: to 10');
  });
});
