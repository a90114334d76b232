import type { FoundDevices } from '@kavrid/contract';
import { act, screen, within } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { foundArrived, serverChanged } from '../store/live.ts';
import { watchAxis } from '../store/liveLine.ts';
import { axisRecord, demoAxis, replies, show } from '../test/screen.tsx';
import { LinkPanel } from './LinkPanel.tsx';

function open() {
  const heard: { readonly type: string }[] = [];
  class Line {
    static OPEN = 1;
    readyState = 1;
    send(text: string) {
      heard.push(JSON.parse(text) as { readonly type: string });
    }
  }
  vi.stubGlobal('WebSocket', Line);
  replies.set('GET /profiles', []);
  replies.set('GET /serial-ports', ['/dev/ttyUSB3']);
  const shown = show(<LinkPanel />, { axis: axisRecord() });
  act(() => {
    shown.store.dispatch(watchAxis('a'));
    shown.store.dispatch(serverChanged('up'));
  });
  const choose = async (label: string, option: string | RegExp) => {
    await shown.user.click(await screen.findByRole('combobox', { name: label }));
    await shown.user.click(await screen.findByRole('option', { name: option }));
  };
  return { ...shown, heard, choose };
}

describe('the link', () => {
  it('is changed to a serial line with the settings of its specification, and back', async () => {
    const { user, draft, choose } = open();
    await user.clear(screen.getByLabelText('TCP port'));
    await user.type(screen.getByLabelText('TCP port'), 'x');
    expect(Object.keys(draft().document.unread)).toEqual(['/link/port']);
    await choose('Connection', 'Modbus RTU, serial line');
    expect(draft().document.unread).toEqual({});
    expect(draft().document.link).toEqual({
      kind: 'serial',
      path: '/dev/ttyUSB0',
      baud: 19200,
      parity: 'even',
      stopBits: 1,
      unit: 1,
      profileId: demoAxis.link.profileId,
    });
    await choose('Ports of this computer', '/dev/ttyUSB3');
    await choose('Parity', 'none');
    await choose('Stop bits', '2');
    expect(draft().document.link).toMatchObject({ path: '/dev/ttyUSB3', parity: 'none', stopBits: 2 });
    const port = screen.getByLabelText('Serial port');
    await user.clear(port);
    await user.type(port, '../etc');
    expect(screen.getByText(/Enter the path of a serial port.*is kept until then/)).toBeTruthy();
    expect(draft().document.link).toMatchObject({ path: '/dev/ttyUSB3' });
    await choose('Connection', 'Modbus TCP');
    expect(draft().document.link).toMatchObject({ kind: 'tcp', port: 502 });
    expect(draft().document.unread).toEqual({});
  });

  it('to an address outside private networks is asked about before it is made', async () => {
    const { user, store, heard } = open();
    const host = screen.getByLabelText('Host');
    await user.clear(host);
    await user.paste('drive.example');
    await user.click(screen.getByRole('button', { name: 'Connect' }));
    expect(screen.getByText(/is not on this computer or in a private network/)).toBeTruthy();
    expect(heard.some(({ type }) => type === 'connect')).toBe(false);
    expect(store.getState().live.refused).toBeUndefined();
    expect(screen.getByRole('button', { name: 'Connect to drive.example all the same' })).toBeTruthy();
  });

  it('finds devices: addresses from and to, with progress; one is taken over, and a search can be ended', async () => {
    const { user, store, heard, draft } = open();
    await user.click(screen.getByRole('button', { name: 'Find devices …' }));
    const dialog = within(await screen.findByRole('dialog'));
    const search = dialog.getByRole('button', { name: 'Search' });
    await user.clear(dialog.getByLabelText('To address'));
    for (const wrong of ['0', '300', 'x']) {
      await user.type(dialog.getByLabelText('To address'), wrong);
      expect(search).toHaveProperty('disabled', true);
      await user.clear(dialog.getByLabelText('To address'));
    }
    await user.type(dialog.getByLabelText('To address'), '4');
    await user.click(search);
    expect(heard.at(-1)).toMatchObject({ type: 'findDevices', order: { from: 1, to: 4, bauds: [] } });
    const arrives = (found: Partial<FoundDevices>) =>
      act(() => void store.dispatch(foundArrived({ isRunning: true, done: 2, total: 4, devices: [], ...found })));
    arrives({});
    expect(dialog.getByText('2 of 4 asked, 0 answered …')).toBeTruthy();
    await user.click(dialog.getByRole('button', { name: 'End the search' }));
    expect(heard.at(-1)).toEqual({ type: 'endSearch' });
    arrives({ isRunning: false, done: 3, devices: [{ unit: 3, answer: 'a value' }], because: 'the line was lost' });
    expect(dialog.getByText('The search has ended: the line was lost.')).toBeTruthy();
    await user.click(dialog.getByRole('button', { name: 'Use it' }));
    expect(draft().document.link).toMatchObject({ unit: 3 });
  });
});
