import { readDriveProfile, type DriveData, type LiveState, type SnapshotRecord } from '@kavrid/contract';
import { compareValues } from '@kavrid/core/drive';
import { act, screen, within } from '@testing-library/react';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it, vi } from 'vitest';
import { live } from '../store/live.ts';
import { watchAxis } from '../store/liveLine.ts';
import { linkedState } from '../test/liveState.ts';
import { axisRecord, demoAxis, replies, requests, show } from '../test/screen.tsx';
import { DriveDataView } from './DriveDataView.tsx';

const map = readDriveProfile(readFileSync(join(import.meta.dirname, '../../bench/devices/servo/servo.csv'), 'utf8'));
if (map.kind === 'refused') throw new Error(map.problems.join());
const factory = Object.fromEntries(map.profile.parameters.map((each) => [each.key, (each.factory ?? 0) / each.scale]));
const readingOf = (change: Readonly<Record<string, number>>) => {
  const copy = { ...factory, ...change };
  return { written: copy, running: copy, stored: copy, factory };
};
const nothing = { phase: 'idle', log: [], target: 'plan', toWrite: [], written: [], isStored: false } as const;
const dataOf = (procedure: Partial<DriveData['procedure']> = {}): DriveData => ({
  comparisons: compareValues(map.profile, { positionGain: 40 }, readingOf({ positionGain: 455 })),
  plates: [],
  notInMap: ['electronic gear'],
  standing: { kind: 'nothing planned' },
  procedure: { ...nothing, ...procedure },
});
const summary = {
  id: 's1',
  memberId: 'a',
  name: 'As found',
  isAutomatic: true,
  takenAt: '2026-01-02T03:04:05.000Z',
  identity: '1:7',
  map: 'Bench servo drive',
};
const record = (more: Partial<SnapshotRecord> = {}): SnapshotRecord => ({
  ...summary,
  reading: readingOf({ positionGain: 500, homeOffset: 12 }),
  ...more,
});
const state = linkedState;

function open(data: DriveData, records: readonly SnapshotRecord[] = [record()]) {
  const heard: { readonly type: string }[] = [];
  class Line {
    static OPEN = 1;
    readyState = 1;
    send(text: string) {
      heard.push(JSON.parse(text) as { readonly type: string });
    }
  }
  vi.stubGlobal('WebSocket', Line);
  replies.set('GET /profiles', [{ id: demoAxis.link.profileId, name: 'Bench servo drive', kind: 'axis', users: [] }]);
  replies.set(
    'GET /machines/m/snapshots',
    records.map(({ reading: _, ...rest }) => rest),
  );
  for (const each of records) replies.set(`GET /snapshots/${each.id}`, each);
  replies.set('GET /machines/m', {
    id: 'm',
    version: 1,
    updatedAt: summary.takenAt,
    document: { name: 'Cell', notes: '', tags: [], archived: false },
    axes: [axisRecord(), { ...axisRecord(), id: 'b', document: { ...demoAxis, name: 'Gantry left' } }],
    removedAxes: [],
  });
  const shown = show(<DriveDataView />, {
    axis: axisRecord(),
    path: '/machines/:machineId/axes/:axisId',
    at: '/machines/m/axes/a',
  });
  act(() => {
    shown.store.dispatch(watchAxis('a'));
    shown.store.dispatch(live.actions.liveArrived(state));
    shown.store.dispatch(live.actions.driveDataArrived(data));
  });
  const asked = (type: string) => vi.waitFor(() => expect(heard.findLast((each) => each.type === type)).toBeTruthy());
  return { ...shown, heard, asked, last: (type: string) => heard.findLast((each) => each.type === type) };
}
const openDialog = async ({ user }: ReturnType<typeof open>) => {
  await user.click(await screen.findByRole('button', { name: 'Snapshots …' }));
  return within(await screen.findByRole('dialog'));
};
const row = (key: string) => document.querySelector(`[data-parameter="${key}"]`)?.textContent ?? '';

describe('snapshots', () => {
  it('are taken under a name, set beside what is in the drive, renamed, and deleted once asked twice', async () => {
    const shown = open(dataOf());
    const { user } = shown;
    let dialog = await openDialog(shown);
    await user.type(dialog.getByLabelText('Name of a new snapshot'), 'Before service');
    await user.click(dialog.getByRole('button', { name: 'Take a snapshot' }));
    await shown.asked('takeSnapshot');
    expect(shown.last('takeSnapshot')).toMatchObject({ version: 1, name: 'Before service' });

    await user.click(dialog.getByLabelText('Compare Running in the drive'));
    await user.click(await dialog.findByLabelText('Compare As found'));
    await user.click(dialog.getByRole('button', { name: 'Compare the two' }));
    await screen.findByText(/compared with As found.*: 2 values differ/);
    expect(row('positionGain')).toContain('45.5 1/s50 1/sdifferent');
    expect(row('torqueLimit')).toBe('');
    await user.click(screen.getByRole('button', { name: 'Show all values' }));
    expect(row('torqueLimit')).toContain('the same');
    await user.click(screen.getByRole('button', { name: 'End the comparison' }));
    expect(row('torqueLimit')).toContain('not planned');

    dialog = await openDialog(shown);
    await user.click(await dialog.findByRole('button', { name: 'Rename' }));
    await user.clear(dialog.getByLabelText('Name'));
    await user.type(dialog.getByLabelText('Name'), 'Kept');
    replies.set('PUT /snapshots/s1/name', null);
    await user.click(dialog.getByRole('button', { name: 'Save the name' }));
    await vi.waitFor(() =>
      expect(requests.find(({ path }) => path === '/snapshots/s1/name')).toMatchObject({ body: { name: 'Kept' } }),
    );
    replies.set('DELETE /snapshots/s1', null);
    await user.click(await dialog.findByRole('button', { name: 'Delete' }));
    expect(requests.some(({ method }) => method === 'DELETE')).toBe(false);
    await user.click(dialog.getByRole('button', { name: 'Delete it permanently' }));
    await vi.waitFor(() => expect(requests.some(({ method }) => method === 'DELETE')).toBe(true));
  });

  it('of another axis give its drive only what is not its own, and nothing to another kind', async () => {
    const other = record({ id: 's2', memberId: 'b', name: 'Left', identity: '1:8' });
    const strange = record({ id: 's3', memberId: 'b', name: 'Strange', identity: '2:8' });
    const shown = open(dataOf(), [other, strange]);
    const { user } = shown;
    let dialog = await openDialog(shown);
    const write = async (name: string) =>
      user.click(
        within(await dialog.findByRole('row', { name: new RegExp(name) })).getByRole('button', { name: /Write/ }),
      );
    await write('Left');
    await shown.asked('readDrive');
    const { target } = shown.last('readDrive') as unknown as {
      readonly target: { readonly label: string; readonly values: Readonly<Record<string, number>> };
    };
    expect(target.label).toBe('snapshot “Left” of Gantry left');
    expect(target.values).toMatchObject({ positionGain: 500 });
    expect(target.values).not.toHaveProperty('homeOffset');
    expect(target.values).not.toHaveProperty('rotationSense');
    const count = shown.heard.length;
    dialog = await openDialog(shown);
    await write('Strange');
    await vi.waitFor(() => expect(shown.store.getState().live.refused).toContain('another kind of drive'));
    expect(shown.heard.slice(count).filter(({ type }) => type === 'readDrive')).toEqual([]);
  });

  it('a file is checked, set beside the plan, and written only after it has been read and shown', async () => {
    const shown = open(dataOf());
    const dialog = await openDialog(shown);
    const give = (text: string) =>
      shown.user.upload(screen.getByTestId('values-file'), new File([text], 'old.csv', { type: 'text/csv' }));
    await give('key,value\nghost,1\n');
    await dialog.findByText(/Line 2: the register map has no value “ghost”/);
    await give('key,value\npositionGain,33\n');
    const file = await dialog.findByRole('row', { name: /file “old.csv”/ });
    await shown.user.click(within(file).getByRole('button', { name: /Write/ }));
    await shown.asked('readDrive');
    expect(shown.last('readDrive')).toMatchObject({
      target: { label: 'file “old.csv”', values: { positionGain: 330 } },
    });
    expect(shown.heard.some(({ type }) => type === 'writeDrive')).toBe(false);
  });
});

describe('a writing', () => {
  it('is shown before, in its order; when it has failed, how far it came, with both ways on', async () => {
    const toWrite = [
      { key: 'positionGain', from: 455, to: 400 },
      { key: 'torqueLimit', from: 3000, to: 1500 },
    ];
    const shown = open(dataOf({ phase: 'review', toWrite, target: { label: 'snapshot “As found”' } }));
    const review = within(screen.getByRole('region', { name: 'To be written, in this order' }));
    expect(review.getAllByRole('row').map((each) => each.textContent)).toEqual([
      expect.anything(),
      'Position loop gain45.5 1/s40 1/s',
      'Torque limit300 %150 %',
    ]);
    expect(screen.getByText('Values of snapshot “As found”, not of the plan.')).toBeTruthy();
    act(
      () =>
        void shown.store.dispatch(
          live.actions.driveDataArrived(
            dataOf({
              phase: 'failed',
              because: 'the drive did not answer',
              written: ['positionGain'],
              toWrite: toWrite.slice(1),
              inDoubt: 'torqueLimit',
            }),
          ),
        ),
    );
    expect(screen.getByText('Written, but not stored: lost at the next restart: Position loop gain.')).toBeTruthy();
    expect(screen.getByText('Sent, but not confirmed by the drive: Torque limit.')).toBeTruthy();
    await shown.user.click(screen.getByRole('button', { name: 'Read again and continue' }));
    await shown.asked('readDrive');
    expect(shown.last('readDrive')).toMatchObject({ target: 'as before' });
    await shown.user.click(await screen.findByRole('button', { name: /^Go back to the snapshot of / }));
    await vi.waitFor(() =>
      expect(shown.last('readDrive')).toMatchObject({
        target: { label: 'snapshot “As found”', values: { positionGain: 500 } },
      }),
    );
  });

  it('a value has the user’s own wording and note beside it, kept with the axis', async () => {
    const shown = open(dataOf());
    await shown.user.click(screen.getByRole('button', { name: 'Torque limit' }));
    await shown.user.type(screen.getByLabelText('Name in the drive’s own manual'), 'T-max (page 12)');
    await shown.user.type(screen.getByLabelText('Note'), 'ask first');
    expect(shown.draft().document.keying.notes).toMatchObject({
      'wording/torqueLimit': 'T-max (page 12)',
      'value/torqueLimit': 'ask first',
    });
    expect(row('torqueLimit')).toContain('T-max (page 12) · ask first');
    await shown.user.clear(screen.getByLabelText('Note'));
    expect(shown.draft().document.keying.notes).not.toHaveProperty('value/torqueLimit');
  });
});

describe('the control of the drive', () => {
  it('is told: who has enabled it, where its command comes from, and a firmware that the map does not know', () => {
    const { store } = open(dataOf());
    const says = (change: Partial<LiveState>) => {
      act(() => void store.dispatch(live.actions.liveArrived({ ...state, ...change })));
      return screen.getByRole('region', { name: 'Link to the drive' }).textContent ?? '';
    };
    act(() => void store.dispatch(live.actions.driveDataArrived({ ...dataOf(), readAt: '2026-01-02T03:04:05.000Z' })));
    expect(screen.getByText('Not in the register map, so not known: electronic gear.')).toBeTruthy();
    expect(says({})).toContain('Enabled by: nobody. Command source: pulse input.');
    expect(says({ deviceState: 'operation enabled' })).toContain('Enabled by: this tool.');
    expect(says({ deviceState: 'operation enabled', isWatchOnly: true })).toContain(
      'Enabled by: its terminals or another',
    );
    expect(says({ deviceState: undefined })).toContain('Enabled by: not known.');
    expect(says({})).not.toContain('made for firmware');
    expect(says({ otherFirmware: [0x10002] })).toContain('made for firmware 0x10002; the drive has 0x1.');
  });
});
