import type { MemberDocument, RunRecord } from '@kavrid/contract';
import { useMemo } from 'react';
import type { TraceSources } from '../jobs/answerTrace.ts';
import { useRunQuery } from '../store/api.ts';
import { unpredictedKinds } from './unpredictedKinds.ts';

/** Runs that are laid over each other at most. */
export const mostRuns = 3;

let keys = 0;

export interface ChosenTraces {
  /** undefined while a run is being read */
  readonly sources: TraceSources | undefined;
  readonly runs: readonly RunRecord[];
}

/** The runs chosen, with the settings that each was made with. Without one it is the prediction of what is typed. */
export function useTraces(document: MemberDocument, ids: readonly string[], isPredicted: boolean): ChosenTraces {
  const records = [useOne(ids[0]), useOne(ids[1]), useOne(ids[2])].slice(0, ids.length);
  const [first, second, third] = records;
  const isWhole = records.every((each) => each !== undefined);
  // What is typed counts only where no run is chosen.
  const typed = ids.length > 0 ? undefined : document;
  return useMemo(() => {
    const runs = [first, second, third].flatMap((each) => (each ? [each] : []));
    if (!isWhole) return { sources: undefined, runs };
    const [main] = runs;
    const member = main?.axis ?? typed;
    if (!member) return { sources: undefined, runs };
    return {
      runs,
      sources: {
        key: ++keys,
        member,
        runs: runs.map(({ id, trace, end, kind }) => ({
          id,
          header: trace,
          isWhole: end === 'finished',
          isTestMove: kind === 'test move' || kind === 'run test',
        })),
        isPredicted: main ? isPredicted && !unpredictedKinds.includes(main.kind) : true,
      },
    };
  }, [first, second, third, isWhole, isPredicted, typed]);
}

function useOne(id: string | undefined): RunRecord | undefined {
  const { data } = useRunQuery(id ?? '', { skip: id === undefined });
  return id !== undefined && data?.id === id ? data : undefined;
}
