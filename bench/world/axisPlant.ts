import { servoCoefficients, servoState, stepServo, type ServoDefinition, type ServoState } from '@kavrid/core/plant';

/** A servo drive's loops with its motor and mechanics, stepped in time. */
export interface AxisPlant {
  readonly state: ServoState;
  /** From now on it is as it is described. */
  change(definition: ServoDefinition): void;
  /** One step. @param demand increments, rad/s or N·m, as the definition says what it is commanded by */
  step(demand: number): void;
}

/** Makes a plant that stands at a position in counts. */
export type MakePlant = (startCounts: number, definition: ServoDefinition) => AxisPlant;

/** The plant that predictions are made with. */
export const corePlant: MakePlant = (startCounts, definition) => {
  const state = servoState(startCounts, definition.countsPerRevolution);
  let coefficients = servoCoefficients(definition);
  return {
    state,
    change: (next) => void (coefficients = servoCoefficients(next)),
    step: (demand) => stepServo(coefficients, state, demand),
  };
};
