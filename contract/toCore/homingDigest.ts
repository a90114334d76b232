import { settingsDigest } from '@kavrid/core/evidence';
import type { AxisDocument } from '../documents.ts';

/** Of what a measured homing or position depends on in the plan: another text, and it has to be measured again. */
export const homingDigest = ({ homing, gear, stages, settings, motor, pair }: AxisDocument): string =>
  settingsDigest({ plan: JSON.stringify([homing, gear, stages, settings.rotationSense, motor, pair]) });
