import { operationMode, parameterOfRole, toRaw, type DriveProfile } from '../../drive/index.ts';
import type { Drill } from '../guided/index.ts';
import { enableSteps, jogSteps, relativeMoveSteps } from './axisScripts.ts';
import type { AxisMotionPlan, MemberPlan } from './memberPlan.ts';
import { enableRoles } from './planChecks.ts';
import type { Step } from './step.ts';

/** % of rated torque → a step that sets it for now; never above what is planned. */
function torqueSteps(profile: DriveProfile, motion: AxisMotionPlan, percent: number): readonly Step[] {
  const parameter = parameterOfRole(profile, 'torqueLimit');
  const raw = parameter && toRaw(parameter, Math.min(percent, motion.guide.plannedTorqueLimit ?? percent));
  return raw && 'raw' in raw ? [{ do: 'set temporarily', role: 'torqueLimit', raw: raw.raw }] : [];
}

/** The following-error window in axis units → a step that sets it for now, in the unit of the drive. */
function windowSteps(
  profile: DriveProfile,
  plan: MemberPlan,
  motion: AxisMotionPlan,
  window: number,
): readonly Step[] | string {
  const parameter = parameterOfRole(profile, 'followingErrorWindow');
  const planned = parameter && plan.planned[parameter.key];
  const { followingErrorWindow } = motion.guide;
  if (!parameter || planned === undefined || !followingErrorWindow)
    return 'The following-error window of this drive is not planned, or not in its register map.';
  const raw = toRaw(parameter, (planned * window) / followingErrorWindow);
  return 'raw' in raw
    ? [{ do: 'set temporarily', role: 'followingErrorWindow', raw: Math.max(1, raw.raw) }]
    : raw.because;
}

/** Checks, sets a low torque limit for now, and enables: in this order. */
function enabled(
  profile: DriveProfile,
  motion: AxisMotionPlan,
  percent: number,
  more: readonly Step[] = [],
): readonly Step[] {
  const [check, ...rest] = enableSteps(motion);
  return [...(check ? [check] : []), ...torqueSteps(profile, motion, percent), ...more, ...rest];
}

/** What the drive is made to do for a step, as steps of the session; a text: why it cannot. */
export function drillSteps(
  drill: Drill,
  {
    plan,
    profile,
    motion,
    position,
    percent,
  }: {
    readonly plan: MemberPlan;
    readonly profile: DriveProfile;
    readonly motion: AxisMotionPlan;
    /** axis units, where it stands now */
    readonly position: number;
    /** The torque limit, in % of rated torque. */
    readonly percent: number;
  },
): readonly Step[] | string {
  switch (drill.kind) {
    case 'compare':
      return [{ do: 'check', roles: enableRoles }];
    case 'stand':
      return [...enabled(profile, motion, percent), { do: 'dwell', seconds: drill.seconds }];
    case 'withhold':
      return [
        ...enabled(profile, motion, percent),
        { do: 'withhold' },
        { do: 'await', what: 'Disabling without a sign of life', until: { is: 'disabled' }, seconds: withholdTime },
      ];
    case 'bump':
      return [
        ...enabled(profile, motion, drill.torque),
        { do: 'dwell', seconds: 0.3 },
        ...relativeMoveSteps(motion, position, drill.distance, motion.jogAcceleration),
        { do: 'dwell', seconds: 0.3 },
      ];
    case 'jog':
      return enabled(profile, motion, percent);
    case 'alarm': {
      const window = windowSteps(profile, plan, motion, drill.window);
      if (typeof window === 'string') return window;
      return [
        ...enabled(profile, motion, percent, window),
        ...jogSteps(motion, drill.speed, operationMode.profileVelocity).filter(({ do: kind }) => kind === 'write'),
        { do: 'dwell', seconds: drill.seconds },
      ];
    }
    case 'stop':
      return 'This stop is not made from here.';
  }
}

/** s in which a drive without a sign of life must have disabled */
export const withholdTime = 3;
