import { moveSample, sampleMove, type MoveProfile } from '../motion/index.ts';
import { servoCoefficients, type ServoDefinition } from './servoDefinition.ts';
import { servoState } from './servoState.ts';
import { advanceServo } from './stepServo.ts';

/** Channels over time at one period; positions in axis units, speeds in axis units/s, torque in % of rated. */
export interface Recording {
  /** s between samples; sample 0 is at time 0. */
  readonly period: number;
  readonly demandPosition: Float64Array;
  readonly actualPosition: Float64Array;
  readonly actualSpeed: Float64Array;
  readonly followingError: Float64Array;
  readonly torque: Float64Array;
}

export interface TimedMove {
  readonly at: number;
  readonly move: MoveProfile;
}

/** A move there and back, again and again, with a dwell after each. */
export function thereAndBack(
  there: MoveProfile,
  back: MoveProfile,
  dwell: number,
  repeats: number,
): readonly TimedMove[] {
  const period = there.duration + back.duration + 2 * dwell;
  return Array.from({ length: 2 * repeats }, (_, k) => ({
    at: Math.floor(k / 2) * period + (k % 2 === 0 ? 0 : there.duration + dwell),
    move: k % 2 === 0 ? there : back,
  }));
}

export interface MovesInput {
  readonly servo: ServoDefinition;
  /** In order of their starts, in s; each begins where the one before it ended. */
  readonly moves: readonly TimedMove[];
  /** s to simulate */
  readonly duration: number;
  /** Position at time 0. */
  readonly start: number;
  /** Command increments per axis unit, and axis units per encoder count. */
  readonly stepsPerUnit: number;
  readonly unitsPerCount: number;
  /** Whole pulses come from outside; otherwise the drive makes the profile itself. */
  readonly pulses: boolean;
  /** s, at least one step */
  readonly recordPeriod: number;
}

export interface MovesResult {
  readonly recording: Recording;
  readonly tripped: boolean;
}

export const emptyRecording = (period: number, size: number): Recording => ({
  period,
  demandPosition: new Float64Array(size),
  actualPosition: new Float64Array(size),
  actualSpeed: new Float64Array(size),
  followingError: new Float64Array(size),
  torque: new Float64Array(size),
});

/** Moves an axis and records it. 10 s take about 10 ms; call it from a worker. */
export function runMoves(input: MovesInput): MovesResult {
  const { servo, moves, stepsPerUnit, unitsPerCount } = input;
  const c = servoCoefficients(servo);
  const state = servoState(Math.round(input.start / unitsPerCount), servo.countsPerRevolution);
  const every = Math.max(1, Math.round(input.recordPeriod * servo.stepRate));
  const steps = Math.ceil(input.duration * servo.stepRate);
  const size = Math.floor(steps / every) + 1;
  const recording = emptyRecording(every / servo.stepRate, size);
  const sample = moveSample();
  const toPercent = 100 / servo.ratedTorque;
  const toUnitSpeed = unitsPerCount * c.countsPerRadian;
  const increments = new Float64Array(every);
  let [sent, base, index] = [0, 0, 0];
  let current = moves[0];
  for (let at = 0; at < size; at++) {
    // One stretch from sample to sample; the first sample follows the first step.
    const count = at === 0 ? 1 : every;
    for (let k = 0; k < count; k++) {
      const time = (at === 0 ? 0 : (at - 1) * every + 1 + k) * c.dt;
      for (let next = moves[index + 1]; current && next && time >= next.at; next = moves[index + 1]) {
        base += current.move.distance;
        index++;
        current = next;
      }
      const position = current ? base + sampleMove(current.move, time - current.at, sample).position : base;
      const target = input.pulses ? Math.round(position * stepsPerUnit) : position * stepsPerUnit;
      increments[k] = target - sent;
      sent = target;
    }
    advanceServo(c, state, increments, count);
    recording.demandPosition[at] = state.demandCounts * unitsPerCount;
    recording.actualPosition[at] = state.actualCounts * unitsPerCount;
    recording.actualSpeed[at] = state.actualSpeed * toUnitSpeed;
    recording.followingError[at] = (state.demandCounts - state.actualCounts) * unitsPerCount;
    recording.torque[at] = state.torque * toPercent;
  }
  return { recording, tripped: state.tripped !== 0 };
}
