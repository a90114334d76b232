import { describe, expect, it } from 'vitest';
import { planMove } from '../motion/index.ts';
import { runMoves, thereAndBack } from '../plant/index.ts';
import { smoothServo } from '../test/smoothServo.ts';
import { readMove, tuningAdvice, type MoveReading } from './index.ts';

describe('advice', () => {
  const settings = {
    positionGain: 40,
    speedBandwidth: 260,
    speedIntegralTime: 20,
    velocityFeedforward: 60,
    inPosition: 0.05,
  };
  const reading: MoveReading = {
    ...{ errorPerSpeed: 0, errorPerAcceleration: 0, explained: 1, residual: 0.01, peakError: 1, overshoot: 0 },
    ...{ ringing: undefined, saturated: 0, creep: undefined },
  };
  const adviceFor = (more: Partial<MoveReading>, by: Partial<typeof settings> = {}) =>
    tuningAdvice({ ...reading, ...more }, { ...settings, ...by }, (value) => `${value} mm`);

  it('raises the feedforward by what the lag says, and lowers it where the axis leads', () => {
    // (1 − 0.6)/40 s of lag are 40 % of feedforward.
    expect(adviceFor({ errorPerSpeed: 0.01 })).toMatchObject([
      { id: 'lags', change: { setting: 'velocityFeedforward', from: 60, to: 100 }, expectedError: 0.01 },
    ]);
    expect(adviceFor({ errorPerSpeed: -0.005 })).toMatchObject([{ id: 'leads', change: { to: 40 } }]);
    expect(adviceFor({ errorPerSpeed: 0.01 }, { velocityFeedforward: 100 })).toEqual([]);
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
});
