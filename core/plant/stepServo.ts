import type { ServoCoefficients } from './servoDefinition.ts';
import type { ServoState } from './servoState.ts';

/**
 * One step of the drive and its axis: command, control, torque, load, sensors.
 * Semi-implicit Euler; stick friction is a clamp on the speed.
 * @param increments command increments in this step, whole for pulses; a drive's own profile may give fractions.
 */
export function stepServo(c: ServoCoefficients, s: ServoState, increments: number): void {
  // Command: counts = increments · N / D, remainders kept.
  const owed = increments * c.gearNumerator + s.gearRemainder;
  const counts = Math.floor(owed / c.gearDenominator);
  s.gearRemainder = owed - counts * c.gearDenominator;
  const demandCounts = s.demandCounts + counts;
  const demandSpeed = s.demandSpeed + c.filterShare * ((counts * c.radiansPerCount) / c.dt - s.demandSpeed);
  s.demandSpeed = demandSpeed;

  // Control: P position loop with feedforward over a PI speed loop.
  const followingError = demandCounts - s.actualCounts;
  let torqueDemand = 0;
  if (s.enabled !== 0) {
    s.demandCounts = demandCounts;
    if (Math.abs(followingError) > c.followingErrorWindow) {
      s.tripped = 1;
      s.enabled = 0;
    } else {
      const speedError =
        c.positionGain * followingError * c.radiansPerCount + c.velocityFeedforward * demandSpeed - s.actualSpeed;
      const wanted = c.speedGain * speedError + s.integral;
      torqueDemand = wanted > c.torqueLimit ? c.torqueLimit : wanted < -c.torqueLimit ? -c.torqueLimit : wanted;
      // Anti-windup: at the limit the integral may only shrink.
      if (wanted === torqueDemand || speedError * wanted < 0) s.integral += c.integralStep * speedError;
    }
  } else {
    s.demandCounts = s.actualCounts;
    s.demandSpeed = 0;
    s.integral = 0;
  }

  // Torque: the current loop as a first-order lag.
  const torque = s.torque + c.torqueShare * (torqueDemand - s.torque);
  s.torque = torque;

  // Load.
  if (c.elastic) stepElastic(c, s, torque);
  else stepRigid(c, s, torque);

  // Sensors.
  const actualCounts = Math.floor(s.motorAngle * c.countsPerRadian);
  const moved = actualCounts - s.actualCounts;
  s.actualSpeed += c.filterShare * ((moved * c.radiansPerCount) / c.dt - s.actualSpeed);
  const turn = Math.floor((actualCounts - c.indexOffset) / c.countsPerRevolution);
  const turnBefore = Math.floor((s.actualCounts - c.indexOffset) / c.countsPerRevolution);
  if (turn !== turnBefore) {
    s.indexPulses += 1;
    s.indexCounts = (turn > turnBefore ? turn : turnBefore) * c.countsPerRevolution + c.indexOffset;
  }
  s.actualCounts = actualCounts;
  const loadCounts = s.loadAngle * c.countsPerRadian;
  s.minusLimitOn = loadCounts <= c.minusLimit ? 1 : 0;
  s.plusLimitOn = loadCounts >= c.plusLimit ? 1 : 0;
}

function stepRigid(c: ServoCoefficients, s: ServoState, torque: number): void {
  const before = s.motorSpeed;
  const free = before + c.motorStep * (torque - c.gravityTorque - c.viscousFriction * before);
  const after =
    free > c.coulombSpeedStep ? free - c.coulombSpeedStep : free < -c.coulombSpeedStep ? free + c.coulombSpeedStep : 0;
  const mean = 0.5 * (before + after);
  s.motorWork += torque * mean * c.dt;
  s.heat += (c.motorInertia * (free - after) + c.viscousFriction * before * c.dt) * mean;
  const angle = s.motorAngle + after * c.dt;
  s.motorSpeed = after;
  s.loadSpeed = after;
  s.motorAngle = angle;
  s.loadAngle = angle;
}

function stepElastic(c: ServoCoefficients, s: ServoState, torque: number): void {
  const slip = s.motorSpeed - s.loadSpeed;
  const coupling = c.stiffness * (s.motorAngle - s.loadAngle) + c.damping * slip;
  const motorBefore = s.motorSpeed;
  const motorAfter = motorBefore + c.motorStep * (torque - coupling);
  const before = s.loadSpeed;
  const free = before + c.loadStep * (coupling - c.gravityTorque - c.viscousFriction * before);
  const after =
    free > c.coulombSpeedStep ? free - c.coulombSpeedStep : free < -c.coulombSpeedStep ? free + c.coulombSpeedStep : 0;
  const motorMean = 0.5 * (motorBefore + motorAfter);
  const mean = 0.5 * (before + after);
  s.motorWork += torque * motorMean * c.dt;
  s.heat +=
    (c.loadInertia * (free - after) + c.viscousFriction * before * c.dt) * mean +
    c.damping * slip * (motorMean - mean) * c.dt;
  s.motorSpeed = motorAfter;
  s.loadSpeed = after;
  s.motorAngle += motorAfter * c.dt;
  s.loadAngle += after * c.dt;
}

/** J stored in motion, in the coupling and in height, against the zero of the load angle. */
export function storedEnergy(c: ServoCoefficients, s: ServoState): number {
  const twist = s.motorAngle - s.loadAngle;
  const kinetic = c.elastic
    ? 0.5 * c.motorInertia * s.motorSpeed ** 2 + 0.5 * c.loadInertia * s.loadSpeed ** 2 + 0.5 * c.stiffness * twist ** 2
    : 0.5 * c.motorInertia * s.motorSpeed ** 2;
  return kinetic + c.gravityTorque * s.loadAngle;
}
