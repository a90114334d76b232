import {
  channelValues,
  sinceTrigger,
  spindleInputOf,
  spindleSpeeds,
  type SpindleChannel,
  type SpindleDocument,
  type Trace,
} from '@kavrid/contract';
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
import { evaluateSpindle, type SteadySpeed } from '@kavrid/core/spindle';
import type { RunToFetch } from './fetchTrace.ts';
import { thinTrace } from './thinTrace.ts';

export interface SpindleRunInput {
  readonly spindle: SpindleDocument;
  readonly measured?: Trace | undefined;
}
/** The same with the trace still on the server. */
export interface SpindleRunRequest {
  readonly spindle: SpindleDocument;
  readonly run: RunToFetch | undefined;
}

/** A channel of a measured run: thinned for drawing, and its highest value. */
export interface MeasuredChannel {
  /** Time and value of each point, one after the other. */
  readonly curve: Float64Array;
  readonly highest: number;
}
export type MeasuredRun = Readonly<Record<SpindleChannel, MeasuredChannel>>;

/** Points drawn of a channel. */
export const drawnPoints = 600;

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
      readonly measured: MeasuredRun | undefined;
      /** Of what was measured. */
      readonly steady: readonly SteadySpeed[];
    }
  | { readonly kind: 'unknown'; readonly because: string };

/** The run test as it would go. */
export function runSpindleTest({ spindle, measured }: SpindleRunInput): SpindleRunResult {
  const { input } = spindleInputOf(spindle);
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
    measured: measured && measuredRun(measured),
    steady: (measured && spindleSpeeds(spindle, measured)) ?? [],
  };
}

function measuredRun(trace: Trace): MeasuredRun {
  const channel = (id: SpindleChannel): MeasuredChannel => {
    const values = sinceTrigger(trace.header, channelValues(trace, id) ?? new Float64Array());
    const highest = values.reduce((most, each) => (each > most ? each : most), 0);
    return { curve: thinTrace(values, trace.header.period, drawnPoints), highest };
  };
  return {
    hertz: channel('hertz'),
    speed: channel('speed'),
    current: channel('current'),
    torque: channel('torque'),
    busVolts: channel('busVolts'),
  };
}
