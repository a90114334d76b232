import type { AxisWorld } from '../devices/servo/servoMechanics.ts';
import type { BrushlessWorld } from '../devices/brushless/brushlessDevice.ts';
import type { StepperWorld } from '../devices/stepper/stepperMechanics.ts';
import type { SpindleWorld } from '../devices/spindle/spindleDevice.ts';

const countsPerRevolution = 2 ** 20;
const countsPerMillimetre = (countsPerRevolution * 3) / 320;

/**
 * The carriage of the demo cell as it really is: a little heavier and stiffer to move than its plates say, which is
 * what makes a comparison with the prediction worth looking at. It stands 640 mm from the minus limit.
 */
export const carriageWorld: AxisWorld = {
  countsPerRevolution,
  rotorInertia: 1.6e-4,
  loadInertia: 2.62e-3,
  // Belt and gearbox, from the load to the motor.
  stages: [
    { efficiency: 0.95, backDriveEfficiency: 0.95, inertia: 1.1e-4 },
    { efficiency: 0.96, backDriveEfficiency: 0.96, inertia: 2e-5 },
  ],
  coulombFriction: 0.875,
  viscousFriction: 0.0006,
  gravityTorque: 0,
  ratedTorque: 2.39,
  peakTorque: 7.16,
  minusLimit: 0,
  plusLimit: Math.round(1885 * countsPerMillimetre),
  minusStop: Math.round(-20 * countsPerMillimetre),
  plusStop: Math.round(1905 * countsPerMillimetre),
  homeSwitch: { from: Math.round(900 * countsPerMillimetre), to: Math.round(930 * countsPerMillimetre) },
  indexOffset: 391000,
  startCounts: Math.round(640 * countsPerMillimetre),
};

const liftCounts = 4000;
const liftCountsPerMillimetre = liftCounts / 10;

/**
 * The spray lift of the demo cell as it really is: a screw of 10 mm that holds its load by its own friction when the motor is off,
 * on a motor of 2 N·m with 1000 lines. It stands 120 mm above the lower limit.
 */
export const liftWorld: StepperWorld = {
  countsPerRevolution: liftCounts,
  inertia: 9.1e-5,
  coulombFriction: 0.13,
  viscousFriction: 0.0004,
  // 6 kg on 10 mm a turn.
  gravityTorque: 0.094,
  ratedTorque: 2,
  holdingTorque: 2.2,
  cornerSpeed: 90,
  minusLimit: 0,
  plusLimit: 300 * liftCountsPerMillimetre,
  homeSwitch: { from: 200 * liftCountsPerMillimetre, to: 212 * liftCountsPerMillimetre },
  startCounts: 120 * liftCountsPerMillimetre,
};

/** The glaze pump of the demo cell as it really is: a motor of 60 W whose gearbox turns a dosing head. */
export const pumpWorld: BrushlessWorld = {
  countsPerRevolution: 24,
  inertia: 1.3e-5,
  coulombFriction: 0.05,
  viscousFriction: 0.00008,
  ratedTorque: 0.19,
};

/**
 * The edge grinder of the demo cell as it really is, its motor in delta on 230 V: a little heavier and stiffer than its
 * plates say.
 */
export const grinderWorld: SpindleWorld = {
  poles: 2,
  ratedVolts: 230,
  ratedHertz: 50,
  ratedCurrent: 8,
  ratedTorque: 7.35,
  ratedSlip: 0.05,
  noLoadCurrent: 2.6,
  breakdown: 2.4,
  statorResistance: 0.72,
  inertia: 0.0088,
  friction: 0.41,
  windage: 0,
  tripVolts: 410,
  leastVolts: 200,
  capacitance: 0.00164,
  supplyVolts: 325,
  idlePower: 35,
  resistor: { ohms: 100, volts: 380 },
  driveCurrent: 15,
};

const feedCounts = 2 ** 20;
const feedCountsPerMillimetre = feedCounts / 5;

/** One of the two feed screws of the demo cell as it really is: half of the beam on a screw of 5 mm. It stands 150 mm from its minus limit. */
export const feedWorld: AxisWorld = {
  countsPerRevolution: feedCounts,
  rotorInertia: 5.6e-5,
  // 11.6 kg on 5 mm a turn, and the screw.
  loadInertia: 1.0e-4,
  stages: [{ efficiency: 0.89, backDriveEfficiency: 0.87, inertia: 7e-5 }],
  coulombFriction: 0.026,
  viscousFriction: 0.0002,
  gravityTorque: 0,
  ratedTorque: 1.27,
  peakTorque: 3.81,
  minusLimit: 0,
  plusLimit: Math.round(403 * feedCountsPerMillimetre),
  homeSwitch: { from: 0, to: Math.round(6 * feedCountsPerMillimetre) },
  indexOffset: 210000,
  startCounts: Math.round(150 * feedCountsPerMillimetre),
};

const tableCounts = 2 ** 20;
const tableWorm = 72;

/** The turntable of the demo cell as it really is: endless, on a worm of 72, with a flag of 8° once a turn. It stands a quarter turn from it. */
export const turntableWorld: AxisWorld = {
  countsPerRevolution: tableCounts,
  rotorInertia: 5.6e-5,
  // 1.15 kg·m² behind the worm, and the worm.
  loadInertia: 2.62e-4,
  stages: [{ efficiency: 0.62, backDriveEfficiency: 0.4, inertia: 4e-5 }],
  coulombFriction: 0.06,
  viscousFriction: 0.0004,
  gravityTorque: 0,
  ratedTorque: 1.27,
  peakTorque: 3.81,
  minusLimit: -Infinity,
  plusLimit: Infinity,
  homeSwitch: { from: 0, to: (tableCounts * tableWorm * 8) / 360, every: tableCounts * tableWorm },
  indexOffset: 524288,
  startCounts: (tableCounts * tableWorm) / 4,
};

const stopCounts = 2 ** 17;
const stopCountsPerMillimetre = stopCounts / 5;

/**
 * The tile stop of the demo cell as it really is: 4 kg on a vertical screw that its load can turn, held by a brake of 0.6 N·m while
 * the motor is off. It stands 30 mm above its lower limit.
 */
export const tileStopWorld: AxisWorld = {
  countsPerRevolution: stopCounts,
  rotorInertia: 3.1e-5,
  loadInertia: 1.15e-5,
  stages: [{ efficiency: 0.9, backDriveEfficiency: 0.88, inertia: 8e-6 }],
  coulombFriction: 0.011,
  viscousFriction: 0.0001,
  gravityTorque: 0.032,
  ratedTorque: 0.64,
  peakTorque: 1.91,
  minusLimit: 0,
  plusLimit: Math.round(101 * stopCountsPerMillimetre),
  minusStop: Math.round(-3 * stopCountsPerMillimetre),
  plusStop: Math.round(99.5 * stopCountsPerMillimetre),
  homeSwitch: { from: 0, to: Math.round(4 * stopCountsPerMillimetre) },
  indexOffset: 30000,
  startCounts: Math.round(30 * stopCountsPerMillimetre),
  brake: { torque: 0.6, releaseDelay: 0.035, engageDelay: 0.02 },
};
