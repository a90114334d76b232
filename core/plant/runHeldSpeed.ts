import { waitingSetPoint, type SetPointWait } from '../motion/index.ts';
import { servoCoefficients, type ServoDefinition } from './servoDefinition.ts';
import { servoState } from './servoState.ts';
import { advanceServo } from './stepServo.ts';

/** A speed along a ramp; something holds the shaft for a while. Axis units and s. */
export interface HeldSpeedInput {
  readonly servo: ServoDefinition;
  readonly unitsPerCount: number;
  readonly speed: number;
  readonly acceleration: number;
  /** When the shaft is held, and for how long; 0: it is not. */
  readonly heldFrom: number;
  readonly heldFor: number;
  readonly duration: number;
  readonly wait: SetPointWait;
  readonly recordPeriod: number;
}

export interface HeldSpeedResult {
  readonly period: number;
  readonly setPoint: Float64Array;
  readonly actualSpeed: Float64Array;
  readonly followingError: Float64Array;
  /** % of rated torque */
  readonly torque: Float64Array;
  /** s at which the following-error window ended it; undefined: it did not */
  readonly trippedAt: number | undefined;
  /** Highest speed after the release. */
  readonly peakSpeed: number;
  readonly peakError: number;
  /** s from the release until the speed stays within 2 % of the one wanted; undefined: it does not */
  readonly backAfter: number | undefined;
}

/** Share of the speed within which it is back. */
const backShare = 0.02;

/** Runs at a speed that the drive makes itself, with a set-point that waits or does not. 5 s take about 5 ms. */
export function runHeldSpeed(input: HeldSpeedInput): HeldSpeedResult {
  const { speed, acceleration, heldFrom, heldFor, unitsPerCount, wait } = input;
  const servo = { ...input.servo, commandedBy: 'position', gearNumerator: 1, gearDenominator: 1 } as const;
  const free = servoCoefficients(servo);
  // A hand on the shaft that no torque of this motor moves.
  const held = servoCoefficients({ ...servo, coulombFriction: 100 * servo.peakTorque + servo.coulombFriction });
  const state = servoState(0, servo.countsPerRevolution);
  const every = Math.max(1, Math.round(input.recordPeriod * servo.stepRate));
  const size = Math.floor((input.duration * servo.stepRate) / every) + 1;
  const channel = () => new Float64Array(size);
  const [setPoints, actualSpeed, followingError, torque] = [channel(), channel(), channel(), channel()];
  const toUnitSpeed = unitsPerCount * free.countsPerRadian;
  const increments = new Float64Array(1);
  const released = heldFrom + heldFor;
  let [setPoint, trippedAt, peakSpeed, peakError, lastOff] = [0, Infinity, 0, 0, Infinity];
  for (let at = 0, step = 0; at < size; step++) {
    const time = step * free.dt;
    const missing = speed - setPoint;
    const ramp = acceleration * free.dt;
    setPoint = Math.abs(missing) <= ramp ? speed : setPoint + Math.sign(missing) * ramp;
    const lead = (state.demandCounts - state.actualCounts) * unitsPerCount;
    const now = state.actualSpeed * toUnitSpeed;
    setPoint = state.enabled === 0 ? 0 : waitingSetPoint(setPoint, wait, now, lead);
    increments[0] = (setPoint * free.dt) / unitsPerCount;
    advanceServo(time >= heldFrom && time < released ? held : free, state, increments, 1);
    if (state.tripped !== 0 && trippedAt === Infinity) trippedAt = time;
    const actual = state.actualSpeed * toUnitSpeed;
    peakError = Math.max(peakError, Math.abs(lead));
    if (time >= released) {
      peakSpeed = Math.max(peakSpeed, Math.abs(actual));
      if (Math.abs(actual - speed) > backShare * Math.abs(speed)) lastOff = time + free.dt;
    }
    if (step % every !== 0) continue;
    setPoints[at] = setPoint;
    actualSpeed[at] = actual;
    followingError[at] = (state.demandCounts - state.actualCounts) * unitsPerCount;
    torque[at] = (100 * state.torque) / servo.ratedTorque;
    at++;
  }
  const end = (size - 1) * every * free.dt;
  const isBack = trippedAt === Infinity && lastOff < end - 0.05;
  return {
    ...{ period: every * free.dt, setPoint: setPoints, actualSpeed, followingError, torque },
    trippedAt: trippedAt === Infinity ? undefined : trippedAt,
    peakSpeed,
    peakError,
    backAfter: isBack ? Math.max(0, lastOff - released) : undefined,
  };
}
