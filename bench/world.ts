import type { World } from './servoDevice.ts';

const countsPerRevolution = 2 ** 20;
const countsPerMillimetre = (countsPerRevolution * 3) / 320;

/**
 * The carriage of the demo cell as it really is: a little heavier and stiffer to move than its plates say, which is
 * what makes a comparison with the prediction worth looking at. It stands 640 mm from the minus limit.
 */
export const carriageWorld: World = {
  countsPerRevolution,
  rotorInertia: 1.6e-4,
  loadInertia: 2.62e-3,
  coulombFriction: 0.96,
  viscousFriction: 0.0006,
  gravityTorque: 0,
  ratedTorque: 2.39,
  peakTorque: 7.16,
  minusLimit: 0,
  plusLimit: Math.round(1885 * countsPerMillimetre),
  indexOffset: 391000,
  startCounts: Math.round(640 * countsPerMillimetre),
};
