import type { LiveInput, LiveState } from '@kavrid/contract';
import { startWalk, stepWalk, type SensorWalk } from '@kavrid/core/procedure';
import { act, screen, within } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { live } from '../store/live.ts';
import { watchAxis } from '../store/liveLine.ts';
import { linkedState } from '../test/liveState.ts';
import { axisRecord, show } from '../test/screen.tsx';
import { InputsView } from './InputsView.tsx';

const free = { isForced: false, isForcible: true } as const;
const inputs: readonly LiveInput[] = [
  { key: 'minus', label: 'Minus limit', isSensor: true, level: true, isActive: false, ...free },
  { key: 'plus', label: 'Plus limit', isSensor: true, level: true, isActive: false, ...free },
  { key: 'on', label: 'Servo on', isSensor: false, level: false, isActive: false, ...free, isForcible: false },
];
const state: LiveState = {
  ...linkedState,
  inputs,
  outputs: [{ key: 'ready', label: 'Ready', isOn: true }],
};

function open() {
  const heard: unknown[] = [];
  class Line {
    static OPEN = 1;
    readyState = 1;
    send(text: string) {
      heard.push(JSON.parse(text));
    }
  }
  vi.stubGlobal('WebSocket', Line);
  const shown = show(<InputsView />, { axis: axisRecord() });
  act(() => void shown.store.dispatch(watchAxis('a')));
  const arrives = (more: Partial<LiveState>) =>
    act(() => void shown.store.dispatch(live.actions.liveArrived({ ...state, ...more })));
  return { ...shown, arrives, heard };
}
const row = (name: string) => within(screen.getByRole('row', { name: new RegExp(`^${name}`) }));
const walked = (...events: Parameters<typeof stepWalk>[1][]): SensorWalk =>
  events.reduce(stepWalk, startWalk(['minus', 'plus'], 0));
const rest = { type: 'seen', active: new Set<string>(), at: 0 } as const;

describe('the inputs of a drive', () => {
  it('show the level at the terminal apart from what it means, and when they last changed', () => {
    const { arrives } = open();
    expect(screen.getByText('not connected')).toBeTruthy();
    arrives({});
    expect(row('Minus limit').getByText('current flows')).toBeTruthy();
    expect(row('Minus limit').getByText('not active')).toBeTruthy();
    expect(row('Servo on').getByText('no current')).toBeTruthy();
    expect(row('Ready').getByText('on')).toBeTruthy();
    arrives({ outputs: [{ key: 'ready', label: 'Ready', isOn: undefined }] });
    expect(row('Ready').getByText('not known')).toBeTruthy();
    arrives({});
    expect(row('Minus limit').getByText('—')).toBeTruthy();
    arrives({
      inputs: inputs.map((each) => (each.key === 'minus' ? { ...each, level: false, isActive: true } : each)),
    });
    expect(row('Minus limit').getByText('active')).toBeTruthy();
    expect(row('Minus limit').queryByText('—')).toBeNull();
    expect(row('Plus limit').getByText('—')).toBeTruthy();
    arrives({ inputs: inputs.map((each) => ({ ...each, level: undefined, isActive: undefined })) });
    expect(row('Plus limit').getAllByText('not known')).toHaveLength(2);
  });

  it('a drive whose map lists none says how they are named, and has no walk', () => {
    const { arrives } = open();
    arrives({ inputs: [] });
    expect(screen.getByText(/lists no inputs/)).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Start the walk' }).disabled).toBe(true);
  });
});

describe('a sensor walk on screen', () => {
  it('names the sensor to trip, and what each has shown', async () => {
    const { user, arrives, heard } = open();
    arrives({ deviceState: 'operation enabled' });
    expect(screen.getByText('Disable the drive first.')).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Start the walk' }).disabled).toBe(true);
    arrives({});
    await user.click(screen.getByRole('button', { name: 'Start the walk' }));
    await vi.waitFor(() => expect(heard).toContainEqual({ type: 'sensorWalk', version: state.version }));
    arrives({ walk: walked(rest) });
    expect(screen.getByRole('status').textContent).toBe('Trip this sensor by hand now: Minus limit');
    await user.click(screen.getByRole('button', { name: 'Tripped, nothing reacted' }));
    expect(heard).toContainEqual({ type: 'walkOn', what: 'nothing', because: '' });
    arrives({ walk: walked(rest, { type: 'nothing', at: 1 }, rest) });
    expect(screen.getByRole('list', { name: 'Results of the walk' }).textContent).toContain('Minus limit: no reaction');
    await user.click(screen.getByRole('button', { name: 'Skip …' }));
    await user.type(screen.getByRole('textbox', { name: 'Reason' }), 'not fitted');
    await user.click(screen.getByRole('button', { name: 'Skip' }));
    expect(heard).toContainEqual({ type: 'walkOn', what: 'skip', because: 'not fitted' });
    arrives({ walk: walked(rest, { type: 'nothing', at: 1 }, { type: 'end', because: 'the link was lost' }) });
    expect(screen.getByText(/ended early: the link was lost/)).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Start the walk again' })).toBeTruthy();
  });

  it('are forced with the motor off, marked while they are, and freed when the page is left', async () => {
    const { user, arrives, heard, router } = open();
    arrives({});
    expect(screen.queryByRole('combobox', { name: 'Force Servo on' })).toBeNull();
    const force = screen.getByRole<HTMLSelectElement>('combobox', { name: 'Force Plus limit' });
    await user.selectOptions(force, 'forced active');
    await vi.waitFor(() => expect(heard.at(-1)).toEqual({ type: 'forceInput', version: 1, key: 'plus', to: 'active' }));
    const forced = inputs.map((each) => (each.key === 'plus' ? { ...each, isForced: true, isActive: true } : each));
    arrives({ inputs: forced, holder: 'this window' });
    expect([force.value, force.disabled]).toEqual(['active', false]);
    arrives({ inputs: forced, holder: 'this window', deviceState: 'operation enabled' });
    expect(force.disabled).toBe(true);
    // Nor with a hand at the sensors.
    arrives({ inputs: forced, holder: 'this window', walk: walked(rest) });
    expect(force.disabled).toBe(true);
    arrives({ inputs: forced, holder: 'this window' });
    await act(() => router.navigate('/elsewhere'));
    expect(heard.at(-1)).toEqual({ type: 'endForcing' });
  });
});
