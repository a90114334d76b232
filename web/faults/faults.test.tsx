// @vitest-environment jsdom
import { withValueAt } from '@kavrid/contract';
import { screen, within } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { axisRecord, demoAxis, show } from '../test/screen.tsx';
import { FaultsView } from './FaultsView.tsx';

const open = (document = demoAxis) => show(<FaultsView />, { axis: axisRecord(1, document) });
const first = () =>
  within(screen.getByRole('list', { name: 'Causes, the most probable first' })).getAllByRole('listitem')[0]
    ?.textContent ?? '';
const answer = async (user: ReturnType<typeof open>['user'], question: RegExp, words: string) =>
  user.click(within(screen.getByRole('group', { name: question })).getByRole('button', { name: words }));

describe('finding a fault without a link', () => {
  it('goes from what is seen to the cause, says what speaks for it, and keeps the answers', async () => {
    const { user } = open();
    expect(screen.getAllByText(/Look at this next/)).toHaveLength(1);
    await answer(user, /What does the shaft do/, 'the same way for both');
    await answer(user, /change with the direction/, 'no, always the same');
    expect(first()).toContain('The direction line is dead');
    expect(first()).toContain('For it: “Send a slow move of one turn to plus');
    // What has been answered stands below what is still open, and can be taken back.
    await answer(user, /change with the direction/, 'no, always the same');
    expect(first()).not.toContain('Do the volts across the direction line');
    screen.getByRole('button', { name: 'Begin anew' }).click();
    expect(await screen.findByText('What it may be, before anything is seen')).toBeTruthy();
  });

  it('puts forward what the plan itself finds wrong', () => {
    open(withValueAt(demoAxis, ['signal', 'driveForm'], 'clockwisePulses'));
    expect(first()).toMatch(/takes (clockwise pulses|step and direction).*The plan itself has a finding/);
  });
});
