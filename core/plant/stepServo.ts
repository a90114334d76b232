import { servoCoefficients, type ServoCoefficients } from './servoDefinition.ts';
import { servoState, type ServoState } from './servoState.ts';

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
 * @param increments command increments of each step, whole for pulses; a drive's own profile may give fractions; speeds in
 * rad/s where the drive is commanded by speed.
 * @param count steps to make, at most as many as there are increments
 */
export function advanceServo(c: ServoCoefficients, s: ServoState, increments: Float64Array, count: number): void {
  // The plus signs tell the compiler that these are numbers; without them it keeps every one of them boxed.
  const dt = +c.dt;
  const gearNumerator = +c.gearNumerator;
  const gearDenominator = +c.gearDenominator;
  const speedPerCount = +c.speedPerCount;
  const countsPerRadian = +c.countsPerRadian;
  const countsPerRevolution = +c.countsPerRevolution;
  const filterShare = +c.filterShare;
  const followingErrorWindow = +c.followingErrorWindow;
  const speedGainPerCount = +c.speedGainPerCount;
  const velocityFeedforward = +c.velocityFeedforward;
  const speedGain = +c.speedGain;
  const torqueLimit = +c.torqueLimit;
  const integralStep = +c.integralStep;
  const torqueShare = +c.torqueShare;
  const motorStep = +c.motorStep;
  const loadInertia = +c.loadInertia;
  const stiffness = +c.stiffness;
  const damping = +c.damping;
  const viscousFriction = +c.viscousFriction;
  const gravityTorque = +c.gravityTorque;
  const minusLimit = +c.minusLimit;
  const plusLimit = +c.plusLimit;
  const indexOffset = +c.indexOffset;
  const { elastic, speedCommanded, towardsPlus, towardsMinus } = c;
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
  let turnStart = Math.floor((actualCounts - indexOffset) / countsPerRevolution) * countsPerRevolution + indexOffset;
  let turnEnd = turnStart + countsPerRevolution;

  for (let k = 0; k < count; k++) {
    if (speedCommanded) {
      demandCounts = actualCounts;
      demandSpeed = increments[k] as number;
    } else {
      // Command: counts = increments · N / D, remainders kept.
      const owed = (increments[k] as number) * gearNumerator + gearRemainder;
      const counts = Math.floor(owed / gearDenominator);
      gearRemainder = owed - counts * gearDenominator;
      demandCounts += counts;
      demandSpeed += filterShare * (counts * speedPerCount - demandSpeed);
    }

    // Control: P position loop with feedforward over a PI speed loop.
    let torqueDemand = 0;
    if (enabled !== 0) {
      const followingError = demandCounts - actualCounts;
      if (Math.abs(followingError) > followingErrorWindow) {
        tripped = 1;
        enabled = 0;
      } else {
        const speedError = speedGainPerCount * followingError + velocityFeedforward * demandSpeed - actualSpeed;
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

    // Load: what drives it through its stages, over the spring or directly.
    const before = loadSpeed;
    const slip = motorSpeed - before;
    const coupling = elastic ? stiffness * (motorAngle - loadAngle) + damping * slip : torque;
    const net = coupling - viscousFriction * before;
    let stretches = before < 0 ? towardsMinus : towardsPlus;
    let at = 0;
    while (net > (stretches[at] as number)) at += 3;
    let gain = (net - (stretches[at + 1] as number)) * (stretches[at + 2] as number);
    let after = before + gain;
    if (before === 0 ? after <= 0 : before > 0 ? after < 0 : after > 0) {
      // At rest, or come to rest within the step: what is left of it counts in the other sense, if the torque moves the load there.
      const left = before === 0 ? 1 : after / gain;
      stretches = before < 0 ? towardsPlus : towardsMinus;
      at = 0;
      while (net > (stretches[at] as number)) at += 3;
      gain = left * (net - (stretches[at + 1] as number)) * (stretches[at + 2] as number);
      after = before < 0 ? (gain > 0 ? gain : 0) : gain < 0 ? gain : 0;
    }
    const mean = 0.5 * (before + after);
    heat += ((coupling - gravityTorque) * dt - loadInertia * (after - before)) * mean;
    loadSpeed = after;
    loadAngle += after * dt;
    if (elastic) {
      const motorAfter = motorSpeed + motorStep * (torque - coupling);
      const motorMean = 0.5 * (motorSpeed + motorAfter);
      heat += damping * slip * (motorMean - mean) * dt;
      motorWork += torque * motorMean * dt;
      motorSpeed = motorAfter;
      motorAngle += motorAfter * dt;
    } else {
      motorWork += torque * mean * dt;
      motorSpeed = after;
      motorAngle = loadAngle;
    }

    // Sensors: encoder, measured speed, index pulse.
    const seen = Math.floor(motorAngle * countsPerRadian);
    actualSpeed += filterShare * ((seen - actualCounts) * speedPerCount - actualSpeed);
    actualCounts = seen;
    if (seen < turnStart || seen >= turnEnd) {
      const start = Math.floor((seen - indexOffset) / countsPerRevolution) * countsPerRevolution + indexOffset;
      indexPulses += 1;
      indexCounts = start > turnStart ? start : turnStart;
      turnStart = start;
      turnEnd = start + countsPerRevolution;
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

/**
 * One stretch far from zero, made when the module loads. The compiler judges by what it has seen first: counts near zero
 * would be kept as small integers and converted back and forth in every step, which costs a sixth of the speed.
 */
function showLargeNumbers(): void {
  const definition = {
    stepRate: 8000,
    countsPerRevolution: 1000,
    gearNumerator: 1,
    gearDenominator: 1,
    rotorInertia: 1,
    loadInertia: 1,
    stiffness: 1,
    damping: 1,
    coulombFriction: 1,
    viscousFriction: 1,
    gravityTorque: 1,
    ratedTorque: 1,
    peakTorque: 1,
    torqueLimit: 1,
    torqueTimeConstant: 1,
    positionGain: 1,
    speedBandwidth: 1,
    speedIntegralTime: 1,
    assumedInertiaRatio: 1,
    velocityFeedforward: 1,
    velocityFilterTime: 1,
    followingErrorWindow: 1e15,
    minusLimit: 0,
    plusLimit: 0,
    indexOffset: 0.5,
  };
  advanceServo(servoCoefficients(definition), servoState(2 ** 40, 1000), new Float64Array(64).fill(2 ** 32 + 0.5), 64);
}
showLargeNumbers();

/** J stored in motion, in the coupling and in height, against the zero of the load angle. */
export function storedEnergy(c: ServoCoefficients, s: ServoState): number {
  const twist = s.motorAngle - s.loadAngle;
  const kinetic = c.elastic
    ? 0.5 * c.motorInertia * s.motorSpeed ** 2 + 0.5 * c.loadInertia * s.loadSpeed ** 2 + 0.5 * c.stiffness * twist ** 2
    : 0.5 * c.motorInertia * s.motorSpeed ** 2;
  return kinetic + c.gravityTorque * s.loadAngle;
}
