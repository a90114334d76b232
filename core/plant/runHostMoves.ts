import { moveSample, sampleMove } from '../motion/index.ts';
import { emptyRecording, type MovesInput, type MovesResult } from './runMoves.ts';
import { servoCoefficients, type ServoDefinition } from './servoDefinition.ts';
import { servoState } from './servoState.ts';
import { advanceServo } from './stepServo.ts';

/** A position loop in the controller, over a speed command to the drive. Axis units and seconds. */
export interface HostLoop {
  /** s between two corrections; one takes effect when the next is worked out */
  readonly period: number;
  /** 1/s */
  readonly gain: number;
  /** 1/s², and a share of the demanded speed */
  readonly integralGain: number;
  readonly velocityFeedforward: number;
  /** Encoder counts for one that is fed back, 1 or more. */
  readonly divider: number;
  /** −1: the feedback counts against the command. */
  readonly feedbackSign: 1 | -1;
  /** Speed of one step of the signal; 0 for none. */
  readonly speedStep: number;
  /** Speed at the end of the signal. */
  readonly fullSpeed: number;
  /** Speed at zero command. */
  readonly creep: number;
  /** s, of a first-order filter in the drive */
  readonly filterTime: number;
  /** Following error at which the controller gives up; infinite: never. */
  readonly errorLimit: number;
  /** s from there until the command is taken down, and /s² with which it is. */
  readonly reactionTime: number;
  readonly deceleration: number;
}

/**
 * Moves an axis whose position loop is closed in the controller, and records it. The controller sees whole fed-back counts
 * and sends a speed in steps of its signal; between two corrections it stands.
 */
export function runHostMoves(input: Omit<MovesInput, 'stepsPerUnit' | 'pulses'>, host: HostLoop): MovesResult {
  const { moves, unitsPerCount } = input;
  const servo: ServoDefinition = { ...input.servo, commandedBy: 'speed', followingErrorWindow: Infinity };
  const c = servoCoefficients(servo);
  const start = Math.round(input.start / unitsPerCount);
  const state = servoState(start, servo.countsPerRevolution);
  const every = Math.max(1, Math.round(input.recordPeriod * servo.stepRate));
  const correctEvery = Math.max(1, Math.round(host.period * servo.stepRate));
  const size = Math.floor(Math.ceil(input.duration * servo.stepRate) / every) + 1;
  const recording = emptyRecording(every / servo.stepRate, size);
  const sample = moveSample();
  const toPercent = 100 / servo.ratedTorque;
  const toUnitSpeed = unitsPerCount * c.countsPerRadian;
  const filterShare = 1 - Math.exp(-c.dt / Math.max(host.filterTime, 1e-9));
  const speeds = new Float64Array(1);
  const began = Math.floor(start / host.divider);
  let [base, index, next, sent, filtered, demand, error, integral] = [0, 0, 0, 0, 0, 0, 0, 0];
  let trippedAt = Infinity;
  let current = moves[0];
  for (let step = 0, at = 0; at < size; step++) {
    const time = step * c.dt;
    for (let following = moves[index + 1]; current && following && time >= following.at; following = moves[index + 1]) {
      base += current.move.distance;
      index++;
      current = following;
    }
    if (step % correctEvery === 0) {
      const before = demand;
      demand = current ? base + sampleMove(current.move, time - current.at, sample).position : base;
      const counted = (Math.floor(state.actualCounts / host.divider) - began) * host.divider * unitsPerCount;
      error = demand - host.feedbackSign * counted;
      sent = next;
      if (Math.abs(error) > host.errorLimit && trippedAt === Infinity) trippedAt = time;
      const demandSpeed = (demand - before) / (correctEvery * c.dt);
      const step = host.integralGain * error * correctEvery * c.dt;
      const wanted = host.gain * error + integral + step + host.velocityFeedforward * demandSpeed;
      // At the end of the signal the integral may only shrink.
      if (Math.abs(wanted) < host.fullSpeed || wanted * error < 0) integral += step;
      next = trippedAt === Infinity ? inSteps(wanted, host) : next;
    }
    if (time >= trippedAt + host.reactionTime) {
      const less = host.deceleration * c.dt;
      next = sent = sent > less ? sent - less : sent < -less ? sent + less : 0;
    }
    const toRest = trippedAt < Infinity && sent === 0 && time >= trippedAt + host.reactionTime;
    filtered += filterShare * (sent + (toRest ? 0 : host.creep) - filtered);
    speeds[0] = filtered / toUnitSpeed;
    advanceServo(c, state, speeds, 1);
    if (step % every === 0) {
      const position = state.actualCounts * unitsPerCount;
      // A controller that has given up demands what there is.
      const isLive = time < trippedAt + host.reactionTime;
      recording.demandPosition[at] = isLive ? input.start + demand : position;
      recording.actualPosition[at] = position;
      recording.actualSpeed[at] = state.actualSpeed * toUnitSpeed;
      recording.followingError[at] = isLive ? error : 0;
      recording.torque[at] = state.torque * toPercent;
      at++;
    }
  }
  return { recording, tripped: trippedAt < Infinity };
}

/** A speed as the signal can give it. */
function inSteps(speed: number, { speedStep, fullSpeed }: HostLoop): number {
  const stepped = speedStep > 0 ? Math.round(speed / speedStep) * speedStep : speed;
  return Math.max(-fullSpeed, Math.min(fullSpeed, stepped));
}
