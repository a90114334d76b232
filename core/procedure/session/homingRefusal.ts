import { parameterOfRole } from '../../drive/index.ts';
import type { AxisMotionPlan } from './memberPlan.ts';
import type { Turn } from './turn.ts';

/** Values that decide where a homing goes, and what is said where the drive has one and the plan cannot say which. */
const decisive = [
  [
    'homingMethod',
    'The planned homing method has no number in this drive. Choose one of its methods, or add its number to the register map.',
  ],
  [
    'homeOffset',
    'The register map does not say what the home offset of this drive means. Add the row “profile,home offset”, or let home read 0.',
  ],
] as const;

/** Why the drive is not homed by the plan; undefined: it can be. */
export function homingRefusal({ state: { plan, profile } }: Turn, motion: AxisMotionPlan): string | undefined {
  if (motion.homingBy !== 'drive')
    return 'The plan says that the controller homes this axis. Home it there, or plan homing by the drive.';
  return decisive.find(([role]) => {
    const key = profile && parameterOfRole(profile, role)?.key;
    return key !== undefined && plan?.planned[key] === undefined;
  })?.[1];
}
