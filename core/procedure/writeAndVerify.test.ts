import { describe, expect, it } from 'vitest';
import type { RawValues } from '../drive/index.ts';
import { smallProfile } from '../test/sampleProfile.ts';
import {
  stepWriteAndVerify,
  writeAndVerify,
  type WriteAndVerifyEvent,
  type WriteAndVerifyState,
  type WriteTarget,
} from './index.ts';

/** A drive of a few lines: what is written waits or works at once, store keeps it, restart brings it into effect. */
function drive(
  faults: { forgetsStore?: boolean; ignores?: string; failsAt?: string; isOther?: boolean; isLocked?: boolean } = {},
) {
  const factory: RawValues = { gearNumerator: 1, positionGain: 300, torqueLimit: 300 };
  const [written, running, stored] = [{ ...factory }, { ...factory }, { ...factory }] as Record<string, number>[];
  const log: string[] = [];
  const snapshots: RawValues[] = [];
  const answer = (command: ReturnType<typeof stepWriteAndVerify>['commands'][number]): WriteAndVerifyEvent => {
    log.push(command.type === 'write' ? `write ${command.key}=${command.raw}` : command.type);
    if (command.type === 'write' && command.key === faults.failsAt) return { type: 'failed', because: 'no answer' };
    switch (command.type) {
      case 'identify':
        if (faults.isLocked) return { type: 'identified', isLocked: true };
        return faults.isOther ? { type: 'failed', because: 'another device', isRefused: true } : { type: 'identified' };
      case 'keep snapshot':
        snapshots.push(structuredClone(written ?? {}));
        return { type: 'snapshot kept' };
      case 'read':
        return { type: 'read', reading: structuredClone({ written, running, stored, factory }) as never };
      case 'unlock':
        faults.isLocked = false;
        return { type: 'unlocked' };
      case 'lock':
        faults.isLocked = true;
        return { type: 'unlocked' };
      case 'write':
        if (faults.isLocked) return { type: 'failed', because: 'locked', isRefused: true };
        if (command.key !== faults.ignores && written && running) {
          written[command.key] = command.raw;
          if (command.key !== 'gearNumerator') running[command.key] = command.raw;
        }
        return { type: 'written', key: command.key };
      case 'store':
        if (!faults.forgetsStore && stored) Object.assign(stored, written);
        return { type: 'stored' };
      case 'restart':
        for (const copy of [written, running]) Object.assign(copy ?? {}, stored);
        return { type: 'restarted' };
    }
  };
  const run = (from: WriteAndVerifyState, first: WriteAndVerifyEvent) => {
    let step = stepWriteAndVerify(from, first);
    while (step.commands[0]) step = stepWriteAndVerify(step.state, answer(step.commands[0]));
    return step.state;
  };
  return {
    log,
    run,
    snapshots,
    faults,
    now: () => ({ ...written }),
    set: (key: string, raw: number) => Object.assign(written ?? {}, { [key]: raw }),
  };
}
const planned = { gearNumerator: 12288, positionGain: 45.5 };
const start = (wanted: Readonly<Record<string, number>> = planned, target: WriteTarget = { kind: 'plan' }) =>
  ({ type: 'start', planned: wanted, survived: {}, target }) as const;

describe('write and verify', () => {
  it('reads first, writes only what differs, stores, restarts and proves', () => {
    const { log, run } = drive();
    const review = run(writeAndVerify(smallProfile), start());
    expect(review.phase).toBe('review');
    expect(log).toEqual(['read']);
    expect(review.comparisons.map((c) => c.standing)).toEqual(['differs', 'differs', 'not planned']);
    const done = run(review, { type: 'confirm', planned });
    expect(done.phase).toBe('proven');
    expect(log).toEqual([
      'read',
      'identify',
      'read',
      'keep snapshot',
      'write gearNumerator=12288',
      'write positionGain=455',
      'read',
      'store',
      'read',
      'restart',
      'read',
    ]);
    const again = run(run(done, start()), { type: 'confirm', planned });
    expect(again.phase).toBe('proven');
    expect(log.slice(11)).toEqual(['read', 'identify', 'read']);
  });

  it.each([
    [{ forgetsStore: true }, 'not stored: gearNumerator, positionGain'],
    [{ ignores: 'positionGain' }, 'the drive did not accept positionGain'],
  ])('finds out a drive that does not do as told: %o', (faults, words) => {
    const { run } = drive(faults);
    const done = run(run(writeAndVerify(smallProfile), start()), {
      type: 'confirm',
      planned,
    });
    expect(done.phase).toBe('failed');
    expect(done.because).toContain(words);
  });

  it('writes nothing when one planned value cannot be written, and stops at a lost link', () => {
    const { log, run } = drive();
    const impossible = { positionGain: 900, torqueLimit: 5 };
    const review = run(writeAndVerify(smallProfile), start(impossible));
    expect(run(review, { type: 'confirm', planned: impossible })).toMatchObject({
      phase: 'failed',
      because: 'positionGain takes 0 to 500 1/s',
    });
    expect(log).toEqual(['read']);
    expect(stepWriteAndVerify(review, { type: 'failed', because: 'the link is lost' }).state.phase).toBe('failed');
    expect(stepWriteAndVerify(review, { type: 'stored' }).state).toBe(review);
  });

  it.each(['gearNumerator', 'positionGain'])(
    'interrupted at %s, tells how things stand, and goes on or back',
    (failsAt) => {
      for (const way of ['on', 'back'] as const) {
        const { run, snapshots, faults, now } = drive({ failsAt });
        const before = now();
        const failed = run(run(writeAndVerify(smallProfile), start()), { type: 'confirm', planned });
        expect(failed).toMatchObject({ phase: 'failed', inDoubt: failsAt, isStored: false });
        expect([...failed.written, ...failed.queue]).toEqual(['gearNumerator', 'positionGain']);
        expect(failed.queue[0]).toBe(failsAt);
        expect(snapshots).toEqual([before]);
        delete faults.failsAt;
        const target: WriteTarget =
          way === 'on' ? failed.target : { kind: 'values', label: 'the snapshot', values: snapshots[0] ?? {} };
        const review = run(failed, start(planned, target));
        const done = run(review, { type: 'confirm', planned });
        expect(done.phase).toBe('proven');
        expect(now()).toEqual(way === 'back' ? before : { ...before, gearNumerator: 12288, positionGain: 455 });
      }
    },
  );

  it('does not call a value in doubt that the drive has refused', () => {
    const { run } = drive({ failsAt: 'positionGain' });
    const review = run(writeAndVerify(smallProfile), start({ torqueLimit: 50 }));
    let step = stepWriteAndVerify(review, { type: 'confirm', planned: { torqueLimit: 50 } });
    for (const event of [{ type: 'identified' }, { type: 'read', reading: review.reading }, { type: 'snapshot kept' }])
      step = stepWriteAndVerify(step.state, event as WriteAndVerifyEvent);
    expect(step.commands).toEqual([{ type: 'write', key: 'torqueLimit', raw: 50 }]);
    step = stepWriteAndVerify(step.state, { type: 'failed', because: 'no', isRefused: true });
    expect(step.state).toMatchObject({ phase: 'failed', inDoubt: undefined, queue: ['torqueLimit'], written: [] });
  });

  it('writes nothing into another device, nor into one that has changed since it was shown', () => {
    const other = drive({ isOther: true });
    const refused = other.run(other.run(writeAndVerify(smallProfile), start()), { type: 'confirm', planned });
    expect(refused).toMatchObject({ phase: 'failed', inDoubt: undefined, written: [] });
    const changed = drive();
    const review = changed.run(writeAndVerify(smallProfile), start());
    changed.set('positionGain', 77);
    const again = changed.run(review, { type: 'confirm', planned });
    expect(again.phase).toBe('review');
    expect(again.log.at(-1)).toContain('has changed since it was read');
    for (const { log } of [other, changed]) expect(log.filter((line) => line.startsWith('write'))).toEqual([]);
    expect(changed.run(again, { type: 'confirm', planned }).phase).toBe('proven');
  });

  it('unlocks a drive that it finds locked, and leaves it locked, however the writing ends', () => {
    const coded = { ...smallProfile, unlockCode: 7 };
    for (const failsAt of [undefined, 'positionGain']) {
      const { run, log, faults } = drive({ isLocked: true, ...(failsAt ? { failsAt } : {}) });
      const done = run(run(writeAndVerify(coded), start()), { type: 'confirm', planned });
      expect(done.phase).toBe(failsAt ? 'failed' : 'proven');
      expect(log.indexOf('unlock')).toBeLessThan(log.findIndex((line) => line.startsWith('write')));
      expect(log.at(-1)).toBe('lock');
      expect(faults.isLocked).toBe(true);
    }
    // Without a code nothing is tried.
    const { run, log } = drive({ isLocked: true });
    const refused = run(run(writeAndVerify(smallProfile), start()), { type: 'confirm', planned });
    expect(refused.because).toContain('locked, and its register map has no unlock code');
    expect(log.filter((line) => /^(write|unlock|lock)/.test(line))).toEqual([]);
  });

  it('says which value the drive has refused, and why', () => {
    const { run } = drive({ failsAt: 'positionGain' });
    const done = run(run(writeAndVerify(smallProfile), start()), { type: 'confirm', planned });
    expect(done.because).toBe('positionGain: no answer');
  });
});
