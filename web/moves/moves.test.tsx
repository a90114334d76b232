import type { ClientMessage, LiveState, ServerMessage } from '@kavrid/contract';
import { act, fireEvent, screen } from '@testing-library/react';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { preferencesChanged } from '../store/preferences.ts';
import { edited } from '../store/drafts.ts';
import { act as ask, stopWhenUnattended, watchAxis } from '../store/liveLine.ts';
import { liveAxis as live } from '../test/liveAxis.ts';
import { axisRecord, demoAxes, demoAxis, show } from '../test/screen.tsx';
import { TopBar } from '../ui/TopBar.tsx';
import { HomingPanel } from './HomingPanel.tsx';
import { JogPanel } from './JogPanel.tsx';
import { MovesPanel } from './MovesPanel.tsx';

/** The other end of the live line. */
class FakeSocket {
  static readonly OPEN = 1;
  static newest: FakeSocket | undefined;
  readyState = 1;
  onopen?: () => void;
  onmessage?: (event: { data: string }) => void;
  onclose?: () => void;
  readonly heard: ClientMessage[] = [];

  constructor() {
    FakeSocket.newest = this;
  }

  send(text: string): void {
    const message = JSON.parse(text) as ClientMessage;
    if (message.type !== 'alive') this.heard.push(message);
  }

  say(message: ServerMessage): void {
    act(() => this.onmessage?.({ data: JSON.stringify(message) }));
  }
}

let line: FakeSocket;
const heard = () => line.heard.map((message) => message.type);
function open(state: Partial<LiveState> = {}, axis = axisRecord()) {
  const shown = show(
    <>
      <TopBar />
      <JogPanel />
      <HomingPanel />
      <MovesPanel />
    </>,
    { axis, path: '/machines/:machineId/axes/:memberId', at: '/machines/m/axes/a' },
  );
  act(() => {
    shown.store.dispatch(watchAxis('a'));
    shown.store.dispatch(stopWhenUnattended());
  });
  if (!FakeSocket.newest) throw new Error('no line was opened');
  line = FakeSocket.newest;
  line.heard.length = 0;
  line.say({ type: 'live', live: { ...live, ...state } });
  return shown;
}
beforeEach(() => {
  vi.stubGlobal('WebSocket', FakeSocket);
  HTMLElement.prototype.setPointerCapture = () => undefined;
});
const plus = () => screen.getByRole('button', { name: 'Jog plus' });

describe('jogging', () => {
  it('begins with the space bar and ends when it comes up; a held key says it once', () => {
    open();
    plus().focus();
    fireEvent.keyDown(plus(), { key: ' ' });
    fireEvent.keyDown(plus(), { key: ' ', repeat: true });
    fireEvent.keyUp(plus(), { key: ' ' });
    const { version } = axisRecord();
    expect(line.heard).toMatchObject([
      { type: 'jog', version, direction: 1, speed: demoAxis.jogSpeed },
      { type: 'jogEnd' },
    ]);
    const [began, ended] = line.heard as { press?: number }[];
    expect(ended?.press).toBe(began?.press);
  });

  it('does not begin by the right button, with edits that are not saved, or where another window holds the drive', () => {
    const { store } = open();
    fireEvent.pointerDown(plus(), { pointerId: 1, isPrimary: true, button: 2 });
    act(() => line.say({ type: 'live', live: { ...live, holder: 'another window' } }));
    expect(plus()).toHaveProperty('disabled', true);
    expect(screen.getByText(/Another window controls this drive/)).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Take over' }));
    act(() => line.say({ type: 'live', live: { ...live, version: 99 } }));
    expect(plus()).toHaveProperty('disabled', true);
    act(() => line.say({ type: 'live', live: { ...live, jogLimit: { speed: 1, by: 'the motor speed' } } }));
    expect(plus()).toHaveProperty('disabled', true);
    expect(screen.getByText(/A jog is at most 1 mm\/s, limited by the motor speed/)).toBeTruthy();
    act(() => line.say({ type: 'live', live }));
    act(() => void store.dispatch(edited({ memberId: 'a', path: ['notes'], value: 'x' })));
    expect(plus()).toHaveProperty('disabled', true);
    expect(heard()).toEqual(['takeOver']);
  });

  it('the stop button stops when it is pressed, and takes back what was about to be asked', async () => {
    const { store } = open({ version: 99 });
    fireEvent.pointerDown(screen.getByRole('button', { name: 'Stop' }));
    expect(heard()).toEqual(['stop']);
    const asked = store.dispatch(ask('a', (version) => ({ type: 'home', version })));
    fireEvent.pointerDown(screen.getByRole('button', { name: 'Stop' }));
    line.say({ type: 'live', live });
    await asked;
    expect(heard()).toEqual(['stop', 'stop']);
  });

  it('Escape stops, wherever the focus is', () => {
    open();
    fireEvent.keyDown(document.body, { key: 'Escape' });
    expect(heard()).toEqual(['stop']);
  });

  it('a drive that others enabled is only watched; a weak identity is confirmed; what was not checked is named', () => {
    open({
      isWatchOnly: true,
      identity: { kind: 1, firmware: 1, serial: undefined, mark: '1:?', isWeak: true, isConfirmed: false },
      unchecked: ['lost-link option (0x6007)'],
    });
    expect(screen.getByText(/only watched from here/)).toBeTruthy();
    expect(screen.getByText(/Not checked.*lost-link option/)).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Confirm drive' }));
    expect(line.heard).toEqual([{ type: 'confirmIdentity', mark: '1:?' }]);
  });

  it('a temporary setting is restored only when the host is confirmed to be quiet', async () => {
    const setting = {
      key: 'k',
      label: 'Command source',
      original: 'pulse input',
      temporary: 'field bus',
      since: '',
      identity: '1:7',
    };
    const { user } = open({
      deviceState: 'switch on disabled',
      temporary: [
        { ...setting, address: 'h:1/1', isHere: true },
        { ...setting, key: 'other', address: 'h:2/1', isHere: false },
      ],
    });
    expect(screen.getByText(/at h:2\/1 was left changed/)).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Restore …' }));
    const restore = screen.getByRole('button', { name: 'Restore' });
    expect(restore).toHaveProperty('disabled', true);
    await user.click(screen.getByRole('checkbox', { name: /enable is off/ }));
    await user.click(restore);
    expect(line.heard).toEqual([{ type: 'restore', isHostQuiet: true }]);
  });

  it.each<[string, () => void]>([
    ['the pointer comes up', () => fireEvent.pointerUp(plus())],
    ['the pointer is taken away', () => fireEvent.pointerCancel(plus())],
    ['the capture is lost', () => fireEvent.lostPointerCapture(plus())],
    ['the button loses the focus', () => fireEvent.blur(plus())],
    ['the window loses the focus', () => fireEvent.blur(window)],
  ])('ends when %s', (_, end) => {
    open();
    fireEvent.pointerDown(plus(), { pointerId: 1, isPrimary: true });
    expect(heard()).toEqual(['jog']);
    end();
    expect(heard()).toContain('jogEnd');
  });

  it('ends and stops when the window is hidden', () => {
    open();
    fireEvent.pointerDown(plus(), { pointerId: 1, isPrimary: true });
    const hidden = vi.spyOn(document, 'hidden', 'get').mockReturnValue(true);
    fireEvent(document, new Event('visibilitychange'));
    expect(heard()).toEqual(['jog', 'jogEnd', 'stop']);
    hidden.mockRestore();
  });

  it('is not offered while the drive is not enabled, and enabling needs the word that the hardware stop was tried', async () => {
    const { user } = open({ deviceState: 'switch on disabled' });
    expect(plus()).toHaveProperty('disabled', true);
    const enable = screen.getByRole('button', { name: 'Enable' });
    expect(enable).toHaveProperty('disabled', true);
    await user.click(screen.getByRole('checkbox'));
    await user.click(enable);
    await vi.waitFor(() => expect(heard()).toEqual(['enable']));
  });
});

describe('what the drive says', () => {
  it('is shown with its units and lamps', () => {
    open({ minusLimit: true, fault: 'Following error beyond its window.', deviceState: 'fault' });
    expect(screen.getByTestId('position').textContent).toBe('123.457');
    expect(screen.getByRole('status', { name: 'minus limit: on' })).toBeTruthy();
    expect(screen.getByRole('status', { name: 'homed: on' })).toBeTruthy();
    expect(screen.getByRole('alert').textContent).toBe('Following error beyond its window.');
    fireEvent.click(screen.getByRole('button', { name: 'Reset the fault' }));
    expect(heard()).toEqual(['resetFault']);
  });

  it('is told to be absent without a link', () => {
    open({
      link: 'off',
      deviceState: undefined,
      position: undefined,
      readings: { channels: live.readings.channels, values: {} },
    });
    expect(screen.getByTestId('position').textContent).toBe('—');
    expect(screen.getByText('not connected')).toBeTruthy();
    expect(screen.getByRole('group', { name: 'Readings' }).textContent).toContain('Following error—mm');
  });

  it('shows what the device describes, its own readings too, in the unit that is shown', () => {
    const { store } = open();
    const readings = screen.getByRole('group', { name: 'Readings' });
    expect(readings.textContent).toBe('Speed10.0mm/sFollowing error0.010mmDrive temperature41°C');
    act(() => void store.dispatch(preferencesChanged({ lengths: 'inch' })));
    expect(readings.textContent).toBe('Speed0.39in/sFollowing error0.0004inDrive temperature41°C');
  });

  it('says what an analog signal commands by the plan: 0 to 10 V are 0 to 3000 rpm', () => {
    const turntable = demoAxes.find(({ command }) => command.kind === 'analog');
    const readings = {
      channels: [{ id: 'analogInput', label: 'Analog input', unit: 'V', decimals: 3 }],
      values: { analogInput: -2.5 },
    };
    open({ readings }, axisRecord(1, turntable));
    expect(screen.getByText('Analog command as planned').parentElement?.textContent).toContain('-750.0 rpm');
  });

  it('says nothing of the kind of a drive that pulses command', () => {
    open({ readings: { channels: [{ id: 'x', label: 'X', unit: 'V', decimals: 1 }], values: { x: 1 } } });
    expect(screen.queryByText(/as planned/)).toBeNull();
  });
});

describe('homing', () => {
  it('saves what was typed before it begins', async () => {
    const { user } = open();
    await user.click(screen.getByRole('button', { name: 'Home' }));
    await vi.waitFor(() => expect(heard()).toEqual(['home']));
  });
});

describe('homing by the controller', () => {
  it('is not offered here, and says where', () => {
    const { store } = open();
    act(() => void store.dispatch(edited({ memberId: 'a', path: ['homing', 'by'], value: 'controller' })));
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Home' }).disabled).toBe(true);
    expect(screen.getByText(/the controller homes this axis/)).toBeTruthy();
  });
});

describe('jogging otherwise than by buttons', () => {
  const by = async (user: ReturnType<typeof open>['user'], name: string) => {
    fireEvent.mouseDown(screen.getByRole('combobox', { name: 'Jog by' }));
    await user.click(await screen.findByRole('option', { name }));
  };
  const { version } = axisRecord();

  it('a lever begins in the middle, follows the hand, and ends with it', async () => {
    const { user } = open();
    await by(user, 'speed lever');
    const lever = screen.getByRole('slider', { name: 'Speed lever' });
    lever.getBoundingClientRect = () => ({ left: 0, width: 200 }) as DOMRect;
    fireEvent.pointerDown(lever, { pointerId: 1, isPrimary: true, button: 0, clientX: 190 });
    // Where it is taken says nothing yet.
    expect(line.heard).toEqual([]);
    fireEvent.pointerMove(lever, { pointerId: 1, buttons: 1, clientX: 152 });
    // (0.52 − 0.04)/0.96 = half of 250 mm/s.
    expect(line.heard).toMatchObject([{ type: 'jog', version, direction: 1, speed: 125, by: 'lever' }]);
    fireEvent.pointerMove(lever, { pointerId: 1, buttons: 1, clientX: 0 });
    await vi.waitFor(() => expect(line.heard.at(-1)).toMatchObject({ type: 'jogSpeed', speed: -250 }));
    fireEvent.pointerUp(lever, { pointerId: 1 });
    expect(line.heard.at(-1)).toMatchObject({ type: 'jogEnd' });
    const said = line.heard.length;
    fireEvent.pointerMove(lever, { pointerId: 1, buttons: 1, clientX: 200 });
    expect(line.heard).toHaveLength(said);
    fireEvent.keyDown(lever, { key: 'ArrowLeft' });
    expect(line.heard.at(-1)).toMatchObject({ type: 'jog', direction: -1, by: 'lever' });
    fireEvent.blur(lever);
    expect(line.heard.at(-1)).toMatchObject({ type: 'jogEnd' });
  });

  it('steps and fenced jogs say what they are', async () => {
    const { user } = open();
    await by(user, 'steps');
    await user.click(screen.getByRole('button', { name: 'Step minus' }));
    await vi.waitFor(() =>
      expect(line.heard).toEqual([{ type: 'makeMove', version, order: { kind: 'step', direction: -1 } }]),
    );
    await by(user, 'buttons, fenced');
    fireEvent.keyDown(plus(), { key: ' ' });
    expect(line.heard.at(-1)).toMatchObject({ type: 'jog', direction: 1, by: 'fenced' });
    fireEvent.keyUp(plus(), { key: ' ' });
  });
});

describe('moves by the drive', () => {
  const { version } = axisRecord();

  it('each tab starts its move by the saved plan, and none before the axis is homed', async () => {
    const { user } = open();
    for (const [tab, button, order] of [
      ['To a position', 'Go to the position', { kind: 'to' }],
      ['To a position', 'Go the distance', { kind: 'by' }],
      ['Faster and faster', 'Run the series', { kind: 'faster' }],
      ['Step and ramp', 'Ramp minus', { kind: 'response', shape: 'ramp', direction: -1 }],
      ['Press and hold', 'Press plus', { kind: 'press', direction: 1 }],
    ] as const) {
      await user.click(screen.getByRole('tab', { name: tab }));
      await user.click(screen.getByRole('button', { name: button }));
      await vi.waitFor(() => expect(line.heard.at(-1)).toEqual({ type: 'makeMove', version, order }));
    }
    line.say({ type: 'live', live: { ...live, homed: false } });
    expect(screen.getByRole('button', { name: 'Press plus' })).toHaveProperty('disabled', true);
  });
});
