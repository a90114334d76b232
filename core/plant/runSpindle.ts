import { spindleCoefficients, type SpindleDefinition } from './spindleDefinition.ts';
import { spindleAtRest, type SpindleLedger, type SpindleTrip } from './spindleState.ts';
import { stepSpindle } from './stepSpindle.ts';

/** What happens during a run test. */
export type SpindleEvent =
  | { readonly at: number; readonly kind: 'speed'; readonly hertz: number }
  | { readonly at: number; readonly kind: 'load'; readonly torque: number }
  | { readonly at: number; readonly kind: 'supply'; readonly isOn: boolean }
  /** The output is switched off and the spindle left to itself. */
  | { readonly at: number; readonly kind: 'coast' };

export interface SpindleRecording {
  /** s */
  readonly period: number;
  readonly hertz: Float64Array;
  /** rpm of the motor */
  readonly speed: Float64Array;
  readonly current: Float64Array;
  readonly torque: Float64Array;
  readonly busVolts: Float64Array;
}

export interface SpindleRun {
  readonly recording: SpindleRecording;
  readonly trip: { readonly kind: SpindleTrip; readonly at: number } | undefined;
  /** s that the drive held its ramp because of its current */
  readonly held: number;
  readonly ledger: Readonly<SpindleLedger>;
}

/**
 * Runs a spindle through its events, in order of their times.
 * @throws RangeError for a value outside its range
 */
export function runSpindle(
  definition: SpindleDefinition,
  events: readonly SpindleEvent[],
  duration: number,
  recordPeriod = 0.01,
): SpindleRun {
  const coefficients = spindleCoefficients(definition);
  const { highestHertz } = definition.curve;
  const { dt } = coefficients;
  const every = Math.max(1, Math.round(recordPeriod * definition.stepRate));
  const size = Math.floor(Math.ceil(duration * definition.stepRate) / every) + 1;
  const recording: SpindleRecording = {
    period: every * dt,
    hertz: new Float64Array(size),
    speed: new Float64Array(size),
    current: new Float64Array(size),
    torque: new Float64Array(size),
    busVolts: new Float64Array(size),
  };
  const state = spindleAtRest(definition);
  let next = 0;
  let trip: SpindleRun['trip'];
  for (let step = 0, at = 0; at < size; step++) {
    const time = step * dt;
    for (let event = events[next]; event && time >= event.at; event = events[++next]) {
      switch (event.kind) {
        case 'speed':
          state.target = Math.min(event.hertz, highestHertz);
          break;
        case 'load':
          state.load = event.torque;
          break;
        case 'supply':
          state.isSupplied = event.isOn;
          break;
        case 'coast':
          state.isCoasting = true;
          break;
      }
    }
    stepSpindle(coefficients, state);
    if (state.trip !== undefined && trip === undefined) trip = { kind: state.trip, at: time };
    if (step % every === 0) {
      recording.hertz[at] = trip ? 0 : state.hertz;
      recording.speed[at] = (state.speed * 30) / Math.PI;
      recording.current[at] = state.current;
      recording.torque[at] = state.torque;
      recording.busVolts[at] = state.bus;
      at++;
    }
  }
  return { recording, trip, held: state.held, ledger: state.ledger };
}
