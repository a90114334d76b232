import { rank } from '../finding.ts';
import * as absolute from './absolute.ts';
import type { CheckedHoming, HomingCheck, HomingFinding } from './checkedHoming.ts';
import * as plan from './plan.ts';
import * as switches from './switches.ts';

const checks: readonly HomingCheck[] = [...Object.values(switches), ...Object.values(plan), ...Object.values(absolute)];

/** All findings of a homing, the gravest first. */
export const homingFindingsOf = (homing: CheckedHoming): readonly HomingFinding[] =>
  checks.flatMap((check) => check(homing)).sort((a, b) => rank[a.severity] - rank[b.severity]);
