import { newSpindle, type MachineRecord, type MemberRecord } from '@kavrid/contract';
import { screen, waitFor, within } from '@testing-library/react';
import { beforeEach, describe, expect, it } from 'vitest';
import { axisRecord, demoSpindle, replies, requests, show, type Request } from '../test/screen.tsx';
import { MachineView } from './MachineView.tsx';

const spindle: MemberRecord = { ...axisRecord(), id: 's', document: demoSpindle };
const machine: MachineRecord = {
  id: 'm',
  version: 1,
  updatedAt: '2026-01-02T03:04:05.000Z',
  document: { name: 'Cell', notes: '', tags: [], archived: false },
  axes: [axisRecord(), spindle],
  removedAxes: [],
};
beforeEach(() => {
  replies.set('GET /machines/m', machine);
  replies.set('POST /machines/m/axes', ({ body }: Request) => ({
    ...spindle,
    id: 'new',
    document: (body as { document: unknown }).document,
  }));
  replies.set('POST /axes/s/duplicate', { ...spindle, id: 'copy' });
  replies.set('DELETE /axes/s', null);
});
const open = () => show(<MachineView />, { at: '/machines/m', path: '/machines/:machineId' });

describe('the spindles of a machine', () => {
  it('lie in a table of their own, with what matters most of them', async () => {
    open();
    const table = await screen.findByRole('table', { name: 'Spindles' });
    const row = within(table).getByRole('row', { name: /Edge grinder/ });
    expect(row.textContent?.replace(/\u202f/g, ' ')).toContain(
      'field busdelta800 … 2 400 rpmhighest frequency set in the drive',
    );
    expect(within(row).getByRole('link').getAttribute('href')).toBe('/machines/m/spindles/s/chain');
    expect(within(screen.getByRole('table', { name: 'Axes' })).queryByText('Edge grinder')).toBeNull();
  });

  it('are made, duplicated and removed', async () => {
    const { user, router } = open();
    await user.click(await screen.findByRole('button', { name: 'Duplicate spindle Edge grinder' }));
    await user.click(screen.getByRole('button', { name: 'Remove spindle Edge grinder' }));
    await waitFor(() => expect(requests.map(({ method, path }) => `${method} ${path}`)).toContain('DELETE /axes/s'));
    expect(requests.find(({ path }) => path === '/axes/s/duplicate')?.body).toMatchObject({
      name: 'Edge grinder (copy)',
    });
    await user.click(screen.getByRole('button', { name: 'New spindle' }));
    await user.type(screen.getByLabelText('Name'), 'Saw');
    await user.click(screen.getByRole('button', { name: 'Create' }));
    await waitFor(() => expect(router.state.location.pathname).toBe('/machines/m/spindles/new/chain'));
    const made = requests.find(({ method, path }) => method === 'POST' && path === '/machines/m/axes')?.body;
    expect(made).toMatchObject({ document: newSpindle('Saw') });
  });

  it('a machine without one says how to begin', async () => {
    replies.set('GET /machines/m', { ...machine, axes: [axisRecord()] });
    open();
    expect(await screen.findByText(/No spindle yet/)).toBeTruthy();
  });
});
