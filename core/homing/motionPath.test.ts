import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { MotionPath } from './motionPath.ts';

describe('a path of commanded speeds', () => {
  it('with a limited jerk ends at the speed that was commanded, within its limits, without a step', () => {
    const command = fc.record({
      after: fc.double({ min: 0, max: 0.4, noNaN: true }),
      speed: fc.double({ min: -80, max: 80, noNaN: true }),
    });
    fc.assert(
      fc.property(
        fc.array(command, { minLength: 1, maxLength: 6 }),
        fc.constantFrom(200, 3000, 40000),
        (commands, jerk) => {
          const path = new MotionPath(10, 500, jerk);
          let time = 0;
          for (const { after, speed } of commands) path.command((time += after), speed);
          expect(path.at(path.settled + 1).speed).toBeCloseTo(commands.at(-1)?.speed ?? NaN, 6);
          expect(path.at(path.settled + 1).acceleration).toBe(0);
          for (let t = 0; t < path.settled + 0.1; t += 0.013) {
            const [a, b] = [path.at(t), path.at(t + 1e-6)];
            expect(Math.abs(a.acceleration)).toBeLessThan(500 * (1 + 1e-9));
            expect(Math.abs(b.speed - a.speed)).toBeLessThan(500 * 1e-6 + 1e-7);
            expect(b.position - a.position).toBeCloseTo(a.speed * 1e-6, 8);
          }
        },
      ),
      { seed: 5, numRuns: 150 },
    );
  });

  it('comes to a place when it is there, forwards, backwards and at the end of a ramp', () => {
    const path = new MotionPath(0, 100);
    path.command(0, 20);
    // 0.2 s and 2 units of ramp, then 20 a second.
    expect(path.reaches(2, 0)).toBeCloseTo(0.2, 12);
    expect(path.reaches(12, 0)).toBeCloseTo(0.7, 12);
    path.command(1, -20);
    // At 1 s it is at 18; it turns at 20 and comes back.
    expect(path.reaches(20, 0)).toBeCloseTo(1.2, 12);
    expect(path.reaches(18, 1.01)).toBeCloseTo(1.4, 12);
    expect(path.reaches(21, 0)).toBeUndefined();
    expect(path.extent(2)).toMatchObject({ lowest: 0, highest: 20 });
    path.block(1.5);
    expect(path.at(3)).toMatchObject({ speed: 0, position: path.at(1.5).position });
  });
});
