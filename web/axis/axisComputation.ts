import { readAxis, type AxisDocument, type FieldProblem } from '@kavrid/contract';
import { evaluateAxis, stationsOf, type AxisInput, type AxisValues, type Station } from '@kavrid/core/chain';
import { findingsOf, type Finding } from '@kavrid/core/findings';
import type { Evaluation } from '@kavrid/core/sheet';

/** All that follows from a document. */
export interface AxisComputation {
  readonly input: AxisInput;
  readonly problems: readonly FieldProblem[];
  readonly results: Evaluation<AxisValues>;
  readonly stations: readonly Station[];
  readonly findings: readonly Finding[];
}

let latest: { readonly document: AxisDocument; readonly computation: AxisComputation } | undefined;

/** Works out a document; the same document gives the same answer, the next one recomputes only what an edit touched. */
export function axisComputation(document: AxisDocument): AxisComputation {
  if (latest?.document === document) return latest.computation;
  const { input, problems } = readAxis(document);
  const results = evaluateAxis(input, latest?.computation.results);
  const stations = stationsOf(input, results);
  const computation = { input, problems, results, stations, findings: findingsOf({ input, results, stations }) };
  latest = { document, computation };
  return computation;
}
