import { boundStep, stepContext, stepIds, stepResults } from '@kavrid/core/procedure';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { shownGuide } from './shownGuide.ts';
import { demoAxis, demoSpindle } from '../test/demoMembers.ts';
import { simulatedDrive, type SimulatedDrive } from '../test/simulatedDrive.ts';

let drive: SimulatedDrive;
beforeEach(() => void vi.useFakeTimers());
afterEach(() => {
  drive.end();
  vi.useRealTimers();
});

const version = 1;
const run = () => drive.mailbox.state.guided;
const result = (step: string) => stepResults(drive.mailbox.state)[step];
const begin = (step: string, isByHand = false) => drive.say({ type: 'beginStep', version, step, isByHand, given: {} });
const answer = (step: string, value: string | number, given = {}) =>
  drive.say({ type: 'answerStep', step, answer: value, given });
const skip = (...steps: string[]) => {
  for (const step of steps) drive.say({ type: 'skipStep', version, step, because: 'not for this test' });
};
const over = () => drive.until(() => run()?.phase === 'over' && drive.mailbox.state.stop === undefined, 60_000);
const steps = () => {
  const context = stepContext(drive.mailbox.state, {});
  return context ? stepIds(context) : [];
};

describe('first power of a spindle', () => {
  const linked = async () => {
    drive = simulatedDrive(demoSpindle);
    drive.holdsPlan();
    await drive.connected();
    skip('leads', 'hardwareStop', 'warnings', 'restart', 'direction');
  };

  it('settings are compared before anything turns; a difference is named', async () => {
    await linked();
    begin('settings');
    await over();
    expect(result('settings')).toMatchObject({ verdict: 'passed', known: 'read back' });
    drive.vfd.parameters.write('highestHertz', 9000);
    begin('settings');
    await over();
    expect(result('settings')).toMatchObject({ verdict: 'failed', sign: 'differs' });
    expect(result('settings')?.words).toContain('in the drive and');
    // What stands on it cannot go on.
    begin('noLoad');
    expect(drive.lastRefusal()).toContain('“Settings before leads”');
    expect(drive.speed()).toBe(0);
  });

  it('turns for two seconds, stops on its ramp, and asks a person which way', async () => {
    await linked();
    skip('settings');
    begin('direction');
    let fastest = 0;
    await drive.until(() => {
      fastest = Math.max(fastest, drive.vfd.outputHertz);
      return run()?.phase === 'asking';
    }, 60_000);
    expect(fastest).toBeGreaterThan(15);
    expect(drive.vfd.outputHertz).toBe(0);
    expect(drive.vfd.state).not.toBe('operation enabled');
    answer('direction', 'reversed');
    expect(result('direction')).toMatchObject({ verdict: 'failed', sign: 'reversed', known: 'observed' });
  });

  it('takes a current without load that fits its plate', async () => {
    await linked();
    skip('settings');
    begin('noLoad');
    await over();
    expect(result('noLoad')).toMatchObject({ verdict: 'passed', known: 'read back' });
    // The motor of the bench takes 2.6 A at its rated flux, of 8 A.
    const current = result('noLoad')?.values.find(({ label }) => label === 'No-load current')?.value;
    expect(current).toBeGreaterThan(2);
    expect(current).toBeLessThan(3.5);
  });

  it('stops automatically when its link is lost, which is read back', async () => {
    await linked();
    skip('settings');
    begin('lostLink');
    await over();
    expect(result('lostLink')).toMatchObject({ verdict: 'passed', known: 'read back' });
    await drive.until(() => drive.speed() < 1);
  });

  it('one that starts automatically when the mains return is a finding that stops', async () => {
    await linked();
    begin('restart');
    await drive.pass(200);
    // Its terminals start it, as an automatic restart would.
    drive.vfd.control(6);
    drive.vfd.control(7);
    drive.vfd.control(15);
    await over();
    expect(result('restart')).toMatchObject({ verdict: 'failed', sign: 'restarts' });
    expect(result('restart')?.words).toMatch(/^Stop: it starts automatically/);
    const { faults } = shownGuide('member', drive.mailbox.state, 'a');
    expect(faults.map(({ causes }) => causes.map(({ title }) => title))).toEqual([
      ['The spindle starts automatically'],
    ]);
  });
});

describe('without a link', () => {
  it.each([
    ['an axis', demoAxis, { wires: 'right', handTurn: 'reversed', standstill: 'holds' }],
    ['a spindle', demoSpindle, { settings: 'same', thermal: 'trips', direction: 'right' }],
  ] as const)('%s: every step is answered, and is observed, never read back', async (_, document, special) => {
    drive = simulatedDrive(document);
    drive.come();
    void drive.mailbox.refresh();
    await drive.until(() => drive.mailbox.state.plan !== undefined);
    for (const step of steps()) {
      begin(step, true);
      if (run()?.step !== step) {
        // What it stands on has failed: it is left out with a reason.
        expect(drive.lastRefusal()).toMatch(/^First: /);
        skip(step);
        continue;
      }
      expect(run()?.phase).toBe('asking');
      const context = stepContext(drive.mailbox.state, {});
      const question = context && boundStep(step, context)?.question;
      if (question?.kind === 'number') answer(step, 100, { commanded: 200, speed: 10 });
      else
        answer(
          step,
          (special as Readonly<Record<string, string>>)[step] ?? Object.keys(question?.answers ?? {})[0] ?? '',
        );
      expect(run()?.phase, step).toBe('over');
      expect(result(step)?.known, step).toBe('observed');
    }
    expect(drive.sent).toEqual([]);
    await drive.pass(20);
    expect(drive.proofs.length).toBeGreaterThanOrEqual(steps().length);
    expect(drive.proofs.every((proof) => proof.identity === '')).toBe(true);
    // An answer that is none of those offered is no answer; a step that is not under way takes none.
    answer('wires', 'nonsense');
    expect(drive.lastRefusal()).toContain('not under way');
    begin('nonsense', true);
    expect(drive.lastRefusal()).toContain('no such step');
    drive.say({ type: 'skipStep', version, step: steps()[0] ?? '', because: ' ' });
    expect(drive.lastRefusal()).toContain('reason');
    begin(steps()[0] ?? '', false);
    expect(drive.lastRefusal()).toContain('no link');
  });
});
