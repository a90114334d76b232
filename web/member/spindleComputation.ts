import { spindleInputOf, type FieldProblem, type SpindleDocument } from '@kavrid/contract';
import { spindleFindingsOf, type SpindleFinding } from '@kavrid/core/findings';
import type { Evaluation } from '@kavrid/core/sheet';
import { evaluateSpindle, type SpindleInput, type SpindleStationKind, type SpindleValues } from '@kavrid/core/spindle';
import { unreadFindings } from './unreadFindings.ts';

const stationOfPath = (path: string): SpindleStationKind => {
  const [, part] = path.split('/');
  if (part === 'motor' || part === 'drive' || part === 'belt' || part === 'tool') return part;
  return part === 'command' ? 'signal' : 'word';
};

/** All that follows from a spindle's document. */
export interface SpindleComputation {
  readonly input: SpindleInput;
  readonly problems: readonly FieldProblem[];
  readonly results: Evaluation<SpindleValues>;
  readonly findings: readonly SpindleFinding[];
}

let latest: { readonly document: SpindleDocument; readonly computation: SpindleComputation } | undefined;

/** Works out a document; the same document gives the same answer, the next one recomputes only what an edit touched. */
export function spindleComputation(document: SpindleDocument): SpindleComputation {
  if (latest?.document === document) return latest.computation;
  const { input, problems } = spindleInputOf(document);
  const results = evaluateSpindle(input, latest?.computation.results);
  const computation = {
    input,
    problems,
    results,
    findings: [...unreadFindings(document, stationOfPath), ...spindleFindingsOf({ input, results })],
  };
  latest = { document, computation };
  return computation;
}
