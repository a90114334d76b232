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
  host: { servoOn: false, isMoving: false, position: 1200, sent: 1200 },
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
    expect(heard).toContainEqual({ type: 'setBench', id: 'servoOn', isOn: true });
    await user.click(screen.getByRole('button', { name: 'Minus' }));
    expect(heard).toContainEqual({ type: 'moveHost', by: -50 });
    arrives({ ...bench, host: { ...bench.host, isMoving: true } });
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Plus' }).disabled).toBe(true);
    await user.click(screen.getByRole('button', { name: 'Stop' }));
    expect(heard).toContainEqual({ type: 'stopHost' });
    // A fault that silences the drive is taken back here.
    arrives(bench, 'lost');
    expect(screen.getByRole('region', { name: 'Faults' })).toBeTruthy();
    arrives(bench, 'off');
    expect(screen.getByText(/No bench answers/)).toBeTruthy();
  });
});
