import {
  plannedValues,
  axisInputOf,
  readDriveProfile,
  type DriveData,
  type LinkDocument,
  type LiveState,
} from '@kavrid/contract';
import { evaluateAxis } from '@kavrid/core/chain';
import { compareValues, driveStanding, type DriveReading } from '@kavrid/core/drive';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { act, screen, within } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { answer, axisRecord, demoAxis, replies, requests, show } from '../test/screen.tsx';
import { DriveDataView } from './DriveDataView.tsx';

const map = readDriveProfile(readFileSync(join(import.meta.dirname, '../../bench/devices/servo/servo.csv'), 'utf8'));
if (map.kind === 'refused') throw new Error(map.problems.join());
const { profile } = map;
const { input } = axisInputOf(demoAxis);
const planned = plannedValues(demoAxis, input, evaluateAxis(input), profile);
const factory = Object.fromEntries(
  profile.parameters.map(({ key, factory: value, scale }) => [key, Math.round((value ?? NaN) / scale)]),
);

const nothingWritten = { target: 'plan', toWrite: [], written: [], isStored: false } as const;

/** What the server would tell of a drive that holds these values. */
const dataOf = (
  change: Partial<Record<keyof DriveReading, Record<string, number>>>,
  phase: DriveData['procedure']['phase'] = 'review',
): DriveData => {
  const copy = (name: keyof DriveReading) => ({ ...factory, ...change[name] });
  const reading = { written: copy('written'), running: copy('running'), stored: copy('stored'), factory };
  const comparisons = compareValues(profile, planned, reading);
  return {
    comparisons,
    plates: [],
    notInMap: [],
    standing: driveStanding(true, comparisons, []),
    readAt: '2026-01-02T03:04:05.000Z',
    procedure: { phase, log: ['read 21 values'], ...nothingWritten },
  };
};
function open(
  data: DriveData | undefined,
  live: Partial<LiveState> = {
    link: 'up',
    deviceState: 'switch on disabled',
    activity: 'idle',
    temporary: [],
    unchecked: [],
    pastFaults: ['The following error exceeded its window.'],
    version: axisRecord().version,
  },
) {
  replies.set('GET /profiles', [
    { id: 'p', name: 'Bench servo drive', kind: 'axis', users: ['Cell: Carriage'] },
    { id: 's', name: 'Bench spindle drive', kind: 'spindle', users: [] },
  ]);
  const shown = show(<DriveDataView />, { axis: axisRecord() });
  act(() => {
    shown.store.dispatch({ type: 'live/liveArrived', payload: live });
    if (data) shown.store.dispatch({ type: 'live/driveDataArrived', payload: data });
  });
  return shown;
}
const tcpPort = (link: LinkDocument) => (link.kind === 'tcp' ? link.port : undefined);
const row = (key: string) => document.querySelector(`[data-parameter="${key}"]`)?.textContent ?? '';
const write = () => screen.getByRole('button', { name: /2. Write what differs/ });

describe('drive data', () => {
  it('lists what the drive remembers of earlier faults', async () => {
    const { user } = open(undefined);
    await user.click(screen.getByText('Past faults of the drive'));
    expect(screen.getByRole('listitem').textContent).toBe('The following error exceeded its window.');
  });

  it('sets plan, running, stored and factory side by side, each with its standing', () => {
    const all = { gearNumerator: 12288, gearDenominator: 125 };
    open(dataOf({ written: all, stored: all, running: { gearDenominator: 125 } }));
    // Written and stored, but the numerator waits for a restart; the rest is as delivered.
    expect(row('gearNumerator')).toContain('needs restart');
    expect(row('gearDenominator')).toContain('proven');
    expect(row('positionGain')).toMatch(/differs|proven/);
    // The copy that waits for the restart is shown beside the one that runs.
    expect(row('gearNumerator')).toContain('after restart 12\u202f288');
    expect(row('watchdogTime')).toContain('not planned');
    expect(row('commandSource')).toContain('pulse input');
    expect(screen.getByText(/^Not proven:/).textContent).toContain('Electronic gear, numerator');
  });

  it('shows the values that are asked for, by standing and by words', async () => {
    const all = { gearNumerator: 12288, gearDenominator: 125 };
    const { user } = open(dataOf({ written: all, stored: all, running: { gearDenominator: 125 } }));
    const keys = () =>
      [...document.querySelectorAll('[data-parameter]')].map((each) => each.getAttribute('data-parameter'));
    await user.click(screen.getByRole('combobox', { name: 'Values shown' }));
    await user.click(screen.getByRole('option', { name: 'not stored, or waiting for a restart' }));
    expect(keys()).toEqual(['gearNumerator']);
    await user.click(screen.getByRole('combobox', { name: 'Values shown' }));
    await user.click(screen.getByRole('option', { name: 'all values' }));
    await user.type(screen.getByRole('textbox', { name: 'Find a value' }), '0x6099');
    expect(keys()).toEqual(['homingSearchSpeed', 'homingCreepSpeed']);
    await user.type(screen.getByRole('textbox', { name: 'Find a value' }), ' nowhere');
    expect(screen.getByText('No value matches.')).toBeTruthy();
  });

  it('lengths are shown as travel, from the counts that the drive holds', () => {
    open(dataOf({ running: { followingErrorWindow: 49152 } }));
    // 320 mm over 3 turns of 2²⁰ counts: 49 152 counts are 5 mm, by hand.
    expect(row('followingErrorWindow')).toContain('5 mm');
  });

  it('planned values are typed where they stand, and writing waits until they are saved', async () => {
    const { user, draft } = open(dataOf({}));
    expect(write()).toHaveProperty('disabled', false);
    const gain = screen.getByLabelText('Position loop gain');
    await user.clear(gain);
    await user.type(gain, '55');
    expect(draft().document.settings.positionGain).toBe(55);
    expect(write()).toHaveProperty('disabled', true);
    expect(screen.getByText(/not been saved yet; reading saves it first/)).toBeTruthy();
    await user.click(screen.getByRole('combobox', { name: 'Enable input active' }));
    await user.click(screen.getByRole('option', { name: 'low' }));
    expect(draft().document.settings.enableActiveLevel).toBe('low');
  });

  it('offers neither reading nor writing without a link, and says what to do', () => {
    open(undefined, { link: 'off', activity: 'idle', temporary: [], pastFaults: [] });
    expect(screen.queryByText('Past faults of the drive')).toBeNull();
    expect(screen.getByText(/Nothing has been read yet/)).toBeTruthy();
    expect(write()).toHaveProperty('disabled', true);
    expect(screen.getByRole('button', { name: 'Connect' })).toBeTruthy();
  });

  it('is green by what was read, and by nothing that was said before', () => {
    const proven = dataOf({}, 'proven');
    const green = () => screen.queryByText('Every planned value is running and stored.');
    // The procedure has ended well, and the drive holds something else by now.
    const first = open({
      ...proven,
      proof: {
        madeAt: '2026-01-02T03:04:05.000Z',
        revision: 7,
        identity: '1:2',
        staleBecause: 'the plan has changed since',
      },
    });
    expect(green()).toBeNull();
    expect(screen.getByText(/revision 7: no longer valid, because the plan has changed since/)).toBeTruthy();
    const arrives = (standing: DriveData['standing']) =>
      act(() => first.store.dispatch({ type: 'live/driveDataArrived', payload: { ...proven, standing } }));
    arrives({ kind: 'proven' });
    expect(green()).toBeTruthy();
    arrives({ kind: 'nothing planned' });
    expect(screen.getByText('Nothing is planned for this drive yet.')).toBeTruthy();
    const encoder = { label: 'Encoder', unit: 'counts per revolution', plate: 131072, drive: 1048576, agrees: false };
    arrives({ kind: 'other motor', differing: [encoder] });
    expect(screen.getByRole('alert').textContent).toContain('1\u202f048\u202f576 counts per revolution in the drive');
    expect(green()).toBeNull();
  });

  it('tells how a procedure ended', () => {
    open({
      ...dataOf({}),
      procedure: { phase: 'failed', log: [], ...nothingWritten, because: 'the drive refused register 100' },
    });
    expect(screen.getByText('The drive refused register 100.')).toBeTruthy();
  });

  it('a register map is brought in and chosen; a wrong one is refused with its places', async () => {
    const { user, draft } = open(undefined, { link: 'off', temporary: [], unchecked: [], pastFaults: [] });
    replies.set(
      'POST /profiles',
      answer(422, {
        type: 'about:blank',
        status: 422,
        title: 'This register map cannot be used.',
        errors: [{ pointer: '', detail: 'Row 2, type: wrong.' }],
      }),
    );
    const give = (text: string) =>
      user.upload(screen.getByTestId('register-map'), new File([text], 'map.csv', { type: 'text/csv' }));
    await give('nonsense');
    expect(await screen.findByText(/cannot be used. Row 2, type: wrong/)).toBeTruthy();
    replies.set('POST /profiles', answer(201, { id: 'new', name: 'Mine', kind: 'axis', users: [] }));
    await give('kind,key');
    await vi.waitFor(() => expect(draft().document.link.profileId).toBe('new'));
    expect(requests.filter(({ path }) => path === '/profiles').at(-1)?.method).toBe('GET');
    const port = within(screen.getByRole('region', { name: 'Link to the drive' })).getByLabelText('TCP port');
    await user.clear(port);
    const before = tcpPort(draft().document.link);
    await user.type(port, '99999');
    await user.tab();
    expect(port).toHaveProperty('value', '99999');
    expect(screen.getByText(/at most 65535. 5502 is kept until then/)).toBeTruthy();
    expect(tcpPort(draft().document.link)).toBe(before);
    expect(draft().document.unread).toEqual({ '/link/port': '99999' });
    await user.clear(port);
    await user.type(port, '502');
    expect(draft().document).toMatchObject({ unread: {}, link: { port: 502 } });
  });

  it('the address is fixed while connected, and a map of spindles is not offered to an axis', async () => {
    const { user } = open(undefined);
    const link = within(screen.getByRole('region', { name: 'Link to the drive' }));
    for (const label of ['Host', 'TCP port', 'Unit'])
      expect(link.getByLabelText(label)).toHaveProperty('disabled', true);
    await user.click(link.getByRole('combobox', { name: 'Register map' }));
    expect(await screen.findByRole('option', { name: 'Bench servo drive' })).toBeTruthy();
    expect(screen.queryByRole('option', { name: 'Bench spindle drive' })).toBeNull();
  });

  it('register maps are renamed, replaced and deleted where nobody uses them', async () => {
    const { user } = open(undefined, { link: 'off', temporary: [], unchecked: [], pastFaults: [] });
    replies.set('PUT /profiles/s/name', answer(204, undefined));
    replies.set('DELETE /profiles/s', answer(204, undefined));
    replies.set('PUT /profiles/p', answer(422, { type: '', status: 422, title: 'Wrong.', errors: [] }));
    await user.click(screen.getByRole('button', { name: 'Manage register maps …' }));
    const dialog = within(await screen.findByRole('dialog'));
    expect(dialog.getByText(/Used by Cell: Carriage/)).toBeTruthy();
    const [first, second] = dialog.getAllByRole('button', { name: 'Delete' });
    expect([first, second].map((each) => (each as HTMLButtonElement).disabled)).toEqual([true, false]);
    const field = dialog.getByLabelText('For spindles');
    await user.clear(field);
    await user.type(field, 'Mine');
    await user.click(dialog.getAllByRole('button', { name: 'Rename' })[1] as HTMLElement);
    await vi.waitFor(() =>
      expect(requests.find(({ path }) => path === '/profiles/s/name')).toMatchObject({ body: { name: 'Mine' } }),
    );
    await user.upload(screen.getByTestId('replace-p'), new File(['x'], 'map.csv', { type: 'text/csv' }));
    expect(await dialog.findByText(/Wrong/)).toBeTruthy();
    await user.click(second as HTMLElement);
    await vi.waitFor(() => expect(requests.some(({ method }) => method === 'DELETE')).toBe(true));
  });
});
