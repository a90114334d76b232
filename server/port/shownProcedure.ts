import type { DriveData } from '@kavrid/contract';
import type { SessionState } from '@kavrid/core/procedure';

/** What windows are told of a procedure: how far it is, and what it has written and would write. */
export function shownProcedure(procedure: SessionState['procedure']): DriveData['procedure'] {
  if (!procedure) return { phase: 'idle', log: [], target: 'plan', toWrite: [], written: [], isStored: false };
  const { phase, log, because, target, queue, comparisons, written, inDoubt, isStored } = procedure;
  return {
    phase,
    log,
    target: target.kind === 'plan' ? 'plan' : { label: target.label },
    toWrite: queue.flatMap((key) => {
      const { planned, written: from } = comparisons.find(({ parameter }) => parameter.key === key) ?? {};
      return planned === undefined ? [] : [{ key, from, to: planned }];
    }),
    written,
    isStored,
    ...(inDoubt === undefined ? {} : { inDoubt }),
    ...(because === undefined ? {} : { because }),
  };
}
