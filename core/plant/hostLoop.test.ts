import { describe, expect, it } from 'vitest';
import { marginsOfModel, type LoopModel } from '../tuning/index.ts';
import { planMove } from '../motion/index.ts';
import { runaway } from '../signal/index.ts';
import { smoothServo } from '../test/smoothServo.ts';
import { runHostMoves, type HostLoop, type ServoDefinition } from './index.ts';

/** 360° a turn; strong enough that its torque limit is never met. */
const servo: ServoDefinition = {
  ...smoothServo,
  stepRate: 32000,
  gearNumerator: 1,
  gearDenominator: 1,
  viscousFriction: 0,
  ratedTorque: 2400,
  peakTorque: 7200,
};
const unitsPerCount = 360 / 2 ** 24;
const host: HostLoop = {
  period: 1 / 32000,
  integralGain: 0,
  velocityFeedforward: 0,
  gain: 60,
  divider: 1,
  feedbackSign: 1,
  speedStep: 0,
  fullSpeed: 1e9,
  creep: 0,
  filterTime: 0,
  errorLimit: Infinity,
  reactionTime: 0,
  deceleration: 0,
};
const run = (loop: Partial<HostLoop>, distance: number, speed: number, duration: number, definition = servo) =>
  runHostMoves(
    {
      servo: definition,
      moves: [{ at: 0, move: planMove(distance, { speed, acceleration: 1e9 }) }],
      duration,
      start: 0,
      unitsPerCount,
      recordPeriod: 0.0005,
    },
    { ...host, ...loop },
  );
const last = (values: Float64Array) => values[values.length - 1] ?? NaN;

describe('a position loop in the controller', () => {
  it('follows the closed-form second-order response: x″ = ω·(K·(d − x) − x′)', () => {
    // P over P on a pure inertia (Ogata, Modern Control Engineering, 5): ωn² = ω·K, 2·ζ·ωn = ω.
    const { recording } = run({}, 10, 1e7, 0.15);
    const natural = Math.sqrt(300 * 60);
    const zeta = 300 / (2 * natural);
    const [a, b] = [zeta * natural, natural * Math.sqrt(zeta ** 2 - 1)];
    recording.actualPosition.forEach((got, k) => {
      const t = k * recording.period;
      const want = 10 * (1 - Math.exp(-a * t) * (Math.cosh(b * t) + (a / b) * Math.sinh(b * t)));
      expect(Math.abs(got - want)).toBeLessThan(0.05);
    });
  });

  it('lags by speed over gain, and stands off by creep over gain', () => {
    const moving = run({}, 1000, 90, 2).recording;
    expect(moving.followingError[2000]).toBeCloseTo(90 / 60, 3);
    expect(last(run({ creep: 0.6 }, 0.001, 1, 2).recording.followingError)).toBeCloseTo(-0.6 / 60, 4);
  });

  it('is late by its period: a slow controller rings with a gain that a fast one bears', () => {
    const overshoot = (period: number) => Math.max(...run({ period }, 10, 1e7, 0.6).recording.actualPosition) - 10;
    expect(overshoot(1 / 32000)).toBeLessThan(0.01);
    expect(overshoot(0.01)).toBeGreaterThan(0.5);
  });

  it('wanders within the error that one step of its signal holds, and no further', () => {
    const { followingError } = run({ speedStep: 3, divider: 64 }, 10, 50, 3).recording;
    const rest = followingError.slice(-2000).map(Math.abs);
    expect(Math.max(...rest)).toBeLessThan((3 / 60) * 1.5);
    expect(Math.max(...rest)).toBeGreaterThan(0);
  });

  it('runs away when the feedback counts backwards, and no further than worked out', () => {
    const loop = {
      gain: 30,
      errorLimit: 8,
      fullSpeed: 250,
      reactionTime: 0.02,
      deceleration: 1500,
      creep: 0.5,
      period: 0.001,
    };
    const { recording, tripped } = run({ ...loop, feedbackSign: -1 }, 0.001, 1, 3);
    const worst = runaway(loop);
    expect(tripped).toBe(true);
    expect(worst).toEqual({ speed: 240, distance: 8 + 240 * 0.02 + 240 ** 2 / 3000 });
    const gone = Math.abs(last(recording.actualPosition));
    // The creep that starts it and the delays of the loop add a little.
    expect(gone / worst.distance).toBeGreaterThan(0.8);
    expect(gone / worst.distance).toBeLessThan(1.1);
    expect(Math.abs(last(recording.actualSpeed))).toBeLessThan(0.1);
    expect(run(loop, 0.001, 1, 3).tripped).toBe(false);
    expect(runaway({ ...loop, errorLimit: undefined }).distance).toBe(Infinity);
    expect(runaway({ ...loop, deceleration: 0 }).distance).toBe(Infinity);
  });

  it('a window of the drive’s own does not stop a drive that is told a speed', () => {
    expect(run({}, 10, 1e7, 0.1, { ...servo, followingErrorWindow: 1 }).tripped).toBe(false);
  });

  it('with an integral leaves nothing of a creep, and with feedforward nothing of the lag', () => {
    const { followingError } = run({ creep: 0.6, integralGain: 900, period: 0.001 }, 0.001, 1, 2).recording;
    expect(Math.abs(last(followingError))).toBeLessThan(0.0005);
    const fed = run({ velocityFeedforward: 1, period: 0.001 }, 1000, 90, 2).recording;
    // What the drive itself is late stays: at 300 rad/s, 90/300 of speed over the gain.
    expect(Math.abs(fed.followingError[2000] ?? NaN)).toBeLessThan(0.2 * (90 / 60));
  });

  it('loses its stability where the margins of its model say', () => {
    const inertias = { motorInertia: servo.rotorInertia, loadInertia: servo.loadInertia };
    for (const period of [0.002, 0.004]) {
      const model: LoopModel = {
        ...inertias,
        ...{ stiffness: undefined, damping: 0, positionGain: 60, deadTime: 0 },
        torqueTimeConstant: servo.torqueTimeConstant,
        filterTime: servo.velocityFilterTime,
        speedGain: servo.speedBandwidth * servo.rotorInertia * (1 + servo.assumedInertiaRatio),
        speedIntegralTime: servo.speedIntegralTime,
        host: { integralGain: 0, deadTime: 1.5 * period, filterTime: 0 },
      };
      const rise = 10 ** (marginsOfModel(model).position.gainMargin / 20);
      const swings = (share: number) => {
        const { actualPosition } = run({ period, gain: 60 * rise * share }, 10, 1e7, 1.5).recording;
        const tail = actualPosition.slice(-400).map((each) => Math.abs(each - 10));
        return Math.max(...tail);
      };
      expect(swings(0.9), `${period}`).toBeLessThan(1);
      expect(swings(1.12), `${period}`).toBeGreaterThan(5);
    }
  });
});
