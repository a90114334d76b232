import type { AxisValues } from '@kavrid/core/chain';
import { multiply, toNumber } from '@kavrid/core/quantity';
import { valueOf, type Evaluation } from '@kavrid/core/sheet';
import type { IdentifiedMechanics } from '@kavrid/core/tuning';
import type { AxisDocument } from '../documents.ts';

/** Inertia as it was measured, at the motor, beside the computed one; kg·m² and load over rotor. */
export interface MeasuredMechanics {
  readonly inertia: number;
  readonly inertiaRatio: number;
  /** undefined: not computed */
  readonly computedInertia: number | undefined;
  readonly computedRatio: number | undefined;
  /** ± 95 %, as a share */
  readonly uncertainty: number;
  /** % of rated torque */
  readonly friction: number;
  readonly gravity: number;
}

/** What moves tell of the mechanics in the units of a data sheet; undefined for a linear motor, or where a plate is missing. */
export function measuredMechanics(
  { motor }: Pick<AxisDocument, 'motor'>,
  results: Evaluation<AxisValues>,
  found: IdentifiedMechanics,
): MeasuredMechanics | undefined {
  const [counts, resolution, ratedTorque] = [
    valueOf(results.countsPerRevolution),
    valueOf(results.feedbackResolution),
    valueOf(results.ratedTorque),
  ];
  if (motor.form !== 'rotary' || !counts || !resolution || !ratedTorque || !motor.rotorInertia) return undefined;
  const radiansPerUnit = (2 * Math.PI) / toNumber(multiply(counts, resolution));
  const inertia = ((found.torquePerAcceleration / 100) * ratedTorque) / radiansPerUnit;
  const reflected = valueOf(results.reflectedInertia);
  return {
    inertia,
    inertiaRatio: inertia / motor.rotorInertia - 1,
    computedInertia: reflected === undefined ? undefined : reflected + motor.rotorInertia,
    computedRatio: reflected === undefined ? undefined : reflected / motor.rotorInertia,
    uncertainty: found.uncertainty,
    friction: found.coulombTorque,
    gravity: found.gravityTorque,
  };
}
