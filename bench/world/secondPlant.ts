import { accelerationFilterTime, servoState, type ServoDefinition } from '@kavrid/core/plant';
import { Solver } from 'odex';
import type { MakePlant } from './axisPlant.ts';

// Written for itself, so that a prediction and the device that it is compared with do not share their mistakes: the drive works in
// steps, its feedback comes a step late, and between two steps the mechanics are two masses integrated by the package odex
// (extrapolation of Hairer, Nørsett and Wanner) with friction after Stribeck.

/** Hz of the resonance between motor and load where the definition has none. */
const resonance = 120;
const dampingRatio = 0.06;
/** rad/s at which friction has nearly its full sense, and to which it is raised when it starts; share that starting takes more. */
const smoothing = 0.02;
const stribeckSpeed = 1.5;
const stribeckShare = 0.15;
/** rad/s and N·m·s/rad: below this a load that nothing moves counts as standing. */
const resting = 1e-3;

/** The mechanics, in the motor's rad. */
interface Mechanics {
  readonly motorInertia: number;
  readonly loadInertia: number;
  readonly stiffness: number;
  readonly damping: number;
  readonly friction: number;
  readonly viscous: number;
  readonly gravity: number;
  /** Share of what the coupling carries that is lost, while power flows to the load and while it flows back. */
  readonly lossDriving: number;
  readonly lossBraking: number;
}

function mechanicsOf(definition: ServoDefinition): Mechanics {
  const { rotorInertia, loadInertia, stages = [] } = definition;
  const load = Math.max(loadInertia, rotorInertia / 50);
  const reduced = (rotorInertia * load) / (rotorInertia + load);
  const stiffness = definition.stiffness > 0 ? definition.stiffness : (2 * Math.PI * resonance) ** 2 * reduced;
  const efficiency = stages.reduce((product, stage) => product * stage.efficiency, 1);
  const backwards = stages.reduce((product, stage) => product * Math.max(0, stage.backDriveEfficiency), 1);
  return {
    motorInertia: rotorInertia,
    loadInertia: load,
    stiffness,
    damping: definition.damping > 0 ? definition.damping : 2 * dampingRatio * Math.sqrt(stiffness * reduced),
    friction: definition.coulombFriction,
    viscous: definition.viscousFriction,
    gravity: definition.gravityTorque,
    lossDriving: 1 - efficiency,
    lossBraking: 1 - backwards,
  };
}

/** d/dt of motor angle and speed, load angle and speed under a torque. */
function derivative(m: Mechanics, torque: number) {
  return (_t: number, [motor = 0, motorSpeed = 0, load = 0, loadSpeed = 0]: number[]): number[] => {
    const coupling = m.stiffness * (motor - load) + m.damping * (motorSpeed - loadSpeed);
    const way = Math.tanh(loadSpeed / smoothing);
    const stribeck = 1 + stribeckShare * Math.exp(-((loadSpeed / stribeckSpeed) ** 2));
    // Power that flows to the load loses a share of the torque; power that flows back loses another.
    const share = coupling * loadSpeed >= 0 ? m.lossDriving : m.lossBraking;
    const loss = way * Math.abs(coupling) * share;
    const resisting = way * m.friction * stribeck + m.viscous * loadSpeed + m.gravity + loss;
    return [motorSpeed, (torque - coupling) / m.motorInertia, loadSpeed, (coupling - resisting) / m.loadInertia];
  };
}

/** A plant of its own making that can stand in for that of the predictions. */
export const secondPlant: MakePlant = (startCounts, first) => {
  let definition = first;
  let mechanics = mechanicsOf(first);
  const solver = new Solver(4);
  /** rad/s as filtered, and counts as they were a step ago. */
  let [filtered, seenBefore] = [0, startCounts];
  const state = servoState(startCounts, first.countsPerRevolution);
  let y: readonly number[] = [state.motorAngle, 0, state.loadAngle, 0];

  /** rad/s² demanded, filtered; the swing that a notch takes away, and the torque behind its filter. */
  let [acceleration, swing, swingSpeed, filteredTorque] = [0, 0, 0, 0];

  /** The torque command behind its notch and its filter, both stepped finely. */
  const shaped = (asked: number, dt: number): number => {
    const { notch, torqueFilterTime = 0 } = definition;
    const steps = 16;
    const step = dt / steps;
    let passed = asked;
    for (let k = 0; k < steps; k++) {
      if (notch) {
        const push = notch.frequency ** 2 * (asked - swing) - 2 * notch.width * notch.frequency * swingSpeed;
        swingSpeed += push * step;
        swing += swingSpeed * step;
        passed = asked - (2 * notch.width * (1 - notch.depth) * swingSpeed) / notch.frequency;
      }
      filteredTorque += (passed - filteredTorque) * (step / (step + torqueFilterTime));
    }
    return filteredTorque;
  };

  /** What the drive's loops ask for; N·m. */
  const wantedTorque = (demand: number, dt: number): number => {
    const d = definition;
    const radians = (2 * Math.PI) / d.countsPerRevolution;
    const limit = Math.min(d.peakTorque, d.torqueLimit * d.ratedTorque);
    const within = (torque: number) => Math.max(-limit, Math.min(limit, torque));
    if (d.commandedBy === 'torque') return within(demand);
    let speed = demand;
    if (d.commandedBy !== 'speed') {
      const lag = state.demandCounts - seenBefore;
      if (Math.abs(lag) > d.followingErrorWindow) {
        state.tripped = 1;
        state.enabled = 0;
        return 0;
      }
      speed = d.positionGain * lag * radians + d.velocityFeedforward * state.demandSpeed;
    }
    const gain = d.speedBandwidth * d.rotorInertia * (1 + d.assumedInertiaRatio);
    const error = speed - filtered;
    const believed = d.rotorInertia * (1 + d.assumedInertiaRatio);
    const pushed = d.commandedBy === 'speed' ? 0 : (d.accelerationFeedforward ?? 0) * believed * acceleration;
    const asked = gain * error + state.integral + pushed;
    const given = within(shaped(asked, dt));
    // Held back at the limit, so that it does not wind up.
    if (d.speedIntegralTime > 0 && (Math.abs(given) < limit || Math.sign(error) !== Math.sign(asked)))
      state.integral += (gain / d.speedIntegralTime) * error * dt;
    return given;
  };

  const command = (demand: number, dt: number): void => {
    const { gearNumerator, gearDenominator, countsPerRevolution, velocityFilterTime, commandedBy } = definition;
    if (commandedBy === 'speed' || commandedBy === 'torque') {
      state.demandCounts = state.actualCounts;
      state.demandSpeed = commandedBy === 'speed' ? demand : state.actualSpeed;
      return;
    }
    const owed = demand * gearNumerator + state.gearRemainder;
    const counts = Math.floor(owed / gearDenominator);
    state.gearRemainder = owed - counts * gearDenominator;
    state.demandCounts += counts;
    const rate = (counts * 2 * Math.PI) / countsPerRevolution / dt;
    const change = (rate - state.demandSpeed) * (dt / (dt + velocityFilterTime));
    state.demandSpeed += change;
    acceleration += (change / dt - acceleration) * (dt / (dt + accelerationFilterTime));
  };

  const sense = (dt: number): void => {
    const { countsPerRevolution, indexOffset, velocityFilterTime, encoderSense = 1 } = definition;
    const seen = Math.floor((encoderSense * state.motorAngle * countsPerRevolution) / (2 * Math.PI));
    const turn = (counts: number) => Math.floor((counts - indexOffset) / countsPerRevolution);
    if (turn(seen) !== turn(state.actualCounts)) {
      state.indexPulses++;
      state.indexCounts = Math.max(turn(seen), turn(state.actualCounts)) * countsPerRevolution + indexOffset;
    }
    const rate = ((seen - state.actualCounts) * 2 * Math.PI) / countsPerRevolution / dt;
    seenBefore = state.actualCounts;
    filtered += (rate - filtered) * (dt / (dt + velocityFilterTime));
    state.actualSpeed = filtered;
    state.actualCounts = seen;
  };

  return {
    state,
    change: (next) => {
      definition = next;
      mechanics = mechanicsOf(next);
    },
    step: (demand) => {
      const dt = 1 / definition.stepRate;
      // What others have put the shaft at counts.
      y = [state.motorAngle, state.motorSpeed, y[2] ?? 0, state.loadSpeed];
      if (state.enabled !== 0) command(demand, dt);
      else {
        state.demandCounts = state.actualCounts;
        state.demandSpeed = 0;
        state.integral = 0;
        [acceleration, swing, swingSpeed, filteredTorque] = [0, 0, 0, 0];
      }
      const asked = state.enabled !== 0 ? wantedTorque(demand, dt) : 0;
      state.torque += (asked - state.torque) * (dt / (dt + definition.torqueTimeConstant));
      const atShaft = (definition.torqueSense ?? 1) * state.torque;
      const isResting = Math.abs(y[1] ?? 0) < resting && Math.abs(y[3] ?? 0) < resting;
      const twist = mechanics.stiffness * ((y[0] ?? 0) - (y[2] ?? 0));
      const isHeld =
        isResting &&
        Math.abs(atShaft) < 1e-9 + mechanics.friction - Math.abs(mechanics.gravity) &&
        Math.abs(twist) < mechanics.friction - Math.abs(mechanics.gravity);
      if (isHeld && state.enabled === 0) y = [y[0] ?? 0, 0, y[2] ?? 0, 0];
      else y = solver.solve(derivative(mechanics, atShaft), 0, y, dt).y;
      [state.motorAngle, state.motorSpeed, state.loadAngle, state.loadSpeed] = y as [number, number, number, number];
      sense(dt);
    },
  };
};
