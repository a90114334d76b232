import { describe, expect, it } from 'vitest';
import type { AxisGuide } from './axisGuide.ts';
import {
  brakeTestPercent,
  bumpDistance,
  motionTorque,
  startSpeed,
  startTorque,
  steadyLag,
  worstRunaway,
} from './startValues.ts';
import { predictedStop } from './stopPrediction.ts';

/** A screw of 10 mm on a motor of 1 N·m; 0.1 N·m of friction on 0.001 kg·m². */
const guide: AxisGuide = {
  unit: 'mm',
  unitsPerTurn: 10,
  radiansPerUnit: (2 * Math.PI) / 10,
  isLinearMotor: false,
  train: { inertia: 0.001, friction: 0.1, gravity: 0 },
  ratedTorque: 1,
  peakTorque: 3,
  plannedTorqueLimit: 150,
  travel: 400,
  isEndless: false,
  isPair: false,
  positionGain: 40,
  velocityFeedforward: 50,
  followingErrorWindow: 2,
  isSuspended: false,
  brake: { drivenBy: 'none', torque: null, releaseDelay: null, engageDelay: null },
  loopIn: 'drive',
  commandedBy: 'pulses',
  hasTorqueOff: true,
  jogAcceleration: 500,
  quickStopDeceleration: 1000,
  jogLimit: 250,
  highestSpeed: 500,
  homing: {
    by: 'drive',
    positionAtHome: 0,
    restReads: null,
    minusSoftLimit: null,
    plusSoftLimit: null,
    isAbsolute: false,
    pair: null,
  },
};
const friction = (torque: number): AxisGuide => ({ ...guide, train: { inertia: 0.001, friction: torque, gravity: 0 } });
const percentOf = (of: AxisGuide) => {
  const torque = startTorque(of);
  return 'percent' in torque ? torque.percent : torque.because;
};

describe('the torque limit of the first motion', () => {
  // 25 to 30 % of rated torque is common practice; what friction and gravity take comes with a quarter more.
  it.each([
    [0.1, 25],
    [0.2, 25],
    [0.22, 30],
    [0.3, 40],
    [0.8, 100],
    // Never above what is planned.
    [1.4, 150],
  ])('friction of %d N·m of 1 N·m rated: %d %%', (torque, percent) => {
    expect(percentOf(friction(torque))).toBe(percent);
  });

  it('a suspended load counts by its gravity; one above the planned limit is refused; unknown plates get what is usual', () => {
    const lift = (gravity: number): AxisGuide => ({ ...guide, train: { inertia: 0.001, friction: 0.1, gravity } });
    expect(percentOf(lift(0.3))).toBe(50);
    expect(percentOf(lift(1.5))).toMatch(/^Friction and gravity take 160 %, and the planned torque limit is 150 %/);
    expect(percentOf({ ...guide, train: null })).toBe(30);
    expect(percentOf({ ...guide, train: null, plannedTorqueLimit: 20 })).toBe(20);
  });

  it('is raised by half where it does not move, up to the plan, and never through a brake that is shut', () => {
    const next = (of: AxisGuide, torque?: number) => {
      const limit = motionTorque({ guide: of, results: {}, given: torque === undefined ? {} : { torque } });
      return 'percent' in limit ? [limit.percent, limit.next] : [];
    };
    expect(next(guide)).toEqual([25, 40]);
    expect(next(guide, 40)).toEqual([40, 60]);
    expect(next(guide, 140)).toEqual([140, 150]);
    expect(next(guide, 999)).toEqual([150, undefined]);
    // A lower one than at the start is none.
    expect(next(guide, 5)).toEqual([25, 40]);
    // 90 % of 0.5 N·m on 1 N·m.
    const braked: AxisGuide = {
      ...guide,
      brake: { drivenBy: 'drive', torque: 0.5, releaseDelay: 0.05, engageDelay: 0.03 },
    };
    expect(brakeTestPercent(braked)).toBe(45);
    expect(next(braked, 999)).toEqual([45, undefined]);
  });
});

describe('the first motion', () => {
  it('is 1° of the motor, or twenty counts where those are more', () => {
    expect(bumpDistance(guide, 10 / 10_000)).toBeCloseTo(10 / 360, 12);
    expect(bumpDistance(guide, -10 / 400)).toBeCloseTo(20 * (10 / 400), 12);
  });

  it('runs away, at the worst, through its window and as long as friction needs to stop it', () => {
    // α = (0.25 − 0.1)/0.001 = 150 rad/s² over (2 + 1/36) mm; v² = 2·α·s; 5 ms until the trip; then 100 rad/s² of friction.
    const window = (2 + 1 / 36) * guide.radiansPerUnit;
    const atTrip = Math.sqrt(2 * 150 * window);
    const later = atTrip + 150 * 0.005;
    const way = window + ((atTrip + later) / 2) * 0.005 + later ** 2 / (2 * 100);
    expect(worstRunaway(guide, 1 / 36)).toBeCloseTo(way / guide.radiansPerUnit, 9);
    // Nothing is known that stops it.
    expect(worstRunaway({ ...guide, followingErrorWindow: null }, 1)).toBeUndefined();
    const lift: AxisGuide = { ...guide, train: { inertia: 0.001, friction: 0.05, gravity: 0.2 } };
    expect(worstRunaway(lift, 1)).toBeUndefined();
  });
});

describe('the speed of the first jogs', () => {
  it('is the least of two turns a second, 2 m/min, and what stops within a quarter of the room', () => {
    // 2 rev/s are 20 mm/s.
    expect(startSpeed(guide, 0.2)).toMatchObject({ speed: 20, limitedBy: 'two motor turns a second' });
    expect(startSpeed({ ...guide, unitsPerTurn: 100, radiansPerUnit: (2 * Math.PI) / 100 }, 0.2)).toMatchObject({
      speed: 33.3,
      limitedBy: '2 m/min',
    });
    // Room of 5 mm from mid-travel: v·0.7 + v²/(2·a) = 1.25, with a of the torque limit: (0.25 + 0.1)/0.001 rad/s², above the 500 mm/s² wanted.
    const short = startSpeed({ ...guide, travel: 10 }, 0.2);
    const speed = 'speed' in short ? short.speed : 0;
    expect(short).toMatchObject({ limitedBy: 'stopping within a quarter of the room' });
    expect(speed * 0.7 + speed ** 2 / (2 * 500)).toBeLessThanOrEqual(1.25);
    expect(speed * 0.7 + speed ** 2 / (2 * 500)).toBeGreaterThan(1.23);
  });

  it('lags by speed over gain, less what the feedforward takes away', () => {
    expect(steadyLag(guide, 20)).toBeCloseTo((20 * 0.5) / 40, 12);
    expect(steadyLag({ ...guide, positionGain: null }, 20)).toBeUndefined();
  });
});

describe('a predicted stop', () => {
  it('of a suspended load that coasts down has no end; its brake shuts after its delay', () => {
    const lift: AxisGuide = { ...guide, train: { inertia: 0.001, friction: 0.05, gravity: 0.2 } };
    expect(predictedStop(lift, 'coast', 20, -1, 0.2)).toBeUndefined();
    const braked: AxisGuide = {
      ...lift,
      brake: { drivenBy: 'drive', torque: 1, releaseDelay: 0.05, engageDelay: 0.03 },
    };
    // 12.57 rad/s falling with 150 rad/s² for 30 ms, then 850 rad/s² of brake and friction against gravity.
    const start = 20 * guide.radiansPerUnit;
    const fast = start + 150 * 0.03;
    const way = start * 0.004 + start * 0.03 + 0.5 * 150 * 0.03 ** 2 + fast ** 2 / (2 * 850);
    expect(predictedStop(braked, 'coast', 20, -1, 0.2)?.distance).toBeCloseTo(way / guide.radiansPerUnit, 6);
  });

  it('is not made up where the plates do not say enough', () => {
    expect(predictedStop({ ...guide, train: null }, 'ramp', 20, 1, 0.2)).toBeUndefined();
    expect(predictedStop({ ...guide, ratedTorque: null }, 'ramp', 20, 1, 0.2)).toBeUndefined();
    expect(predictedStop(guide, 'ramp', 0, 1, 0.2)).toBeUndefined();
  });
});
