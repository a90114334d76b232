import { memberPlan, memberSchema, type MemberDocument } from '@kavrid/contract';
import { newSession, reduceSession, sessionTiming } from '@kavrid/core/procedure';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { memberKinds } from '../../contract/test/memberKinds.ts';
import { mutated } from '../../contract/test/mutated.ts';
import { isProof, proofSeed } from '@kavrid/bench/test/proof.ts';
import { profiles } from '../test/simulatedDrive.ts';
import { shownGuide } from './shownGuide.ts';

/** The guided steps of a saved document, without a link. */
function guideOf(document: MemberDocument) {
  const record = { id: 'a', machineId: 'm', version: 1, updatedAt: '', document };
  const plan = memberPlan(record, { mark: 'map', profile: profiles[document.kind] });
  const { state } = reduceSession(
    newSession(sessionTiming),
    { type: 'saved', plan, temporary: [] },
    { now: 0, wall: 0 },
  );
  return shownGuide('a', state, 'w');
}

describe('guided steps as they are shown', () => {
  it('each has its words, and no number that nobody knows', { timeout: isProof ? 900_000 : 30_000 }, () => {
    fc.assert(
      fc.property(mutated(memberKinds), (changed) => {
        const read = memberSchema.safeParse(changed);
        if (!read.success) return;
        const guide = guideOf(read.data);
        expect(guide.because === undefined).toBe(guide.steps.length > 0);
        const wrong = /.{0,60}(NaN|Infinity|undefined|null).{0,20}/.exec(JSON.stringify(guide));
        expect(wrong?.[0]).toBeUndefined();
      }),
      { numRuns: isProof ? 20_000 : 400, seed: proofSeed },
    );
  });
});
