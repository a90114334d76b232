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
 * rad/s where the drive is commanded by speed, N·m where by torque.
 * @param count steps to make, at most as many as there are increments
 */
export function advanceServo(c: ServoCoefficients, s: ServoState, increments: Float64Array, count: number): void {
  for (let from = 0; from < count; from += stretch) advance(c, s, increments, from, Math.min(count, from + stretch));
}

/**
 * Steps held in local variables at a time. A function that is entered often runs the code compiled for its entry; one that
 * loops for long runs what is compiled in the middle of its loop, with every number boxed.
 */
const stretch = 256;

function advance(c: ServoCoefficients, s: ServoState, increments: Float64Array, from: number, to: number): void {
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
  const accelerationGain = +c.accelerationGain;
  const accelerationShare = +c.accelerationShare;
  const torqueFilterShare = +c.torqueFilterShare;
  const b0 = +c.notch.b0;
  const b1 = +c.notch.b1;
  const b2 = +c.notch.b2;
  const a1 = +c.notch.a1;
  const a2 = +c.notch.a2;
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
  const torqueSense = +c.torqueSense;
  const encoderSense = +c.encoderSense;
  const { elastic, speedCommanded, torqueCommanded, torqueFiltered, towardsPlus, towardsMinus } = c;
  let enabled = +s.enabled;
  let tripped = +s.tripped;
  let gearRemainder = +s.gearRemainder;
  let demandCounts = +s.demandCounts;
  let demandSpeed = +s.demandSpeed;
  let demandAcceleration = +s.demandAcceleration;
  let actualCounts = +s.actualCounts;
  let actualSpeed = +s.actualSpeed;
  let integral = +s.integral;
  let notchFirst = +s.notchFirst;
  let notchSecond = +s.notchSecond;
  let filteredTorque = +s.filteredTorque;
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
  // The stretch of acceleration that was in force last: it mostly is again.
  let isMinus = false;
  let lower = Infinity;
  let upper = -Infinity;
  let offset = 0.5;
  let gain = 0.5;

  for (let k = from; k < to; k++) {
    if (speedCommanded) {
      demandCounts = actualCounts;
      demandSpeed = increments[k] as number;
    } else if (torqueCommanded) {
      demandCounts = actualCounts;
      demandSpeed = actualSpeed;
    } else {
      // Command: counts = increments · N / D, remainders kept.
      const owed = (increments[k] as number) * gearNumerator + gearRemainder;
      const counts = Math.floor(owed / gearDenominator);
      gearRemainder = owed - counts * gearDenominator;
      demandCounts += counts;
      const speedChange = filterShare * (counts * speedPerCount - demandSpeed);
      demandSpeed += speedChange;
      if (accelerationGain !== 0) demandAcceleration += accelerationShare * (speedChange / dt - demandAcceleration);
    }

    // Control: P position loop with feedforwards over a PI speed loop.
    let torqueDemand = 0;
    if (enabled !== 0 && torqueCommanded) {
      const wanted = increments[k] as number;
      torqueDemand = wanted > torqueLimit ? torqueLimit : wanted < -torqueLimit ? -torqueLimit : wanted;
      integral = 0;
    } else if (enabled !== 0) {
      const followingError = demandCounts - actualCounts;
      if (Math.abs(followingError) > followingErrorWindow) {
        tripped = 1;
        enabled = 0;
      } else {
        const speedError = speedGainPerCount * followingError + velocityFeedforward * demandSpeed - actualSpeed;
        let wanted = speedGain * speedError + integral + accelerationGain * demandAcceleration;
        if (torqueFiltered) {
          const notched = b0 * wanted + notchFirst;
          notchFirst = b1 * wanted - a1 * notched + notchSecond;
          notchSecond = b2 * wanted - a2 * notched;
          filteredTorque += torqueFilterShare * (notched - filteredTorque);
          wanted = filteredTorque;
        }
        torqueDemand = wanted > torqueLimit ? torqueLimit : wanted < -torqueLimit ? -torqueLimit : wanted;
        // Anti-windup: at the limit the integral may only shrink.
        if (wanted === torqueDemand || speedError * wanted < 0) integral += integralStep * speedError;
      }
    } else {
      demandCounts = actualCounts;
      demandSpeed = 0;
      demandAcceleration = 0;
      integral = 0;
      notchFirst = 0;
      notchSecond = 0;
      filteredTorque = 0;
    }

    // Torque: the current loop as a first-order lag. Exchanged phases turn it round at the shaft.
    torque += torqueShare * (torqueDemand - torque);
    const atShaft = torqueSense * torque;

    // Load: what drives it through its stages, over the spring or directly.
    const before = loadSpeed;
    const twistRate = motorSpeed - before;
    const coupling = elastic ? stiffness * (motorAngle - loadAngle) + damping * twistRate : atShaft;
    const net = coupling - viscousFriction * before;
    if (before < 0 !== isMinus || net > upper || net <= lower) {
      isMinus = before < 0;
      const stretches = isMinus ? towardsMinus : towardsPlus;
      let at = 0;
      while (net > (stretches[at] as number)) at += 3;
      lower = at === 0 ? -Infinity : (stretches[at - 3] as number);
      upper = stretches[at] as number;
      offset = stretches[at + 1] as number;
      gain = stretches[at + 2] as number;
    }
    const change = (net - offset) * gain;
    let after = before + change;
    if (before === 0 ? after <= 0 : before > 0 ? after < 0 : after > 0) {
      // At rest, or come to rest within the step: what is left of it counts in the other sense, if the torque moves the load there.
      const left = before === 0 ? 1 : after / change;
      const turned = left * changeBy(net, before < 0 ? towardsPlus : towardsMinus);
      after = before < 0 === turned > 0 ? turned : 0;
    }
    const mean = 0.5 * (before + after);
    heat += ((coupling - gravityTorque) * dt - loadInertia * (after - before)) * mean;
    loadSpeed = after;
    loadAngle += after * dt;
    if (elastic) {
      const motorAfter = motorSpeed + motorStep * (atShaft - coupling);
      const motorMean = 0.5 * (motorSpeed + motorAfter);
      heat += damping * twistRate * (motorMean - mean) * dt;
      motorWork += atShaft * motorMean * dt;
      motorSpeed = motorAfter;
      motorAngle += motorAfter * dt;
    } else {
      motorWork += atShaft * mean * dt;
      motorSpeed = after;
      motorAngle = loadAngle;
    }

    // Sensors: encoder, measured speed, index pulse.
    const seen = Math.floor(encoderSense * motorAngle * countsPerRadian);
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
  s.demandAcceleration = demandAcceleration;
  s.actualCounts = actualCounts;
  s.actualSpeed = actualSpeed;
  s.integral = integral;
  s.notchFirst = notchFirst;
  s.notchSecond = notchSecond;
  s.filteredTorque = filteredTorque;
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

/** What a torque adds to the speed in one step while the load moves in the sense of the stretches. */
function changeBy(torque: number, stretches: Float64Array): number {
  let at = 0;
  while (torque > (stretches[at] as number)) at += 3;
  return (torque - (stretches[at + 1] as number)) * (stretches[at + 2] as number);
}

/**
 * A few strokes to and fro far from zero, made when the module loads. The compiler judges by what it has seen first: counts near
 * zero would be kept as small integers, and a way that was not gone yet makes it throw its work away and box every number.
 */
function showEveryWay(): void {
  const definition = {
    stepRate: 1000.5,
    countsPerRevolution: 1000.5,
    gearNumerator: 1.5,
    gearDenominator: 1.25,
    rotorInertia: 0.001,
    loadInertia: 0.0015,
    stages: [{ efficiency: 0.9, backDriveEfficiency: 0.8, inertia: 0.0001 }],
    stiffness: 10.5,
    damping: 0.015,
    coulombFriction: 0.15,
    viscousFriction: 0.0005,
    gravityTorque: 0.05,
    ratedTorque: 1.5,
    peakTorque: 3.5,
    torqueLimit: 1.5,
    torqueTimeConstant: 0.0005,
    positionGain: 20.5,
    speedBandwidth: 100.5,
    speedIntegralTime: 0.05,
    assumedInertiaRatio: 1.5,
    velocityFeedforward: 0.5,
    accelerationFeedforward: 0.5,
    torqueFilterTime: 0.0005,
    notch: { frequency: 600.5, width: 0.5, depth: 0.1 },
    velocityFilterTime: 0.0005,
    followingErrorWindow: 1e15,
    minusLimit: 0.5,
    plusLimit: 0.5,
    indexOffset: 0.5,
    torqueSense: 1,
    encoderSense: 1,
  } as const;
  const increments = Float64Array.from({ length: 3000 }, (_, k) => (k % 1000 < 200 ? 0 : k % 600 < 300 ? 40.5 : -40.5));
  for (const stiffness of [definition.stiffness, 0])
    advanceServo(
      servoCoefficients({ ...definition, stiffness }),
      servoState(2 ** 40, definition.countsPerRevolution),
      increments,
      increments.length,
    );
}
showEveryWay();

/** J stored in motion, in the coupling and in height, against the zero of the load angle. */
export function storedEnergy(c: ServoCoefficients, s: ServoState): number {
  const twist = s.motorAngle - s.loadAngle;
  const kinetic = c.elastic
    ? 0.5 * c.motorInertia * s.motorSpeed ** 2 + 0.5 * c.loadInertia * s.loadSpeed ** 2 + 0.5 * c.stiffness * twist ** 2
    : 0.5 * c.motorInertia * s.motorSpeed ** 2;
  return kinetic + c.gravityTorque * s.loadAngle;
}
