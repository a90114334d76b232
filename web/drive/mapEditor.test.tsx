import { readDriveProfile, readMapRows, writeMapRows } from '@kavrid/contract';
import { screen, within } from '@testing-library/react';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it, vi } from 'vitest';
import { answer, axisRecord, replies, requests, show } from '../test/screen.tsx';
import { RegisterMapsDialog } from './RegisterMapsDialog.tsx';

const csv = (device: string) =>
  readFileSync(join(import.meta.dirname, `../../bench/devices/${device}/${device}.csv`), 'utf8');

describe('register maps', () => {
  it.each(['servo', 'spindle'])(
    'of the bench (%s) are the same map after they were taken apart and written',
    (device) => {
      const before = readDriveProfile(csv(device));
      expect(before.kind).toBe('profile');
      expect(readDriveProfile(writeMapRows(readMapRows(csv(device))))).toEqual(before);
    },
  );

  it('are edited row by row, checked as a whole, and kept when they are sound', async () => {
    replies.set('GET /profiles', [{ id: 'p', name: 'Bench servo drive', kind: 'axis', users: ['Cell: Carriage'] }]);
    replies.set('GET /profiles/p', csv('servo'));
    replies.set('PUT /profiles/p', answer(200, { id: 'p', name: 'Bench servo drive', kind: 'axis', users: [] }));
    const { user } = show(<RegisterMapsDialog close={() => undefined} />, { axis: axisRecord() });
    const list = await screen.findByRole('dialog');
    expect((await within(list).findByRole('link', { name: 'Export' })).getAttribute('href')).toBe('/api/profiles/p');
    await user.click(within(list).getByRole('button', { name: 'Edit …' }));
    await user.type(await screen.findByLabelText('Find a row'), '0x6065');
    const rows = screen.getByRole('list', { name: 'Rows' });
    await vi.waitFor(() => expect(within(rows).getAllByRole('button')).toHaveLength(1));
    await user.click(within(rows).getByRole('button'));
    const save = screen.getByRole('button', { name: 'Save the register map' });
    const maximum = screen.getByLabelText('Maximum, in the unit');
    await user.clear(maximum);
    await user.paste('1 000');
    expect((await screen.findByRole('alert')).textContent).toMatch(/^Row \d+.*maximum.*only one way/);
    expect(save).toHaveProperty('disabled', true);
    await user.clear(maximum);
    await user.paste('123456');
    const address = screen.getByLabelText('Register that is written');
    const before = (address as HTMLInputElement).value;
    await user.clear(address);
    await user.paste('100');
    await vi.waitFor(() => expect(screen.getByRole('alert').textContent).toContain('100'));
    await user.clear(address);
    await user.paste(before);
    await vi.waitFor(() => expect(save).toHaveProperty('disabled', false));
    await user.click(save);
    await vi.waitFor(() => expect(requests.some(({ method }) => method === 'PUT')).toBe(true));
    const sent = readDriveProfile(String(requests.find(({ method }) => method === 'PUT')?.body));
    expect(sent.kind === 'profile' && sent.profile.parameters.find(({ object }) => object === '0x6065')?.maximum).toBe(
      123456,
    );
  });

  it('rows are added and deleted', async () => {
    replies.set('GET /profiles', [{ id: 'p', name: 'Bench servo drive', kind: 'axis', users: [] }]);
    replies.set('GET /profiles/p', csv('servo'));
    const { user } = show(<RegisterMapsDialog close={() => undefined} />, { axis: axisRecord() });
    await user.click(await screen.findByRole('button', { name: 'Edit …' }));
    await user.click(await screen.findByRole('button', { name: 'Add an output' }));
    expect((await screen.findByRole('alert')).textContent).toContain('this cell is empty');
    await user.type(screen.getByLabelText('Key'), 'lampOutput');
    await user.type(screen.getByLabelText('Label'), 'Lamp');
    await user.type(screen.getByLabelText('Bits: 3 or 4-7'), '9');
    await vi.waitFor(() => expect(screen.queryByRole('alert')).toBeNull());
    await user.click(screen.getByRole('button', { name: 'Delete this row' }));
    expect(screen.getByText('Choose a row to see and change it.')).toBeTruthy();
  });
});
