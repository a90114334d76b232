import type { AxisInput } from '../chain/index.ts';
import { planMove } from '../motion/index.ts';
import { exact, rational } from '../quantity/index.ts';
import { known } from '../sheet/index.ts';

/** A carriage on a belt: 20-bit encoder, 3:1 gearbox, 32 teeth of 10 mm, 10 µm a pulse. */
export const carriage: AxisInput = {
  motionKind: 'linear',
  axisUnit: 'mm',
  endless: false,
  travel: known(exact(1850)),
  outputPerTurn: known(exact(1)),
  stages: [
    { kind: 'gearbox', ratio: known(exact(3)), reverses: false, efficiency: known(0.96), inertia: known(2e-5) },
    {
      kind: 'beltDrive',
      teeth: known(exact(32)),
      pitch: known(exact(10)),
      reverses: false,
      efficiency: known(0.95),
      inertia: known(1e-3),
    },
  ],
  encoderCycles: known(exact(1048576)),
  countsPerCycle: known(exact(1)),
  gearNumerator: known(exact(12288)),
  gearDenominator: known(exact(125)),
  gearLimits: known({
    numeratorMax: 2147483647n,
    denominatorMax: 2147483647n,
    ratioMin: rational(1, 1000),
    ratioMax: rational(64000),
  }),
  controllerPulseRate: known(200000),
  driveInputRate: known(4000000),
  motorTopSpeed: known(3000),
  counterBits: known(32),
  wantedResolution: known(exact(1, 100)),
  wantedSpeed: known(1500),
  commandInverted: false,
  plusIsClockwise: false,
  movedMass: known(8),
  loadInertia: known(0),
  frictionLoad: known(45),
  incline: known(0),
  rotorInertia: known(1.3e-4),
  ratedTorque: known(2.39),
  peakTorque: known(7.16),
  testMove: known(planMove(800, { speed: 1200, acceleration: 4000, jerk: 40000 })),
  dwell: known(0.3),
};
