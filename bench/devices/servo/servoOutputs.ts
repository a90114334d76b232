import type { ParameterStore } from '../parameterStore.ts';
import type { ServoMechanics } from './servoMechanics.ts';

/** Counts at the encoder output, four for each pulse. */
export const encoderOutput = ({ sense, servo, world }: ServoMechanics, parameters: ParameterStore): number =>
  Math.floor((sense * servo.actualCounts * 4 * parameters.value('encoderOutputPulses')) / world.countsPerRevolution);

/** V at the analog output that shows speed (10 V: 5000 rpm), torque (10 V: 300 %) or following error (10 V: one turn). */
export function monitorVolts(mechanics: ServoMechanics, parameters: ParameterStore): number {
  const { velocityCounts, torque, followingErrorCounts, world } = mechanics;
  const shares = [
    ((velocityCounts / world.countsPerRevolution) * 60) / 5000,
    torque / 3000,
    followingErrorCounts / world.countsPerRevolution,
  ];
  return Math.max(-10, Math.min(10, 10 * (shares[parameters.value('monitorSource')] ?? 0)));
}
