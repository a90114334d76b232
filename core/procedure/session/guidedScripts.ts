import { controlword, operationMode, parameterOfRole, toRaw, type DriveProfile } from '../../drive/index.ts';
import type { StopWay } from '../../motion/index.ts';
import type { Drill } from '../guided/index.ts';
import { enableSteps, homeSteps, jogSteps, relativeMoveSteps } from './axisScripts.ts';
import type { AxisMotionPlan, MemberPlan, SpindleMotionPlan } from './memberPlan.ts';
import { enableRoles, spindleRoles } from './planChecks.ts';
import { referenceCounts, runSpindleSteps } from './spindleScripts.ts';
import type { Condition, Step } from './step.ts';

/** % of rated torque → a step that sets it for now; never above what is planned. */
export function torqueSteps(profile: DriveProfile, motion: AxisMotionPlan, percent: number): readonly Step[] {
  const parameter = parameterOfRole(profile, 'torqueLimit');
  const raw = parameter && toRaw(parameter, Math.min(percent, motion.guide.plannedTorqueLimit ?? percent));
  return raw && 'raw' in raw ? [{ do: 'set temporarily', role: 'torqueLimit', raw: raw.raw }] : [];
}

/** The following-error window in axis units → a step that sets it for now, in the unit of the drive. */
export function windowSteps(
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
    watchdog,
    stopRun,
  }: {
    readonly plan: MemberPlan;
    readonly profile: DriveProfile;
    readonly motion: AxisMotionPlan;
    /** axis units, where it stands now */
    readonly position: number;
    /** The torque limit, in % of rated torque. */
    readonly percent: number;
    /** s, of the drive */
    readonly watchdog: number;
    readonly stopRun?: StopRun;
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
        {
          do: 'await',
          what: 'Disabling without a heartbeat',
          until: { is: 'disabled' },
          seconds: 1 + 1.5 * watchdog,
        },
      ];
    case 'bump':
      return [
        ...enabled(profile, motion, drill.torque),
        { do: 'dwell', seconds: 0.3 },
        ...relativeMoveSteps(motion, position, drill.distance, motion.jogAcceleration),
        // One that is held pushes harder and harder.
        { do: 'dwell', seconds: 1 },
      ];
    case 'jog':
      return enabled(profile, motion, percent);
    case 'home':
      return [...enableSteps(motion), ...homeSteps(motion, 'Homing', false)];
    case 'alarm': {
      const window = windowSteps(profile, plan, motion, drill.window);
      if (typeof window === 'string') return window;
      return [
        ...enabled(profile, motion, percent, window),
        ...jogSteps(motion, drill.speed, operationMode.profileVelocity).filter(({ do: kind }) => kind === 'write'),
        { do: 'dwell', seconds: drill.seconds },
      ];
    }
    case 'spin':
      return 'An axis cannot do that.';
    case 'stop':
      return stopRun ? stopDrillSteps(motion, drill, stopRun) : 'There is no room for it.';
  }
}

/** What the drive of a spindle is made to do; it is stopped on its ramp at the end. A text: why it cannot. @param timeOut s */
export function spindleDrillSteps(
  drill: Drill,
  profile: DriveProfile,
  motion: SpindleMotionPlan,
  timeOut: number,
): readonly Step[] | string {
  if (drill.kind === 'compare') return [{ do: 'check', roles: spindleRoles }];
  if (drill.kind !== 'spin') return 'A spindle cannot do that.';
  const counts = referenceCounts(profile, drill.speed * motion.hertzPerToolRpm);
  if (counts === undefined) return 'This speed does not fit the 16 bits of the speed reference.';
  const run = runSpindleSteps(counts, false, false).filter(({ do: kind }) => kind !== 'hold');
  return [
    ...run,
    { do: 'dwell', seconds: motion.guide.rampUp + drill.seconds },
    ...(drill.isWithheld
      ? ([
          { do: 'mark' },
          { do: 'withhold' },
          {
            do: 'await',
            what: 'Stopping without a heartbeat',
            until: { is: 'disabled' },
            seconds: 1 + 1.5 * (timeOut + motion.rampDown),
          },
        ] as const)
      : []),
  ];
}

/** Which way a stop drill goes, and how many s it stays at its speed. */
export interface StopRun {
  readonly sense: 1 | -1;
  readonly seconds: number;
}

/** Runs up to a speed, and is stopped. The torque limit is the planned one. */
function stopDrillSteps(
  motion: AxisMotionPlan,
  { way, speed }: Extract<Drill, { readonly kind: 'stop' }>,
  { sense, seconds }: StopRun,
): readonly Step[] {
  const counts = (sense * speed) / motion.unitsPerCount;
  const runUp = speed / motion.jogAcceleration;
  const order = stopOrders[way];
  return [
    ...enableSteps(motion),
    ...jogSteps(motion, sense * speed, operationMode.profileVelocity).filter(({ do: kind }) => kind === 'write'),
    { do: 'await', what: 'Reaching the speed', until: { is: 'at speed', countsPerSecond: counts }, seconds: runUp + 2 },
    ...('byHand' in order
      ? ([
          { do: 'tell', progress: order.byHand },
          { do: 'await', what: 'The stop by hand', until: order.until, seconds },
        ] as const)
      : [{ do: 'dwell', seconds } as const, { do: 'mark' } as const, order.step]),
    { do: 'await', what: 'Coming to rest', until: { is: 'at rest' }, seconds: 30 },
  ];
}

/** What ends the motion, for each way of stopping: an order over the link, or a hand. */
const stopOrders: Readonly<
  Record<StopWay, { readonly step: Step } | { readonly byHand: string; readonly until: Condition }>
> = {
  ramp: { step: { do: 'write', register: 'targetVelocity', raw: 0 } },
  'quick stop': { step: { do: 'write', register: 'controlword', raw: controlword.quickStop } },
  coast: { step: { do: 'write', register: 'controlword', raw: controlword.disableVoltage } },
  'lost link': { step: { do: 'withhold' } },
  'limit switch': { byHand: 'Trip the limit switch now', until: { is: 'at rest' } },
  'safe torque off': { byHand: 'Press the hardware stop now', until: { is: 'disabled' } },
  'supply cut': { byHand: 'Cut the main supply now', until: { is: 'disabled' } },
};
