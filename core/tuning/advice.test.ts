import { describe, expect, it } from 'vitest';
import { planMove } from '../motion/index.ts';
import { runMoves, thereAndBack } from '../plant/index.ts';
import { smoothServo } from '../test/smoothServo.ts';
import { parkMiller, stiffLoops } from '../test/stiffLoops.ts';
import { readMove, suggestGains, tuningAdvice, type MoveReading, type TunedSettings } from './index.ts';

describe('advice', () => {
  const settings: TunedSettings = {
    positionGain: 40,
    speedBandwidth: 260,
    speedIntegralTime: 20,
    velocityFeedforward: 60,
    accelerationFeedforward: 0,
    inPosition: 0.05,
  };
  const reading: MoveReading = {
    ...{
      errorPerSpeed: 0,
      errorPerAcceleration: 0,
      topSpeed: 100,
      accelerating: { peak: 0, mean: 0 },
      explained: 1,
      residual: 0.01,
      peakError: 1,
      overshoot: 0,
    },
    ...{ ringing: undefined, saturated: 0, creep: undefined },
  };
  const adviceFor = (more: Partial<MoveReading>, by: Partial<TunedSettings> = {}) =>
    tuningAdvice({ ...reading, ...more }, { ...settings, ...by }, (value) => `${value} mm`);

  it('raises the feedforward by what the lag says, and lowers it where the axis leads', () => {
    // (1 − 0.6)/40 s of lag are 40 % of feedforward.
    expect(adviceFor({ errorPerSpeed: 0.01 })).toMatchObject([
      { id: 'lags', change: { setting: 'velocityFeedforward', from: 60, to: 100 }, expectedError: 0.01 },
    ]);
    expect(adviceFor({ errorPerSpeed: -0.005 })).toMatchObject([{ id: 'leads', change: { to: 40 } }]);
    expect(adviceFor({ errorPerSpeed: 0.01 }, { velocityFeedforward: 100 })).toEqual([]);
  });

  it('tells the error of the acceleration apart, and feeds forward what the whole inertia takes', () => {
    const [late, early] = [{ accelerating: { peak: 0.4, mean: 0.2 } }, { accelerating: { peak: 0.4, mean: -0.2 } }];
    expect(adviceFor(late)).toMatchObject([
      { id: 'lagsAccelerating', change: { setting: 'accelerationFeedforward', from: 0, to: 100 }, expectedError: 0.6 },
    ]);
    expect(adviceFor(early, { accelerationFeedforward: 160 })).toMatchObject([
      { id: 'leadsAccelerating', change: { from: 160, to: 100 } },
    ]);
    expect(adviceFor(late, { accelerationFeedforward: 95 })).toEqual([]);
    // What is not planned is not given a value that it was.
    const [open] = adviceFor(late, { accelerationFeedforward: undefined });
    expect(open).toMatchObject({ id: 'lagsAccelerating' });
    expect(open?.change).toBeUndefined();
  });

  it('says that the torque is the limit before it says anything of gains', () => {
    expect(adviceFor({ saturated: 0.3, errorPerSpeed: 0.01, overshoot: 3 }).map(({ id }) => id)).toEqual(['saturates']);
  });

  it('names ringing with its frequency, creep, and overshoot', () => {
    expect(adviceFor({ ringing: { frequency: 35.2, amplitude: 0.4 }, overshoot: 0.5 })).toMatchObject([
      {
        id: 'rings',
        message: expect.stringContaining('35.2 Hz') as string,
        change: { setting: 'speedBandwidth', to: 182 },
      },
    ]);
    expect(adviceFor({ creep: { error: 0.4, seconds: 0.1 } })).toMatchObject([
      { id: 'creeps', change: { setting: 'speedIntegralTime', to: 13.3 } },
    ]);
    expect(adviceFor({ overshoot: 0.4 })).toMatchObject([{ id: 'overshoots', change: { to: 30 } }]);
    expect(adviceFor({})).toEqual([]);
  });

  it('followed on the plant it makes the error as small as it says', () => {
    const limits = { speed: 400, acceleration: 3000, jerk: undefined };
    const [there, back] = [planMove(200, limits), planMove(-200, limits)];
    const unitsPerCount = 10 / smoothServo.countsPerRevolution;
    const moves = thereAndBack(there, back, 0.4, 1);
    const stops = moves.map(({ at, move }, k) => ({
      at: Math.round((at + move.duration) / 0.001),
      direction: (k % 2 === 0 ? 1 : -1) as 1 | -1,
    }));
    const read = (feedforward: number) => {
      const servo = {
        ...{ ...smoothServo, viscousFriction: 0, positionGain: 40, velocityFeedforward: feedforward / 100 },
        ...{ gearNumerator: 1, gearDenominator: 1 },
      };
      const order = {
        servo,
        moves,
        duration: 3,
        start: 0,
        unitsPerCount,
        stepsPerUnit: 1 / unitsPerCount,
        pulses: false,
      };
      return readMove(runMoves({ ...order, recordPeriod: 0.001 }).recording, stops, undefined);
    };
    const first = read(50);
    if (!first) throw new Error('nothing was read');
    const [advice] = tuningAdvice(first, { ...settings, velocityFeedforward: 50 }, String);
    expect(advice?.change?.setting).toBe('velocityFeedforward');
    const after = read(advice?.change?.to ?? 0);
    expect(after?.peakError).toBeLessThan(0.4 * first.peakError);
    expect(after?.peakError).toBeLessThan(2 * (advice?.expectedError ?? 0) + 0.1);
  });

  it('says which loop is slower or faster than the model allows, and each setting once', () => {
    const suggested = { positionGain: 60, speedBandwidth: 300, speedIntegralTime: 20 };
    const ids = (by: Partial<typeof settings>, more: Partial<MoveReading> = {}) =>
      tuningAdvice({ ...reading, ...more }, { ...settings, ...by }, String, suggested).map(({ id }) => id);
    expect(ids({ positionGain: 55 })).toEqual([]);
    expect(ids({ speedBandwidth: 100, positionGain: 20, speedIntegralTime: 60 })).toEqual([
      'slowSpeedLoop',
      'integralOff',
      'slowPositionLoop',
    ]);
    expect(ids({ speedBandwidth: 500, positionGain: 100 })).toEqual(['fastSpeedLoop', 'fastPositionLoop']);
    const rings = { ringing: { frequency: 35, amplitude: 0.4 }, overshoot: 0.5 };
    expect(ids({ speedBandwidth: 100, positionGain: 20 }, rings)).toEqual(['rings']);
  });

  it('followed three times at most, a detuned drive comes within half of the best that a search finds', () => {
    const random = parkMiller(20261130);
    const between = (low: number, high: number) => low + (high - low) * random();
    const limits = { speed: 400, acceleration: 3000, jerk: undefined };
    const [there, back] = [planMove(150, limits), planMove(-150, limits)];
    const unitsPerCount = 10 / smoothServo.countsPerRevolution;
    const moves = thereAndBack(there, back, 0.3, 1);
    const stops = moves.map(({ at, move }, k) => ({
      at: Math.round((at + move.duration) / 0.001),
      direction: (k % 2 === 0 ? 1 : -1) as 1 | -1,
    }));
    const count = process.env.KAVRID_PROOF ? 200 : 12;
    const worse: number[] = [];
    for (let plant = 0; plant < count; plant++) {
      const ratio = between(1, 10);
      const loadInertia = ratio * smoothServo.rotorInertia;
      const mechanics = {
        ...{ loadInertia, assumedInertiaRatio: ratio, coulombFriction: between(0, 0.3) },
        ...{ viscousFriction: between(0, 5e-4), torqueTimeConstant: 0.0005, velocityFilterTime: 0.0003 },
      };
      const gains = suggestGains(
        { ...stiffLoops, motorInertia: smoothServo.rotorInertia, loadInertia, deadTime: 1.5 / 8000 },
        300,
      );
      if (!gains) throw new Error('nothing is suggested');
      const suggested = {
        positionGain: gains.positionGain,
        speedBandwidth: gains.bandwidth,
        speedIntegralTime: 1000 * gains.speedIntegralTime,
        accelerationFeedforward: 100,
      };
      const read = (by: Omit<TunedSettings, 'inPosition'>) => {
        const servo = {
          ...{ ...smoothServo, ...mechanics, gearNumerator: 1, gearDenominator: 1 },
          ...{ positionGain: by.positionGain, speedBandwidth: by.speedBandwidth },
          ...{ speedIntegralTime: by.speedIntegralTime / 1000, velocityFeedforward: by.velocityFeedforward / 100 },
          accelerationFeedforward: (by.accelerationFeedforward ?? 0) / 100,
        };
        const order = { servo, moves, duration: 2, start: 0, unitsPerCount, stepsPerUnit: 1 / unitsPerCount };
        return readMove(runMoves({ ...order, pulses: false, recordPeriod: 0.001 }).recording, stops, undefined);
      };
      let best = Infinity;
      for (const velocityFeedforward of [90, 98, 99, 100])
        for (const share of [0.7, 0.85, 1])
          for (const [integral, accelerationFeedforward] of [
            [1, 0],
            [1.5, 0],
            [3, 0],
            [1, 50],
            [1, 100],
            [3, 100],
          ] as const)
            best = Math.min(
              best,
              read({
                accelerationFeedforward,
                velocityFeedforward,
                positionGain: share * suggested.positionGain,
                speedBandwidth: share * suggested.speedBandwidth,
                speedIntegralTime: integral * suggested.speedIntegralTime,
              })?.peakError ?? Infinity,
            );
      let now: TunedSettings = {
        positionGain: between(0.2, 1) * suggested.positionGain,
        speedBandwidth: between(0.3, 1) * suggested.speedBandwidth,
        speedIntegralTime: between(0.8, 5) * suggested.speedIntegralTime,
        velocityFeedforward: between(0, 100),
        accelerationFeedforward: between(0, 120),
        inPosition: 0.05,
      };
      for (let round = 0; round < 3; round++) {
        const reading = read(now);
        if (!reading) throw new Error('nothing was read');
        for (const { change } of tuningAdvice(reading, now, String, suggested))
          if (change) now = { ...now, [change.setting]: change.to };
      }
      worse.push((read(now)?.peakError ?? Infinity) / best);
    }
    expect(Math.max(...worse)).toBeLessThan(1.5);
  });
});
