import { memberPlan, type MemberDocument } from '@kavrid/contract';
import type { Store } from '../database/store.ts';
import type { DataService } from '../port/dataService.ts';
import { ProblemError } from '../problem.ts';
import { recordedTrace } from '../runs/recordedTraces.ts';

/** What the port asks, answered from the database. */
export function storeData(store: Store): DataService {
  const { temporarySettings } = store;
  return {
    member: async (id) => {
      const record = await store.axes.read(id);
      if (!record) return undefined;
      const { profileId } = record.document.link;
      const kept = profileId ? await store.registerMaps.read(profileId) : undefined;
      return {
        plan: memberPlan(record, kept),
        temporary: await temporarySettings.of(id),
        steps: await store.evidence.steps(id),
      };
    },
    settingsOf: (identity, address) => temporarySettings.at(identity, address),
    remember: async (memberId, setting) => {
      await temporarySettings.remember(memberId, setting);
      return temporarySettings.at(setting.identity, setting.address);
    },
    forget: async (setting) => {
      await temporarySettings.forget(setting);
      return temporarySettings.at(setting.identity, setting.address);
    },
    proofOf: (memberId, identity) => store.evidence.newest(memberId, 'drive values', identity),
    keepEvidence: (memberId, evidence) => store.evidence.add(memberId, evidence),
    keepSnapshot: (memberId, snapshot, isAutomatic) => store.snapshots.add(memberId, snapshot, isAutomatic),
    keepRun: async ({ memberId, startedAt, version, period, before, choiceBits, identity, ...run }, samples) => {
      const revision = await store.revisions.one(memberId, version);
      if (!revision) throw new ProblemError(404, 'There is no such revision.');
      return store.runs.add(
        { ...run, memberId: memberId, startedAt: new Date(startedAt), axisVersion: version },
        recordedTrace(revision.document as MemberDocument, samples, { period, before, choiceBits, identity }),
      );
    },
  };
}
