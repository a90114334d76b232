import { readLibrary, type EntryEffect, type EntryRecord, type LibraryEntry } from '@kavrid/contract';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { cleanup, screen, within } from '@testing-library/react';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { answer, replies, requests, show, type Request, typeInto } from '../test/screen.tsx';
import { LibraryView } from './LibraryView.tsx';

const shipped = readLibrary(readFileSync(join(import.meta.dirname, '../../demo/library.json'), 'utf8'));
if (shipped.kind === 'refused') throw new Error(shipped.problems.join());
const records: readonly EntryRecord[] = shipped.entries.map(({ id = '', item }) => ({
  id,
  version: 1,
  updatedAt: '2026-01-01T00:00:00.000Z',
  item,
  usedBy: id === 'motor-ac-750' ? 1 : 0,
}));
const record = (id: string) => records.find((each) => each.id === id) as EntryRecord;
const effect: EntryEffect = {
  memberId: 'a',
  axisName: 'Carriage',
  kind: 'axis',
  machineId: 'm',
  machineName: 'Cell',
  axisVersion: 7,
  changes: [{ path: ['motor', 'topSpeed'], before: 5000, after: 4000 }],
  results: [{ symbol: 'speedAtMotor', label: 'Speed limit by the motor', unit: 'mm/s', before: '8889', after: '7111' }],
};

beforeEach(() => {
  replies.set('GET /library', ({ query }: Request) => {
    const items = records.filter(
      ({ item }) =>
        item.shelf === query.get('shelf') && item.entry.name.toLowerCase().includes(query.get('search') ?? ''),
    );
    return { total: items.length, items };
  });
  for (const each of records) replies.set(`GET /library/${each.id}`, each);
  replies.set('GET /library/motor-ac-750/uses', [{ ...effect, changes: [] }]);
  replies.set('POST /library/motor-ac-750/effects', [effect]);
});

const open = (id?: string, shelf = 'motor') =>
  show(<LibraryView />, {
    at: `/library${id ? `/${id}` : ''}?shelf=${shelf}`,
    path: id ? '/library/:entryId' : '/library',
  });
const type = async (user: ReturnType<typeof open>['user'], label: string, text: string) => {
  const field = await screen.findByLabelText(label);
  await user.clear(field);
  await typeInto(user, field, text);
};
const sent = (method: string) =>
  requests.filter((each) => each.method === method).at(-1)?.body as Record<string, unknown>;

describe('the library', () => {
  it('finds entries on each shelf, and says where one is used', async () => {
    const { user } = open();
    expect(await screen.findByRole('row', { name: /750 W.*1 axis/ })).toBeTruthy();
    await typeInto(user, screen.getByLabelText('Search by name or part number'), 'linear');
    await vi.waitFor(() => expect(screen.getAllByRole('row')).toHaveLength(2));
    await user.click(screen.getByRole('tab', { name: 'Controllers' }));
    expect(await screen.findByText('No entry with this name or part number.')).toBeTruthy();
  });

  it('an edited entry is kept through a reload and saved with the axes that are chosen', async () => {
    const first = open('motor-ac-750');
    await type(first.user, 'Highest speed', '4000 rpm');
    expect(screen.getByText('Kept only in this window until saved')).toBeTruthy();
    cleanup();
    const { user } = open('motor-ac-750');
    expect((await screen.findByLabelText<HTMLInputElement>('Highest speed')).value).toBe('4000');
    await user.click(screen.getByRole('button', { name: 'Save' }));
    const dialog = await screen.findByRole('dialog');
    expect(within(dialog).getByRole('row', { name: /by the motor.*8889.*7111/ })).toBeTruthy();
    replies.set('PUT /library/motor-ac-750', ({ body }: Request) => ({
      ...record('motor-ac-750'),
      version: 2,
      item: (body as { item: LibraryEntry }).item,
    }));
    await user.click(within(dialog).getByRole('button', { name: 'Save, and update 1 axis' }));
    await vi.waitFor(() =>
      expect(sent('PUT')).toMatchObject({
        version: 1,
        axes: [{ id: 'a', version: 7 }],
        item: { entry: { topSpeed: 4000 } },
      }),
    );
    expect(localStorage.length).toBe(0);
  });

  it('saved by someone else meanwhile, both edits are put together and shown', async () => {
    const { user } = open('controller-board', 'controller');
    await type(user, 'Highest pulse rate', '31 kHz');
    const theirs = {
      ...record('controller-board'),
      version: 2,
      item: {
        shelf: 'controller',
        entry: { ...record('controller-board').item.entry, notes: 'theirs', maximumPulseRate: 32000 },
      },
    };
    replies.set(
      'PUT /library/controller-board',
      answer(409, { type: 'about:blank', status: 409, title: 'stale', current: theirs }),
    );
    await user.click(screen.getByRole('button', { name: 'Save' }));
    expect(await screen.findByText(/where both edited a field, yours is shown: maximum pulse rate/)).toBeTruthy();
    expect(screen.getByLabelText<HTMLTextAreaElement>('Notes').value).toBe('theirs');
    expect(screen.getByLabelText<HTMLInputElement>('Highest pulse rate').value).toBe('31000');
  });

  it('what cannot be saved says why; an entry in use cannot be deleted', async () => {
    const { user } = open('motor-ac-750');
    await user.clear(await screen.findByLabelText('Name'));
    expect(screen.getByText(/It cannot be saved yet. name: A name is needed/)).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Save' })).toHaveProperty('disabled', true);
    expect(screen.getByRole('button', { name: 'Delete' })).toHaveProperty('disabled', true);
    await user.click(screen.getByRole('button', { name: 'Discard my edits' }));
    expect(screen.getByLabelText<HTMLInputElement>('Name').value).toBe('AC servo 750 W, 20 bit');
  });

  it('a drive’s lists and commands are edited in place', async () => {
    const { user } = open('drive-b', 'drive');
    await user.click(await screen.findByRole('tab', { name: /Alarms/ }));
    await user.click(screen.getByRole('button', { name: 'Remove row 1' }));
    await user.click(screen.getByRole('button', { name: 'Add a row' }));
    await type(user, 'Shown as, row 2', 'A7');
    await user.click(screen.getByRole('combobox', { name: 'Position stays valid, row 2' }));
    await user.click(screen.getByRole('option', { name: 'no' }));
    await user.click(screen.getByRole('tab', { name: 'Data' }));
    await user.click(screen.getByRole('checkbox', { name: 'field bus' }));
    await type(user, 'Minimum pulse width', '2.5');
    replies.set('PUT /library/drive-b', ({ body }: Request) => ({
      ...record('drive-b'),
      version: 2,
      item: (body as { item: LibraryEntry }).item,
    }));
    await user.click(screen.getByRole('button', { name: 'Save' }));
    await vi.waitFor(() => expect(sent('PUT')).toBeTruthy());
    const { entry } = (sent('PUT') as { item: Extract<LibraryEntry, { shelf: 'drive' }> }).item;
    expect(entry.alarms.map(({ code, positionStays }) => [code, positionStays])).toEqual([
      ['A9', false],
      ['A7', false],
    ]);
    expect(entry.commands).toContain('field bus');
    expect(entry.minimumPulseWidth).toBeCloseTo(2.5e-6, 12);
  });

  it('numbers of a list are numbers; what is none is told of at once, and a controller has settings of its own', async () => {
    const { user } = open('controller-board', 'controller');
    await user.click(await screen.findByRole('tab', { name: /Settings/ }));
    await type(user, 'Display step', '0.50');
    await user.click(screen.getByRole('button', { name: 'Open row 2' }));
    await type(user, 'Lowest bit', 'two');
    expect(screen.getByText(/value 2 first bit/i)).toBeTruthy();
    await type(user, 'Lowest bit', '3');
    expect(screen.queryByText(/value 2 first bit/i)).toBeNull();
    await user.click(screen.getByRole('button', { name: 'Open row 1' }));
    await user.click(screen.getByRole('combobox', { name: 'Effect of keying it' }));
    await user.click(screen.getByRole('option', { name: 'unlocks' }));
    replies.set('PUT /library/controller-board', ({ body }: Request) => ({
      ...record('controller-board'),
      version: 2,
      item: (body as { item: LibraryEntry }).item,
    }));
    await user.click(screen.getByRole('button', { name: 'Save' }));
    await vi.waitFor(() => expect(sent('PUT')).toBeTruthy());
    const { entry } = (sent('PUT') as { item: Extract<LibraryEntry, { shelf: 'controller' }> }).item;
    expect(entry.values[0]).toMatchObject({ scale: 0.5, keyIn: 'unlocks' });
    expect(entry.values[1]).toMatchObject({ firstBit: 3 });
  });

  it('a cable has its pins', async () => {
    const { user } = open('cable-24', 'cable');
    expect(((await screen.findByLabelText('Resistor in each line')) as HTMLInputElement).value).toBe('2000');
    await user.click(screen.getByRole('tab', { name: /Pins/ }));
    await user.click(screen.getByRole('button', { name: 'Add a row' }));
    await type(user, 'Signal, row 6', 'enable');
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Save' }).disabled).toBe(false);
  });
});

describe('spindles on the shelf', () => {
  it('a motor’s plate is edited in its own units, and what cannot be is said', async () => {
    const { user } = open('spindle-motor-belt', 'spindle motor');
    expect((await screen.findByLabelText<HTMLInputElement>('Power')).value).toBe('2.2');
    await type(user, 'Power', '3');
    await type(user, 'Power factor, cos φ', '1.2');
    expect((await screen.findByLabelText('Power factor, cos φ')).getAttribute('aria-invalid')).toBe('true');
    replies.set('PUT /library/spindle-motor-belt', record('spindle-motor-belt'));
    await type(user, 'Power factor, cos φ', '0.9');
    await user.click(screen.getByRole('button', { name: 'Save' }));
    await vi.waitFor(() =>
      expect(sent('PUT')).toMatchObject({ item: { shelf: 'spindle motor', entry: { power: 3000, powerFactor: 0.9 } } }),
    );
  });

  it('a drive has its registers and its limits', async () => {
    // The one with the shortest list of values: a long one takes the simulated browser its time.
    replies.set('PUT /library/spindle-drive-c', record('spindle-drive-c'));
    const { user } = open('spindle-drive-c', 'spindle drive');
    await user.click(await screen.findByText(/^Registers \(4\)/));
    await typeInto(user, within(screen.getByRole('table', { name: 'Registers' })).getByDisplayValue('261'), '2');
    await user.click(screen.getByText('Data'));
    await user.click(screen.getByText('Brake chopper fitted'));
    await user.click(screen.getByText('Save'));
    await vi.waitFor(() =>
      expect(sent('PUT')).toMatchObject({
        item: { entry: { hasChopper: false, registers: { 3: { register: 2612 } } } },
      }),
    );
  });

  it('a new entry of either kind begins with what is common', async () => {
    replies.set('POST /library', ({ body }: Request) => ({
      ...record('spindle-drive-a'),
      item: (body as { item: unknown }).item,
    }));
    const { user } = open(undefined, 'spindle drive');
    await user.click(await screen.findByRole('button', { name: 'New entry' }));
    await typeInto(user, screen.getByLabelText('Name'), 'Frequency drive D');
    await user.click(screen.getByRole('button', { name: 'Create' }));
    await vi.waitFor(() =>
      expect(sent('POST')).toMatchObject({
        item: { shelf: 'spindle drive', entry: { name: 'Frequency drive D', dischargeTime: 15, registers: [] } },
      }),
    );
  });
});
