import type { ServoCoefficients } from './servoDefinition.ts';
import type { ServoState } from './servoState.ts';

const one = new Float64Array(1);

/** One step; see {@link advanceServo}. */
export function stepServo(c: ServoCoefficients, s: ServoState, increments: number): void {
  one[0] = increments;
  advanceServo(c, s, one, 1);
}

/**
 * Steps the drive and its axis: command, control, torque, load, sensors, in this order. Semi-implicit Euler; stick
 * friction is a clamp on the speed. Allocates nothing. The state is held in local variables over the whole stretch, which
 * is what makes it run at the speed of compiled code.
 * @param increments command increments of each step, whole for pulses; a drive's own profile may give fractions.
 * @param count steps to make, at most as many as there are increments
 */
export function advanceServo(c: ServoCoefficients, s: ServoState, increments: Float64Array, count: number): void {
  // The plus signs tell the compiler that these are numbers; without them it keeps every one of them boxed.
  const dt = +c.dt;
  const gearNumerator = +c.gearNumerator;
  const gearDenominator = +c.gearDenominator;
  const radiansPerCount = +c.radiansPerCount;
  const speedPerCount = +c.speedPerCount;
  const countsPerRadian = +c.countsPerRadian;
  const countsPerRevolution = +c.countsPerRevolution;
  const filterShare = +c.filterShare;
  const followingErrorWindow = +c.followingErrorWindow;
  const positionGain = +c.positionGain;
  const velocityFeedforward = +c.velocityFeedforward;
  const speedGain = +c.speedGain;
  const torqueLimit = +c.torqueLimit;
  const integralStep = +c.integralStep;
  const torqueShare = +c.torqueShare;
  const motorStep = +c.motorStep;
  const loadStep = +c.loadStep;
  const loadInertia = +c.loadInertia;
  const stiffness = +c.stiffness;
  const damping = +c.damping;
  const coulombSpeedStep = +c.coulombSpeedStep;
  const viscousFriction = +c.viscousFriction;
  const gravityTorque = +c.gravityTorque;
  const minusLimit = +c.minusLimit;
  const plusLimit = +c.plusLimit;
  const indexOffset = +c.indexOffset;
  const { elastic } = c;
  let enabled = +s.enabled;
  let tripped = +s.tripped;
  let gearRemainder = +s.gearRemainder;
  let demandCounts = +s.demandCounts;
  let demandSpeed = +s.demandSpeed;
  let actualCounts = +s.actualCounts;
  let actualSpeed = +s.actualSpeed;
  let integral = +s.integral;
  let torque = +s.torque;
  let motorAngle = +s.motorAngle;
  let motorSpeed = +s.motorSpeed;
  let loadAngle = +s.loadAngle;
  let loadSpeed = +s.loadSpeed;
  let indexPulses = +s.indexPulses;
  let indexCounts = +s.indexCounts;
  let motorWork = +s.motorWork;
  let heat = +s.heat;
  let turn = Math.floor((actualCounts - indexOffset) / countsPerRevolution);

  for (let k = 0; k < count; k++) {
    // Command: counts = increments · N / D, remainders kept.
    const owed = (increments[k] as number) * gearNumerator + gearRemainder;
    const counts = Math.floor(owed / gearDenominator);
    gearRemainder = owed - counts * gearDenominator;
    demandCounts += counts;
    demandSpeed += filterShare * (counts * speedPerCount - demandSpeed);

    // Control: P position loop with feedforward over a PI speed loop.
    let torqueDemand = 0;
    if (enabled !== 0) {
      const followingError = demandCounts - actualCounts;
      if (Math.abs(followingError) > followingErrorWindow) {
        tripped = 1;
        enabled = 0;
      } else {
        const speedError =
          positionGain * followingError * radiansPerCount + velocityFeedforward * demandSpeed - actualSpeed;
        const wanted = speedGain * speedError + integral;
        torqueDemand = wanted > torqueLimit ? torqueLimit : wanted < -torqueLimit ? -torqueLimit : wanted;
        // Anti-windup: at the limit the integral may only shrink.
        if (wanted === torqueDemand || speedError * wanted < 0) integral += integralStep * speedError;
      }
    } else {
      demandCounts = actualCounts;
      demandSpeed = 0;
      integral = 0;
    }

    // Torque: the current loop as a first-order lag.
    torque += torqueShare * (torqueDemand - torque);

    // Load: motor and load on a spring, or both in one piece.
    const motorBefore = motorSpeed;
    const loadBefore = loadSpeed;
    let coupling = torque;
    if (elastic) {
      coupling = stiffness * (motorAngle - loadAngle) + damping * (motorBefore - loadBefore);
      motorSpeed = motorBefore + motorStep * (torque - coupling);
    }
    const free = loadBefore + loadStep * (coupling - gravityTorque - viscousFriction * loadBefore);
    loadSpeed =
      free > coulombSpeedStep ? free - coulombSpeedStep : free < -coulombSpeedStep ? free + coulombSpeedStep : 0;
    const loadMean = 0.5 * (loadBefore + loadSpeed);
    heat += (loadInertia * (free - loadSpeed) + viscousFriction * loadBefore * dt) * loadMean;
    loadAngle += loadSpeed * dt;
    if (elastic) {
      const motorMean = 0.5 * (motorBefore + motorSpeed);
      motorWork += torque * motorMean * dt;
      heat += damping * (motorBefore - loadBefore) * (motorMean - loadMean) * dt;
      motorAngle += motorSpeed * dt;
    } else {
      motorSpeed = loadSpeed;
      motorWork += torque * loadMean * dt;
      motorAngle = loadAngle;
    }

    // Sensors: encoder, measured speed, index pulse.
    const seen = Math.floor(motorAngle * countsPerRadian);
    actualSpeed += filterShare * ((seen - actualCounts) * speedPerCount - actualSpeed);
    actualCounts = seen;
    const turnNow = Math.floor((seen - indexOffset) / countsPerRevolution);
    if (turnNow !== turn) {
      indexPulses += 1;
      indexCounts = (turnNow > turn ? turnNow : turn) * countsPerRevolution + indexOffset;
      turn = turnNow;
    }
  }

  s.enabled = enabled;
  s.tripped = tripped;
  s.gearRemainder = gearRemainder;
  s.demandCounts = demandCounts;
  s.demandSpeed = demandSpeed;
  s.actualCounts = actualCounts;
  s.actualSpeed = actualSpeed;
  s.integral = integral;
  s.torque = torque;
  s.motorAngle = motorAngle;
  s.motorSpeed = motorSpeed;
  s.loadAngle = loadAngle;
  s.loadSpeed = loadSpeed;
  s.indexPulses = indexPulses;
  s.indexCounts = indexCounts;
  s.motorWork = motorWork;
  s.heat = heat;
  // The limit switches are looked at when the stretch is over.
  const loadCounts = loadAngle * countsPerRadian;
  s.minusLimitOn = loadCounts <= minusLimit ? 1 : 0;
  s.plusLimitOn = loadCounts >= plusLimit ? 1 : 0;
}

/** J stored in motion, in the coupling and in height, against the zero of the load angle. */
export function storedEnergy(c: ServoCoefficients, s: ServoState): number {
  const twist = s.motorAngle - s.loadAngle;
  const kinetic = c.elastic
    ? 0.5 * c.motorInertia * s.motorSpeed ** 2 + 0.5 * c.loadInertia * s.loadSpeed ** 2 + 0.5 * c.stiffness * twist ** 2
    : 0.5 * c.motorInertia * s.motorSpeed ** 2;
  return kinetic + c.gravityTorque * s.loadAngle;
}
