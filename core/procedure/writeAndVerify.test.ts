import { describe, expect, it } from 'vitest';
import type { RawValues } from '../drive/index.ts';
import { smallProfile } from '../test/sampleProfile.ts';
import { stepWriteAndVerify, writeAndVerify, type WriteAndVerifyEvent, type WriteAndVerifyState } from './index.ts';

/** A drive of a few lines: what is written waits or works at once, store keeps it, restart brings it into effect. */
function drive(faults: { forgetsStore?: boolean; ignores?: string } = {}) {
  const factory: RawValues = { gearNumerator: 1, positionGain: 300, torqueLimit: 300 };
  const [written, running, stored] = [{ ...factory }, { ...factory }, { ...factory }] as Record<string, number>[];
  const log: string[] = [];
  const answer = (command: ReturnType<typeof stepWriteAndVerify>['commands'][number]): WriteAndVerifyEvent => {
    log.push(command.type === 'write' ? `write ${command.key}=${command.raw}` : command.type);
    switch (command.type) {
      case 'read':
        return { type: 'read', reading: structuredClone({ written, running, stored, factory }) as never };
      case 'write':
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
  return { log, run };
}
const planned = { gearNumerator: 12288, positionGain: 45.5 };

describe('write and verify', () => {
  it('reads first, writes only what differs, stores, restarts and proves', () => {
    const { log, run } = drive();
    const review = run(writeAndVerify(smallProfile), { type: 'start', planned, survived: {} });
    expect(review.phase).toBe('review');
    expect(log).toEqual(['read']);
    expect(review.comparisons.map((c) => c.standing)).toEqual(['differs', 'differs', 'not planned']);
    const done = run(review, { type: 'confirm', planned });
    expect(done.phase).toBe('proven');
    expect(log).toEqual([
      'read',
      'write gearNumerator=12288',
      'write positionGain=455',
      'read',
      'store',
      'read',
      'restart',
      'read',
    ]);
    const again = run(run(done, { type: 'start', planned, survived: {} }), { type: 'confirm', planned });
    expect(again.phase).toBe('proven');
    expect(log.slice(8)).toEqual(['read']);
  });

  it.each([
    [{ forgetsStore: true }, 'not stored: gearNumerator, positionGain'],
    [{ ignores: 'positionGain' }, 'the drive did not accept positionGain'],
  ])('finds out a drive that does not do as told: %o', (faults, words) => {
    const { run } = drive(faults);
    const done = run(run(writeAndVerify(smallProfile), { type: 'start', planned, survived: {} }), {
      type: 'confirm',
      planned,
    });
    expect(done.phase).toBe('failed');
    expect(done.because).toContain(words);
  });

  it('writes nothing when one planned value cannot be written, and stops at a lost link', () => {
    const { log, run } = drive();
    const impossible = { positionGain: 900, torqueLimit: 5 };
    const review = run(writeAndVerify(smallProfile), { type: 'start', planned: impossible, survived: {} });
    expect(run(review, { type: 'confirm', planned: impossible })).toMatchObject({
      phase: 'failed',
      because: 'positionGain takes 0 to 500 1/s',
    });
    expect(log).toEqual(['read']);
    expect(stepWriteAndVerify(review, { type: 'failed', because: 'the link is lost' }).state.phase).toBe('failed');
    expect(stepWriteAndVerify(review, { type: 'stored' }).state).toBe(review);
  });
});
