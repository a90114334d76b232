import { describe, expect, it } from 'vitest';
import { planMove } from '../motion/index.ts';
import { runMoves, thereAndBack } from '../plant/index.ts';
import { smoothServo } from '../test/smoothServo.ts';
import { readMove } from './index.ts';

describe('what a trace of moves says', () => {
  const period = 0.001;
  /** A trapezoid of 1 s at 100 units/s, 500 units/s², and an error that is worked out from it. */
  function trace(errorOf: (t: number, v: number, a: number) => number) {
    const count = 2000;
    const [up, hold] = [0.2, 1];
    const speedAt = (t: number) => (t < up ? 500 * t : t < hold ? 100 : t < hold + up ? 100 - 500 * (t - hold) : 0);
    const accelerationAt = (t: number) => (t < up ? 500 : t < hold ? 0 : t < hold + up ? -500 : 0);
    let position = 0;
    const demandPosition = Float64Array.from({ length: count }, (_, k) => {
      position += speedAt((k - 0.5) * period) * (k > 0 ? period : 0);
      return position;
    });
    const followingError = Float64Array.from({ length: count }, (_, k) =>
      errorOf(k * period, speedAt(k * period), accelerationAt(k * period)),
    );
    const torque = new Float64Array(count).fill(50);
    return {
      channels: {
        period,
        demandPosition,
        actualPosition: demandPosition,
        actualSpeed: demandPosition,
        followingError,
        torque,
      },
      stops: [{ at: Math.round((hold + up) / period), direction: 1 as const }],
    };
  }

  it('an error by speed and by acceleration are told apart', () => {
    const { channels, stops } = trace((_, v, a) => 0.004 * v + 0.0002 * a);
    const got = readMove(channels, stops, 200);
    expect(got?.errorPerSpeed).toBeCloseTo(0.004, 4);
    expect(got?.errorPerAcceleration).toBeCloseTo(0.0002, 5);
    expect(got?.explained).toBeGreaterThan(0.99);
    expect([got?.saturated, got?.ringing, got?.creep]).toEqual([0, undefined, undefined]);
    // At its torque limit all the time.
    expect(readMove(channels, stops, 50)?.saturated).toBe(1);
  });

  it('ringing is named with its frequency, a slow creep with its time, overshoot with its height', () => {
    const ringing = trace(
      (t, v) => 0.001 * v + (t < 1.2 ? 0 : 0.3 * Math.exp(-(t - 1.2) / 0.12) * Math.sin(2 * Math.PI * 35 * (t - 1.2))),
    );
    const rings = readMove(ringing.channels, ringing.stops, undefined);
    expect(rings?.ringing?.frequency).toBeGreaterThan(33);
    expect(rings?.ringing?.frequency).toBeLessThan(37);
    expect(rings?.overshoot).toBeGreaterThan(0.2);
    const creeping = trace((t) => (t < 1.2 ? 0.5 : 0.5 * Math.exp(-(t - 1.2) / 0.1)));
    const creeps = readMove(creeping.channels, creeping.stops, undefined);
    // A third is left after 0.1 · ln 3.
    expect(creeps?.creep?.seconds).toBeCloseTo(0.1 * Math.log(3), 2);
    expect([creeps?.ringing, creeps?.overshoot]).toEqual([undefined, 0]);
  });

  it('what comes after a stop ends with the next move', () => {
    const limits = { speed: 400, acceleration: 4000, jerk: undefined };
    const unitsPerCount = 10 / smoothServo.countsPerRevolution;
    // Back again a tenth of a second after each stop.
    const moves = thereAndBack(planMove(200, limits), planMove(-200, limits), 0.1, 2);
    const { recording } = runMoves({
      servo: { ...smoothServo, positionGain: 40, gearNumerator: 1, gearDenominator: 1 },
      ...{
        moves,
        duration: 3.5,
        start: 0,
        unitsPerCount,
        stepsPerUnit: 1 / unitsPerCount,
        pulses: false,
        recordPeriod: period,
      },
    });
    const stops = moves.map(({ at, move }, k) => ({
      at: Math.round((at + move.duration) / period),
      direction: (k % 2 === 0 ? 1 : -1) as 1 | -1,
    }));
    // It lags by v/40 = 10 and never overshoots.
    expect(readMove(recording, stops, undefined)?.overshoot).toBeLessThan(0.05);
  });

  it('of the plant is the lag of its loop: (1 − feedforward)/gain', () => {
    const limits = { speed: 400, acceleration: 4000, jerk: undefined };
    const [there, back] = [planMove(200, limits), planMove(-200, limits)];
    const unitsPerCount = 10 / smoothServo.countsPerRevolution;
    const servo = {
      ...smoothServo,
      viscousFriction: 0,
      positionGain: 40,
      velocityFeedforward: 0.6,
      gearNumerator: 1,
      gearDenominator: 1,
    };
    const moves = thereAndBack(there, back, 0.3, 1);
    const { recording } = runMoves({
      servo,
      moves,
      duration: 2.5,
      start: 0,
      unitsPerCount,
      stepsPerUnit: 1 / unitsPerCount,
      pulses: false,
      recordPeriod: period,
    });
    const stops = moves.map(({ at, move }, k) => ({
      at: Math.round((at + move.duration) / period),
      direction: (k % 2 === 0 ? 1 : -1) as 1 | -1,
    }));
    const got = readMove(recording, stops, undefined);
    expect(Math.abs((got?.errorPerSpeed ?? 0) - 0.4 / 40)).toBeLessThan(0.05 * (0.4 / 40));
  });
});
