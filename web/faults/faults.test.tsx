import { withValueAt } from '@kavrid/contract';
import { screen, within } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import library from '../../demo/library.json';
import { axisRecord, demoAxes, demoAxis, replies, show } from '../test/screen.tsx';
import { FaultsView } from './FaultsView.tsx';

const open = (document = demoAxis) => show(<FaultsView />, { axis: axisRecord(1, document) });
const first = () =>
  within(screen.getByRole('list', { name: 'Causes, most probable first' })).getAllByRole('listitem')[0]?.textContent ??
  '';
const answer = async (user: ReturnType<typeof open>['user'], question: RegExp, words: string) =>
  user.click(within(screen.getByRole('group', { name: question })).getByRole('button', { name: words }));

describe('finding a fault without a link', () => {
  it('goes from what is seen to the cause, says what speaks for it, and keeps the answers', async () => {
    const { user } = open();
    expect(screen.getAllByText(/Check this next/)).toHaveLength(1);
    await answer(user, /What does the shaft do/, 'turns the same way for both');
    await answer(user, /change with the direction/, 'no, always the same');
    expect(first()).toContain('The direction signal does not change');
    expect(first()).toContain('For it: “Send a slow move of one turn in the plus direction');
    // What has been answered stands below what is still open, and can be taken back.
    await answer(user, /change with the direction/, 'no, always the same');
    expect(first()).not.toContain('Does the voltage across the direction line');
    screen.getByRole('button', { name: 'Start over' }).click();
    expect(await screen.findByText('Possible causes, before any observation')).toBeTruthy();
  });

  it('puts forward what the plan itself finds wrong', () => {
    open(withValueAt(demoAxis, ['signal', 'driveForm'], 'clockwisePulses'));
    expect(first()).toMatch(
      /is set to (clockwise pulses|step and direction).*A finding in the plan points to this cause/,
    );
  });

  it('asks of the signal where a signal commands the axis, and shows what this drive’s lamps mean', async () => {
    const table = demoAxes.find(({ name }) => name === 'Turntable') as typeof demoAxis;
    const entry = library.entries.find(({ id }) => id === table.drive.entry?.id);
    replies.set(`GET /library/${entry?.id}`, {
      ...entry,
      version: 1,
      updatedAt: '2026-01-01T00:00:00.000Z',
      usedBy: 1,
    });
    const { user } = open(table);
    expect(screen.queryByRole('group', { name: /pulse line/ })).toBeNull();
    await answer(user, /With the drive enabled and zero command/, 'it creeps');
    expect(first()).toContain('The zero of the signal has drifted');
    const [list] = await screen.findAllByText('Display patterns of this drive');
    if (list) await user.click(list);
    expect(screen.getAllByText('green, slow blinking').length).toBeGreaterThan(0);
    // A code that the display’s list has already is not told twice.
    expect(screen.getAllByText('T03')).toHaveLength(2);
  });

  it('asks of the inputs where inputs pick the moves', async () => {
    const stop = demoAxes.find(({ name }) => name === 'Tile stop') as typeof demoAxis;
    const { user } = open(stop);
    await answer(user, /Does the axis make the move of the pattern/, 'occasionally a different move');
    expect(first()).toContain('The inputs are read while they are still changing');
    await answer(user, /Do the input lamps/, 'none of them');
    await answer(user, /Does the axis make the move of the pattern/, 'none at all');
    expect(first()).toContain('The common of the inputs is missing');
  });

  it('an alarm by its kind points at its cause', async () => {
    const { user } = open();
    await answer(user, /Does it show an alarm/, 'encoder or hall sensors');
    expect(first()).toContain('The encoder signal does not reach the drive');
    await answer(user, /Does it show an alarm/, 'overcurrent or short circuit');
    await answer(user, /show that the drive is enabled\?/, 'ready, but not enabled');
    expect(first()).toContain('A motor lead or winding is shorted');
  });
});
