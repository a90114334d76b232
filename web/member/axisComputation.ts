import { axisInputOf, type AxisDocument, type FieldProblem } from '@kavrid/contract';
import { evaluateAxis, stationsOf, type AxisInput, type AxisValues, type Station } from '@kavrid/core/chain';
import { findingsOf, type Finding } from '@kavrid/core/findings';
import type { Evaluation } from '@kavrid/core/sheet';
import { unreadFindings } from './unreadFindings.ts';
import type { Preferences } from '../store/preferences.ts';
import { shownUnits } from '../ui/units.ts';

/** The station whose fields a path names. */
const stationOfPath = (path: string): Station['kind'] => {
  const [, part] = path.split('/');
  if (part === 'motor' || part === 'drive') return part;
  if (part === 'controller' || part === 'command' || part === 'signal' || part === 'cable') return 'controller';
  return part === 'stages' ? 'stage' : 'load';
};

/** All that follows from a document. */
export interface AxisComputation {
  readonly input: AxisInput;
  readonly problems: readonly FieldProblem[];
  readonly results: Evaluation<AxisValues>;
  readonly stations: readonly Station[];
  readonly findings: readonly Finding[];
}

let latest:
  | {
      readonly document: AxisDocument;
      readonly lengths: Preferences['lengths'];
      readonly computation: AxisComputation;
    }
  | undefined;

/** Works out a document; the same document gives the same answer, the next one recomputes only what an edit touched. */
export function axisComputation(document: AxisDocument, lengths: Preferences['lengths']): AxisComputation {
  if (latest?.document === document && latest.lengths === lengths) return latest.computation;
  const { input, problems } = axisInputOf(document);
  const results = evaluateAxis(input, latest?.computation.results);
  const stations = stationsOf(input, results);
  const { quantity } = shownUnits(input, lengths);
  const findings = [...unreadFindings(document, stationOfPath), ...findingsOf({ input, results, stations, quantity })];
  const computation = { input, problems, results, stations, findings };
  latest = { document, lengths, computation };
  return computation;
}
