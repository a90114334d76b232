import { Solver } from 'odex';
import { describe, expect, it } from 'vitest';
import { moveTorque, planMove } from '../motion/index.ts';
import { smoothServo as smooth } from '../test/smoothServo.ts';
import {
  runMoves,
  servoCoefficients,
  servoState,
  stepServo,
  storedEnergy,
  thereAndBack,
  type ServoDefinition,
} from './index.ts';

/** Steps to a demand of `counts` at once and gives the position after each step, as a share of the demand. */
function stepResponse(definition: ServoDefinition, counts: number, seconds: number) {
  const c = servoCoefficients({ ...definition, gearNumerator: 1, gearDenominator: 1 });
  const s = servoState(0, definition.countsPerRevolution);
  const path: number[] = [];
  for (let k = 0; k < seconds * definition.stepRate; k++) {
    stepServo(c, s, k === 0 ? counts : 0);
    path.push(s.actualCounts / counts);
  }
  return path;
}

describe('servo plant against other calculations', () => {
  it('follows the closed-form second-order step response', () => {
    // P over P on a pure inertia: θ'' = ωs·(Kp·(θd − θ) − θ'), so ωn² = ωs·Kp, 2·ζ·ωn = ωs (Ogata, Modern Control Engineering, 5).
    const definition = { ...smooth, stepRate: 32000, viscousFriction: 0, positionGain: 150 };
    const path = stepResponse(definition, 20000, 0.08);
    const natural = Math.sqrt(300 * 150);
    const zeta = 300 / (2 * natural);
    const damped = natural * Math.sqrt(1 - zeta ** 2);
    let worst = 0;
    path.forEach((got, k) => {
      const t = (k + 1) / definition.stepRate;
      const want =
        1 - Math.exp(-zeta * natural * t) * (Math.cos(damped * t) + ((zeta * natural) / damped) * Math.sin(damped * t));
      worst = Math.max(worst, Math.abs(got - want));
    });
    expect(worst).toBeLessThan(0.01);
  });

  it('agrees with the ODE package odex on a two-mass axis with torque lag and integral', () => {
    const definition: ServoDefinition = {
      ...smooth,
      stepRate: 32000,
      stiffness: 40,
      damping: 0.01,
      torqueTimeConstant: 0.0008,
      speedIntegralTime: 0.03,
      gravityTorque: 0.3,
      velocityFilterTime: 0.0004,
    };
    const [Jm, Jl, demand] = [definition.rotorInertia, definition.loadInertia, (20000 / 2 ** 24) * 2 * Math.PI];
    const gain = 300 * Jm * 10;
    const solver = new Solver(7);
    const derivative = (_t: number, y: number[]) => {
      const [motor = 0, motorSpeed = 0, load = 0, loadSpeed = 0, torque = 0, integral = 0, filtered = 0] = y;
      const speedError = 30 * (demand - motor) - filtered;
      const coupling = 40 * (motor - load) + 0.01 * (motorSpeed - loadSpeed);
      return [
        motorSpeed,
        (torque - coupling) / Jm,
        loadSpeed,
        (coupling - 0.3 - 0.002 * loadSpeed) / Jl,
        (gain * speedError + integral - torque) / 0.0008,
        (gain / 0.03) * speedError,
        (motorSpeed - filtered) / 0.0004,
      ];
    };
    const path = stepResponse(definition, 20000, 0.3);
    let [state, time, worst] = [[0, 0, 0, 0, 0, 0, 0], 0, 0];
    for (const until of [0.01, 0.02, 0.05, 0.1, 0.2, 0.3]) {
      state = solver.solve(derivative, time, state, until).y;
      time = until;
      worst = Math.max(worst, Math.abs((path[Math.round(until * 32000) - 1] ?? NaN) - (state[0] ?? NaN) / demand));
    }
    expect(worst).toBeLessThan(0.01);
  });

  it.each([0, 60])('closes the energy ledger within 0.1 % with friction and gravity, stiffness %d', (stiffness) => {
    const definition: ServoDefinition = {
      ...smooth,
      stiffness,
      damping: 0.02,
      coulombFriction: 0.15,
      gravityTorque: 0.4,
      torqueTimeConstant: 0.0005,
      speedIntegralTime: 0.02,
    };
    const c = servoCoefficients(definition);
    const s = servoState(0, definition.countsPerRevolution);
    const start = storedEnergy(c, s);
    const move = planMove(4e5, { speed: 2e6, acceleration: 2e7 });
    for (let k = 0; k < 8000; k++) stepServo(c, s, k < 1600 ? Math.round(move.distance / 1600) : 0);
    expect(s.tripped).toBe(0);
    expect(s.motorWork).toBeGreaterThan(1);
    expect(Math.abs(s.motorWork - s.heat - (storedEnergy(c, s) - start)) / s.motorWork).toBeLessThan(0.001);
  });
});

describe('servo plant', () => {
  it('keeps gear remainders: a million odd pulses lose nothing', () => {
    const c = servoCoefficients({ ...smooth, positionGain: 0 });
    const s = servoState(0, smooth.countsPerRevolution);
    let sent = 0;
    for (let k = 0; k < 20000; k++) {
      const pulses = (k * 7919) % 51;
      sent += pulses;
      stepServo(c, s, pulses);
    }
    expect(s.demandCounts).toBe(Math.floor((sent * 12288) / 125));
  });

  it('lags by speed over position gain without feedforward, and by little with it', () => {
    // Steady following error of a type-1 loop: v / Kp; the quick loop adds nothing in the mean.
    const lag = (velocityFeedforward: number) => {
      const c = servoCoefficients({
        ...smooth,
        velocityFeedforward,
        viscousFriction: 0,
        gearNumerator: 1,
        gearDenominator: 1,
      });
      const s = servoState(0, smooth.countsPerRevolution);
      for (let k = 0; k < 8000; k++) stepServo(c, s, 1000);
      return s.demandCounts - s.actualCounts;
    };
    expect(lag(0) / ((1000 * 8000) / 30)).toBeCloseTo(1, 2);
    expect(Math.abs(lag(1))).toBeLessThan(0.02 * lag(0));
  });

  it('needs the peak torque of the sheet, within 2 %, through stages that lose power', () => {
    const radiansPerUnit = 0.5;
    const move = planMove(60, { speed: 150, acceleration: 900, jerk: 9000 });
    for (const [gravity, friction, stages] of [
      [0, 0.2, [{ efficiency: 0.9, backDriveEfficiency: 0.9, inertia: 0 }]],
      [0.6, 0.1, [{ efficiency: 0.8, backDriveEfficiency: 0.75, inertia: 2e-4 }]],
      [
        -0.4,
        0.05,
        [
          { efficiency: 0.85, backDriveEfficiency: 0.82, inertia: 3e-4 },
          { efficiency: 0.95, backDriveEfficiency: 0.95, inertia: 1e-4 },
        ],
      ],
      // A screw that locks itself, with a load that has to be driven down.
      [0.5, 0.1, [{ efficiency: 0.35, backDriveEfficiency: 2 - 1 / 0.35, inertia: 1e-4 }]],
    ] as const) {
      const isLocked = stages.some(({ backDriveEfficiency }) => backDriveEfficiency <= 0);
      const train = { inertia: 4e-4, loadInertia: isLocked ? 1e-4 : 8e-4, friction, gravity, stages };
      const servo = {
        ...smooth,
        viscousFriction: 0,
        rotorInertia: train.inertia,
        loadInertia: train.loadInertia + stages.reduce((sum, { inertia }) => sum + inertia, 0),
        stiffness: 0,
        stages,
        coulombFriction: friction,
        gravityTorque: gravity,
        ratedTorque: 2,
        peakTorque: 20,
        torqueLimit: 10,
        torqueTimeConstant: 0.0002,
        positionGain: 80,
        speedBandwidth: 900,
        speedIntegralTime: 0.02,
        assumedInertiaRatio: 3,
        velocityFeedforward: 1,
        velocityFilterTime: 0.0001,
        followingErrorWindow: 1e12,
      };
      const unitsPerCount = (2 * Math.PI) / 2 ** 24 / radiansPerUnit;
      const { recording } = runMoves({
        servo: { ...servo, gearNumerator: 1, gearDenominator: 1 },
        moves: thereAndBack(move, planMove(-60, { speed: 150, acceleration: 900, jerk: 9000 }), 0.4, 3),
        duration: 6 * (move.duration + 0.4),
        start: 0,
        stepsPerUnit: 1 / unitsPerCount,
        unitsPerCount,
        pulses: false,
        recordPeriod: 1 / 8000,
      });
      // The first move still loads the integral with gravity.
      const settled = recording.torque.subarray(Math.round((2 * (move.duration + 0.4)) / recording.period));
      const peak = (settled.reduce((most, each) => Math.max(most, Math.abs(each)), 0) / 100) * servo.ratedTorque;
      expect(peak / moveTorque(move, 0.4, { ...train, radiansPerUnit }).peak, JSON.stringify(stages)).toBeGreaterThan(
        0.98,
      );
      expect(peak / moveTorque(move, 0.4, { ...train, radiansPerUnit }).peak, JSON.stringify(stages)).toBeLessThan(
        1.02,
      );
    }
  });

  it('sticks under a torque below its friction, and holds a hanging load by its integral', () => {
    const stuck = servoCoefficients({ ...smooth, coulombFriction: 1, positionGain: 0, gravityTorque: 0.9 });
    const s = servoState(0, smooth.countsPerRevolution);
    for (let k = 0; k < 800; k++) stepServo(stuck, s, 0);
    expect(s.motorSpeed).toBe(0);
    const hanging = servoCoefficients({ ...smooth, gravityTorque: 0.9, speedIntegralTime: 0.02 });
    const h = servoState(0, smooth.countsPerRevolution);
    for (let k = 0; k < 16000; k++) stepServo(hanging, h, 0);
    expect(Math.abs(h.actualCounts)).toBeLessThan(3);
    expect(h.torque).toBeCloseTo(0.9, 3);
  });

  it('trips beyond the following-error window and goes limp', () => {
    const c = servoCoefficients({ ...smooth, followingErrorWindow: 1000, torqueLimit: 0.1 });
    const s = servoState(0, smooth.countsPerRevolution);
    for (let k = 0; k < 800; k++) stepServo(c, s, 100);
    expect([s.tripped, s.enabled]).toEqual([1, 0]);
    expect(Math.abs(s.torque)).toBeLessThan(1e-6);
  });

  it('sees the index once a turn at the same place from both sides, and the limits', () => {
    const c = servoCoefficients({
      ...smooth,
      countsPerRevolution: 10000,
      gearNumerator: 1,
      gearDenominator: 1,
      indexOffset: 2500,
      plusLimit: 9000,
      positionGain: 60,
    });
    const s = servoState(0, 10000);
    for (let k = 0; k < 16000; k++) stepServo(c, s, k < 1000 ? 10 : 0);
    expect([s.indexPulses, s.indexCounts, s.plusLimitOn, s.minusLimitOn]).toEqual([1, 2500, 1, 0]);
    for (let k = 0; k < 16000; k++) stepServo(c, s, k < 1000 ? -10 : 0);
    expect([s.indexPulses, s.indexCounts, s.plusLimitOn]).toEqual([2, 2500, 0]);
  });

  it('refuses a resonance too fast for the step, and values outside their range', () => {
    expect(() => servoCoefficients({ ...smooth, stiffness: 5000 })).toThrow('too fast for steps at 8000 Hz');
    expect(() => servoCoefficients({ ...smooth, rotorInertia: 0 })).toThrow('rotorInertia above 0');
    expect(() => servoCoefficients({ ...smooth, coulombFriction: NaN })).toThrow('coulombFriction');
  });

  it('records a move there and back and ends where it began', () => {
    const move = planMove(100, { speed: 400, acceleration: 3000, jerk: 60000 });
    const unitsPerCount = 320 / (3 * 2 ** 20);
    const { recording, tripped } = runMoves({
      servo: {
        ...smooth,
        countsPerRevolution: 2 ** 20,
        coulombFriction: 0.1,
        speedIntegralTime: 0.02,
        velocityFeedforward: 1,
        velocityFilterTime: 0.0002,
      },
      moves: thereAndBack(move, planMove(-100, { speed: 400, acceleration: 3000, jerk: 60000 }), 0.4, 1),
      duration: 2 * (move.duration + 0.4),
      start: 250,
      stepsPerUnit: 100,
      unitsPerCount,
      pulses: true,
      recordPeriod: 0.001,
    });
    expect(tripped).toBe(false);
    expect(Math.max(...recording.actualPosition)).toBeCloseTo(350, 0);
    expect(recording.actualPosition.at(-1)).toBeCloseTo(250, 1);
    expect(Math.max(...recording.actualSpeed)).toBeCloseTo(400, -1);
    expect(recording.period).toBe(0.001);
  });
});
