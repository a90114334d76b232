import type { MemberDocument } from '@kavrid/contract';
import { fetchTrace, type RunToFetch } from './fetchTrace.ts';
import {
  measureTraces,
  ReadChannels,
  viewTraces,
  type MeasuredTrace,
  type MeasureView,
  type TraceSource,
  type TraceView,
  type ViewedTraces,
} from './traceJob.ts';
import { tracePrediction } from './tracePrediction.ts';

/** What is laid over each other: runs on the server, the first of which is predicted where that is wanted. */
export interface TraceSources {
  /** Another one for other sources: requests of one key differ in their view alone. */
  readonly key: number;
  /** As it was when the first was recorded; else as typed. */
  readonly member: MemberDocument;
  readonly runs: readonly (RunToFetch & { readonly isWhole: boolean; readonly isTestMove: boolean })[];
  readonly isPredicted: boolean;
}
export type TraceWork =
  | { readonly kind: 'view'; readonly sources: TraceSources; readonly view: TraceView }
  | { readonly kind: 'measure'; readonly sources: TraceSources; readonly view: MeasureView };
export interface TraceAnswer {
  readonly viewed?: ViewedTraces;
  readonly measured?: readonly MeasuredTrace[];
  /** Why there is no prediction. */
  readonly because: string | undefined;
}

let kept: { readonly key: number; readonly sources: readonly TraceSource[]; readonly because?: string } | undefined;
const read = new ReadChannels();

async function sourcesOf({ key, member, runs, isPredicted }: TraceSources): Promise<NonNullable<typeof kept>> {
  if (kept?.key === key) return kept;
  const fetched: TraceSource[] = [];
  for (const run of runs) fetched.push({ id: run.id, trace: await fetchTrace(run) });
  const [first] = runs;
  const prediction = isPredicted
    ? tracePrediction(member, fetched[0]?.trace, {
        isWhole: first?.isWhole ?? true,
        isTestMove: first?.isTestMove ?? true,
      })
    : undefined;
  const predicted = prediction && 'trace' in prediction ? [prediction] : [];
  const because = prediction && 'because' in prediction ? { because: prediction.because } : {};
  read.keep(runs.map(({ id }) => id));
  kept = { key, sources: [...predicted, ...fetched], ...because };
  return kept;
}

/** Draws or measures what is laid over each other; the sources are kept from one request to the next. */
export async function answerTrace(work: TraceWork): Promise<TraceAnswer> {
  const { sources, because } = await sourcesOf(work.sources);
  return work.kind === 'view'
    ? { viewed: viewTraces(sources, work.view, read), because }
    : { measured: measureTraces(sources, work.sources.member, work.view, read), because };
}
