import type { AxisDocument, MachinePage, MachineRecord } from '@kavrid/contract';
import { screen, within } from '@testing-library/react';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { MachineView } from '../machine/MachineView.tsx';
import { answer, axisRecord, demoAxes, replies, requests, show, type Request } from '../test/screen.tsx';
import { MachinesView } from './MachinesView.tsx';

const page = (names: readonly string[], total = names.length): MachinePage => ({
  total,
  items: names.map((name, k) => ({
    id: `m${k}`,
    name,
    tags: [],
    archived: false,
    version: 1,
    updatedAt: '2026-01-02T03:04:05.000Z',
    axes: [{ id: `a${k}`, name: 'Lift', kind: 'axis' }],
  })),
});
const asked = () => Object.fromEntries(requests.filter(({ path }) => path === '/machines').at(-1)?.query ?? []);
beforeEach(() => void replies.set('GET /tags', ['big', 'small']));

describe('the list of machines', () => {
  it('asks the server for what is wanted: search, tag, order, page, archive', async () => {
    replies.set('GET /machines', page(['Kiln', '<b>Press</b>'], 60));
    const { user } = show(<MachinesView />);
    expect((await screen.findByRole('link', { name: '<b>Press</b>' })).getAttribute('href')).toBe('/machines/m1');
    expect(asked()).toEqual({
      search: '',
      tag: '',
      archived: '0',
      sort: 'updatedAt',
      order: 'descending',
      page: '0',
      size: '25',
    });
    await user.click(await screen.findByRole('button', { name: 'Go to next page' }));
    await vi.waitFor(() => expect(asked().page).toBe('1'));
    await user.type(screen.getByLabelText('Search'), 'kil');
    await vi.waitFor(() => expect(asked()).toMatchObject({ search: 'kil', page: '0' }));
    await user.click(screen.getByRole('button', { name: 'big' }));
    await vi.waitFor(() => expect(asked()).toMatchObject({ tag: 'big' }));
    await user.click(screen.getByRole('button', { name: 'Machine' }));
    await vi.waitFor(() => expect(asked()).toMatchObject({ sort: 'name', order: 'ascending' }));
    await user.click(screen.getByRole('switch', { name: 'archived' }));
    await vi.waitFor(() => expect(asked()).toMatchObject({ archived: '1' }));
  });

  it('helps when there is nothing, and tells when it cannot be read', async () => {
    replies.set('GET /machines', page([]));
    const { user } = show(<MachinesView />);
    expect(await screen.findByText(/Nothing here yet/)).toBeTruthy();
    await user.type(screen.getByLabelText('Search'), 'x');
    await user.click(await screen.findByRole('button', { name: 'Show all' }));
    expect(await screen.findByText(/Nothing here yet/)).toBeTruthy();
  });

  it('is tried again after a failure', async () => {
    replies.set(
      'GET /machines',
      answer(503, { title: 'The database does not respond.', status: 503, type: 'about:blank' }),
    );
    const { user } = show(<MachinesView />);
    expect(await screen.findByText(/The database does not respond/)).toBeTruthy();
    replies.set('GET /machines', page(['Kiln']));
    await user.click(screen.getByRole('button', { name: 'Try again' }));
    expect(await screen.findByRole('link', { name: 'Kiln' })).toBeTruthy();
  });
});

describe('a machine', () => {
  const machine = (version: number, document: Partial<MachineRecord['document']> = {}): MachineRecord => ({
    id: 'm',
    version,
    updatedAt: '2026-01-02T03:04:05.000Z',
    document: { name: 'Cell', notes: '', tags: [], archived: false, ...document },
    axes: [axisRecord()],
    removedAxes: [{ id: 'r', name: 'Old lift' }],
  });
  const open = () => {
    replies.set('GET /machines/m', machine(1));
    return show(<MachineView />, { at: '/machines/m', path: '/machines/:machineId' });
  };

  it('shows of each axis what matters, worked out', async () => {
    const { user } = open();
    const row = within(await screen.findByRole('table', { name: 'Axes' })).getByRole('row', { name: /Carriage/ });
    expect(row.textContent).toContain('12288 / 125');
    expect(row.textContent).toContain('100 pulses/mm');
    expect(row.textContent).toContain('2\u202f000 mm/s');
    replies.set('POST /axes/r/put-back', axisRecord());
    await user.click(screen.getByRole('button', { name: 'Old lift: put back' }));
    await vi.waitFor(() => expect(requests.some(({ path }) => path === '/axes/r/put-back')).toBe(true));
  });

  it('edited by two at once is put together and shown before it is saved again', async () => {
    const { user } = open();
    await user.click(await screen.findByRole('button', { name: 'Edit name, tags and notes' }));
    await user.type(screen.getByRole('textbox', { name: 'Tags' }), 'a, b,, a');
    await user.type(screen.getByRole('textbox', { name: 'Notes' }), 'mine');
    const theirs = machine(4, { name: 'Line 4', notes: 'theirs' });
    replies.set('PUT /machines/m', ({ body }: Request) =>
      (body as { version: number }).version === 1
        ? answer(409, { type: 'about:blank', status: 409, title: 'stale', current: theirs })
        : machine(5),
    );
    await user.click(screen.getByRole('button', { name: 'Save' }));
    expect(await screen.findByText(/Someone else has saved in the meantime: notes is now “theirs”/)).toBeTruthy();
    expect(screen.getByRole<HTMLInputElement>('textbox', { name: 'Name' }).value).toBe('Line 4');
    await user.click(screen.getByRole('button', { name: 'Save' }));
    await vi.waitFor(() =>
      expect(requests.filter(({ method }) => method === 'PUT').at(-1)?.body).toEqual({
        author: '',
        version: 4,
        document: { name: 'Line 4', notes: 'mine', tags: ['a', 'b'], archived: false },
      }),
    );
  });
});

describe('DC supplies of a machine', () => {
  it('are summed over the axes that name them; what is too much, or not agreed on, is said', async () => {
    const lift = demoAxes[1] as AxisDocument;
    const weak = { ...lift, name: 'Second lift', supply: { ...lift.supply, ratedCurrent: 0.2, voltage: 36 } };
    const axes = [lift, weak].map((document, k) => ({ ...axisRecord(1, document), id: `a${k}` }));
    replies.set('GET /machines/m', {
      id: 'm',
      version: 1,
      updatedAt: '2026-01-01T00:00:00.000Z',
      document: { name: 'Cell', notes: '', tags: [], archived: false },
      axes,
      removedAxes: [],
    } satisfies MachineRecord);
    show(<MachineView />, { at: '/machines/m', path: '/machines/:machineId' });
    const panel = within(await screen.findByRole('region', { name: 'DC supplies' }));
    expect(panel.getByText(/48 V or 36 V/).textContent).toMatch(/of 0.2 A with all axes at peak \(Spray lift 0.169 A/);
    expect(panel.getByText('The axes have different voltages entered for it.')).toBeTruthy();
    expect(panel.getByText(/That exceeds its rated current: use/)).toBeTruthy();
  });
});
