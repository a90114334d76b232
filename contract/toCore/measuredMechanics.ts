import type { AxisValues } from '@kavrid/core/chain';
import { valueOf, type Evaluation } from '@kavrid/core/sheet';
import type { IdentifiedMechanics } from '@kavrid/core/tuning';
import type { AxisDocument } from '../documents.ts';
import { unitsPerRadian } from './unitsPerRadian.ts';

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
  const [perRadian, ratedTorque] = [unitsPerRadian(results), valueOf(results.ratedTorque)];
  if (motor.form !== 'rotary' || !perRadian || !ratedTorque || !motor.rotorInertia) return undefined;
  const inertia = (found.torquePerAcceleration / 100) * ratedTorque * perRadian;
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
