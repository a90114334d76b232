import { isBehind, type GuidedStep, type StepContext } from './guidedStep.ts';
import { beforePowerSteps } from './steps/beforePower.ts';
import { controlSupplySteps } from './steps/controlSupply.ts';
import { firstMotionSteps } from './steps/firstMotion.ts';
import { handBackSteps } from './steps/handBack.ts';
import { machineTestSteps } from './steps/machineTest.ts';
import { mainPowerSteps } from './steps/mainPower.ts';
import { stopSteps } from './steps/stops.ts';

/** Every guided step of an axis: first power, stops, machine test, in the order in which they are done. */
export const axisSteps = {
  ...controlSupplySteps,
  ...beforePowerSteps,
  ...mainPowerSteps,
  ...firstMotionSteps,
  ...handBackSteps,
  ...stopSteps,
  ...machineTestSteps,
} as const satisfies Record<string, GuidedStep>;
export type AxisStepId = keyof typeof axisSteps;

const steps: Readonly<Record<string, GuidedStep>> = axisSteps;

export const stepOf = (id: string): GuidedStep | undefined => (Object.hasOwn(steps, id) ? steps[id] : undefined);

/** The steps that this axis has. */
export const stepsFor = (context: StepContext): readonly string[] =>
  Object.keys(steps).filter((id) => steps[id]?.applies(context));

/** Titles of the steps that have to be behind before this one may begin. */
export const neededBefore = (id: string, context: StepContext): readonly string[] =>
  (steps[id]?.needs ?? []).flatMap((needed) => {
    const step = steps[needed];
    return step?.applies(context) && !isBehind(context.results[needed]) ? [step.title] : [];
  });
