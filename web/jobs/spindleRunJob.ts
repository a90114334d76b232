import { readSpindle, type SpindleDocument } from '@kavrid/contract';
import {
  runSpindle,
  runTestEvents,
  spindleDefinition,
  type SpindleLedger,
  type SpindleRecording,
  type SpindleRun,
} from '@kavrid/core/plant';
import { toNumber } from '@kavrid/core/quantity';
import { all, valueOf } from '@kavrid/core/sheet';
import { evaluateSpindle } from '@kavrid/core/spindle';

export interface SpindleRunInput {
  readonly spindle: SpindleDocument;
}

export type SpindleRunResult =
  | {
      readonly kind: 'run';
      readonly recording: SpindleRecording;
      readonly trip: SpindleRun['trip'];
      readonly held: SpindleRun['held'];
      readonly ledger: Readonly<SpindleLedger>;
      /** Motor turns for one of the tool */
      readonly ratio: number;
      /** rpm of the field for one Hz */
      readonly speedPerHertz: number;
      readonly tripVolts: number;
      readonly holdCurrent: number;
    }
  | { readonly kind: 'unknown'; readonly because: string };

/** The run test as it would go. */
export function runSpindleTest({ spindle }: SpindleRunInput): SpindleRunResult {
  const { input } = readSpindle(spindle);
  const results = evaluateSpindle(input);
  const definition = spindleDefinition(input, results);
  const test = runTestEvents(input, results);
  const given = all<[unknown, unknown]>(definition, test);
  if (definition.state === 'unknown' || test.state === 'unknown')
    return { kind: 'unknown', because: given.state === 'unknown' ? given.because : '' };
  const { recording, trip, held, ledger } = runSpindle(definition.value, test.value.events, test.value.duration, 0.02);
  const ratio = valueOf(results.beltRatio);
  return {
    kind: 'run',
    recording,
    trip,
    held,
    ledger,
    ratio: ratio ? toNumber(ratio) : 1,
    speedPerHertz: 120 / definition.value.poles,
    tripVolts: definition.value.tripVolts,
    holdCurrent: definition.value.holdCurrent,
  };
}
