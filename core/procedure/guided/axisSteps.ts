import type { GuidedStep } from './guidedStep.ts';
import { beforePowerSteps } from './steps/beforePower.ts';
import { controlSupplySteps } from './steps/controlSupply.ts';
import { firstMotionSteps } from './steps/firstMotion.ts';
import { handBackSteps } from './steps/handBack.ts';
import { machineTestSteps } from './steps/machineTest.ts';
import { homingSteps } from './steps/homing.ts';
import { mainPowerSteps } from './steps/mainPower.ts';
import { stopSteps } from './steps/stops.ts';

/** Every guided step of an axis: first power, stops, machine test, homing, in the order in which they are done. */
export const axisSteps = {
  ...controlSupplySteps,
  ...beforePowerSteps,
  ...mainPowerSteps,
  ...firstMotionSteps,
  ...handBackSteps,
  ...stopSteps,
  ...machineTestSteps,
  ...homingSteps,
} as const satisfies Record<string, GuidedStep>;
