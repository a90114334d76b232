import { describe, expect, it } from 'vitest';
import { waitingSetPoint } from '../motion/index.ts';
import { smoothServo } from '../test/smoothServo.ts';
import { runHeldSpeed } from './index.ts';

describe('a set-point that waits', () => {
  const never = { speedGap: Infinity, positionGap: Infinity };

  it('is no farther ahead than its gaps, on either side, and never turns round', () => {
    const wait = { speedGap: 10, positionGap: 2 };
    expect(waitingSetPoint(100, never, 0, 50)).toBe(100);
    expect(waitingSetPoint(100, wait, 95, 0)).toBe(100);
    expect(waitingSetPoint(100, wait, 20, 0)).toBe(30);
    expect(waitingSetPoint(-100, wait, -20, 0)).toBe(-30);
    // Pushed back against its direction: it waits at rest.
    expect(Math.abs(waitingSetPoint(100, wait, -40, 0))).toBe(0);
    // Ahead in position by more than the gap: no faster than the axis itself.
    expect(waitingSetPoint(100, wait, 95, 2.5)).toBe(95);
    expect(waitingSetPoint(-100, wait, -95, 2.5)).toBe(-100);
    expect(waitingSetPoint(-100, wait, -95, -2.5)).toBe(-95);
    expect(Math.abs(waitingSetPoint(0, wait, 50, 0))).toBe(0);
  });

  const unitsPerCount = 10 / smoothServo.countsPerRevolution;
  const order = {
    servo: { ...smoothServo, positionGain: 40, velocityFeedforward: 0.8, followingErrorWindow: 5 / unitsPerCount },
    unitsPerCount,
    ...{ speed: 100, acceleration: 1000, heldFrom: 0.4, heldFor: 0.5, duration: 2, recordPeriod: 0.001 },
  };

  it('held for half a second, neither alarms nor shoots ahead; without waiting the window ends it', () => {
    const waiting = runHeldSpeed({ ...order, wait: { speedGap: 20, positionGap: 1 } });
    const without = runHeldSpeed({ ...order, wait: never });
    // 100 mm/s for half a second are 50 mm of error, and the window is 5 mm.
    expect(without.trippedAt).toBeGreaterThan(0.4);
    expect(without.trippedAt).toBeLessThan(0.5);
    expect(waiting.trippedAt).toBeUndefined();
    expect(waiting.peakError).toBeLessThan(1.6);
    expect(waiting.backAfter).toBeLessThan(0.6);
    // With a window that lets it, what does not wait makes up for its 50 mm.
    const wide = { ...order, servo: { ...order.servo, followingErrorWindow: 1e12 }, duration: 3 };
    const chasing = runHeldSpeed({ ...wide, wait: never });
    expect(chasing.peakSpeed).toBeGreaterThan(4 * waiting.peakSpeed);
    const held = runHeldSpeed({ ...wide, wait: { speedGap: 20, positionGap: 1 } });
    expect(held.peakSpeed).toBeLessThan(1.6 * 100);
    // It comes back along the acceleration limit: from the gap to the speed in 0.08 s or more.
    const setPoints = held.setPoint;
    const steepest = setPoints.reduce((most, each, k) => Math.max(most, each - (setPoints[k - 1] ?? each)), 0);
    expect(steepest).toBeLessThan(1000 * 0.001 * 1.5 + 20);
  });

  it('nothing holds: it makes no difference', () => {
    const [a, b] = [{ speedGap: 60, positionGap: 3 }, never].map((wait) =>
      runHeldSpeed({ ...order, heldFor: 0, duration: 1, wait }),
    );
    expect(a?.actualSpeed).toEqual(b?.actualSpeed);
  });
});
