import type { LoopModel } from '../tuning/index.ts';
import { smoothServo } from './smoothServo.ts';

/** The loops of {@link smoothServo}, with an integral and the lags of a common drive. */
export const stiffLoops: LoopModel = {
  motorInertia: smoothServo.rotorInertia,
  loadInertia: smoothServo.loadInertia,
  stiffness: undefined,
  damping: 0,
  torqueTimeConstant: 0.0005,
  filterTime: 0.0003,
  deadTime: 0,
  speedGain: 300 * (smoothServo.rotorInertia + smoothServo.loadInertia),
  speedIntegralTime: 0.03,
  positionGain: 30,
};

/** Multiplicative congruential generator of Park and Miller (1988). */
export function parkMiller(seed: number): () => number {
  let state = seed;
  return () => (state = (state * 48271) % 2147483647) / 2147483647;
}
