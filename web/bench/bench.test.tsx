import type { BenchState, LiveState } from '@kavrid/contract';
import { act, screen, within } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { live } from '../store/live.ts';
import { watchAxis } from '../store/liveLine.ts';
import { axisRecord, show } from '../test/screen.tsx';
import { BenchView } from './BenchView.tsx';

const bench: BenchState = {
  switches: [
    { id: 'tripHome', label: 'Hold a metal tool at the home switch', group: 'hand', isOn: false },
    { id: 'limitsSwapped', label: 'Limit wires swapped at the drive', group: 'fault', isOn: true },
  ],
  host: {
    name: 'Bench host',
    controls: [
      { id: 'servoOn', label: 'Servo on', kind: 'switch', value: 0, unit: '' },
      { id: 'moveBy', label: 'Move by', kind: 'step', value: 0, unit: 'units' },
      { id: 'repeat', label: 'Times back and forth', kind: 'start', value: 0, unit: '' },
      { id: 'duty', label: 'Duty cycle', kind: 'value', value: 12, unit: '%' },
      { id: 'home', label: 'Home', kind: 'button', value: 0, unit: '' },
      { id: 'stop', label: 'Stop', kind: 'stop', value: 0, unit: '' },
      { id: 'hostPosition', label: 'Commanded position', kind: 'reading', value: 1200, unit: 'steps' },
      { id: 'moving', label: 'Moves', kind: 'state', value: 1, unit: '' },
    ],
    inputs: [{ key: 'plusLimit', label: 'Plus limit', level: true, isActive: false }],
  },
};

describe('the bench on screen', () => {
  it('is there only while one answers; hands and faults are switched, and its controller moves', async () => {
    const heard: unknown[] = [];
    vi.stubGlobal(
      'WebSocket',
      class {
        static OPEN = 1;
        readyState = 1;
        send(text: string) {
          heard.push(JSON.parse(text));
        }
      },
    );
    const { user, store } = show(<BenchView />, { axis: axisRecord() });
    act(() => void store.dispatch(watchAxis('a')));
    const arrives = (state: BenchState | undefined, link = 'up') =>
      act(() => {
        store.dispatch(live.actions.liveArrived({ kind: 'axis', link } as LiveState));
        store.dispatch(live.actions.benchArrived(state));
      });
    expect(screen.getByText(/No bench answers/)).toBeTruthy();
    arrives(bench);
    expect(heard).toContainEqual({ type: 'readBench' });
    const faults = within(screen.getByRole('region', { name: 'Faults' }));
    expect(faults.getByRole<HTMLInputElement>('switch', { name: 'Limit wires swapped at the drive' }).checked).toBe(
      true,
    );
    await user.click(faults.getByRole('switch', { name: 'Limit wires swapped at the drive' }));
    expect(heard).toContainEqual({ type: 'setBench', id: 'limitsSwapped', isOn: false });
    await user.click(screen.getByRole('switch', { name: 'Hold a metal tool at the home switch' }));
    expect(heard).toContainEqual({ type: 'setBench', id: 'tripHome', isOn: true });
    await user.click(screen.getByRole('switch', { name: 'Servo on' }));
    expect(heard).toContainEqual({ type: 'setHost', id: 'servoOn', value: 1 });
    await user.click(screen.getByRole('button', { name: 'Minus' }));
    expect(heard).toContainEqual({ type: 'setHost', id: 'moveBy', value: -10 });
    await user.click(screen.getByRole('button', { name: 'Set' }));
    expect(heard).toContainEqual({ type: 'setHost', id: 'duty', value: 12 });
    await user.click(screen.getByRole('button', { name: 'Start' }));
    expect(heard).toContainEqual({ type: 'setHost', id: 'repeat', value: 1 });
    await user.click(screen.getByRole('button', { name: 'Home' }));
    expect(heard).toContainEqual({ type: 'setHost', id: 'home', value: 1 });
    await user.click(screen.getByRole('button', { name: 'Stop' }));
    expect(heard).toContainEqual({ type: 'setHost', id: 'stop', value: 1 });
    const text = screen.getByRole('region', { name: 'Simulated controller' }).textContent;
    expect(text).toContain('1 200 steps'.replace(' ', '\u202f'));
    expect(text).toContain('Input: Plus limitnot active, current');
    // A drive that only the bus commands has no controller beside it.
    const { host: _, ...alone } = bench;
    arrives(alone);
    expect(screen.queryByRole('region', { name: 'Simulated controller' })).toBeNull();
    // A fault that silences the drive is taken back here.
    arrives(bench, 'lost');
    expect(screen.getByRole('region', { name: 'Faults' })).toBeTruthy();
    arrives(bench, 'off');
    expect(screen.getByText(/No bench answers/)).toBeTruthy();
  });
});
