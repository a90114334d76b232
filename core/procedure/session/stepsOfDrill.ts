import { motionTorque, timeAtSpeed, type Drill } from '../guided/index.ts';
import { leftByStep } from './driveDataMessages.ts';
import { forcedBecause } from './forcingInputs.ts';
import { drillSteps, spindleDrillSteps, type StopRun } from './guidedScripts.ts';
import { homingRefusal } from './homingRefusal.ts';
import { lineTooSlow } from './lineCycle.ts';
import type { AxisMotionPlan } from './memberPlan.ts';
import { noWatchdog } from './planChecks.ts';
import { otherMotor, plateComparisons } from './reportedMotor.ts';
import type { GuidedRun } from './sessionState.ts';
import type { Step } from './step.ts';
import { motionOf, stepContext } from './stepContext.ts';
import { driveState, isPowered, isStale, stands, type Turn } from './turn.ts';
import { onlyWatched, tooSlow } from './watched.ts';

/** What a drill makes the drive do now, as steps of the session; a text: why it is not made. */
export function stepsOfDrill(turn: Turn, run: GuidedRun, drill: Drill): readonly Step[] | string {
  const because = drill.kind === 'compare' ? undefined : notDrillable(turn);
  if (because !== undefined) return because;
  const motion = motionOf(turn.state);
  return motion?.kind === 'axis' ? axisDrill(turn, motion, run, drill) : spindleDrill(turn, drill);
}

/** Why the motor may not be switched on for a step now; undefined: it may. */
function notDrillable(turn: Turn): string | undefined {
  const { state, now } = turn;
  const { plan, profile, reported } = state;
  if (isStale(state, now)) return tooSlow(turn);
  if (leftByStep(state).length > 0) return 'Settings of the last step are being put back. Try again in a moment.';
  const drive = driveState(state, now);
  if (isPowered(drive)) return state.permits.enable ? 'Disable the drive first.' : onlyWatched;
  if (drive === 'fault') return 'The drive has a fault. Find its cause, then reset it.';
  if (!stands(state)) return 'It is still turning. Wait until it has come to rest.';
  return (
    (profile && noWatchdog(profile, plan?.memberKind === 'spindle' ? 'busTimeOut' : 'watchdogTime')) ??
    forcedBecause(turn) ??
    lineTooSlow(state) ??
    (plan && profile && otherMotor(plateComparisons(plan, profile, reported)))
  );
}

function axisDrill(turn: Turn, motion: AxisMotionPlan, run: GuidedRun, drill: Drill): readonly Step[] | string {
  const { plan, profile, status, watchdog } = turn.state;
  const context = stepContext(turn.state, run.given);
  if (!plan || !profile || context?.kind !== 'axis') return 'There is no plan.';
  const counts = status?.values.positionCounts;
  if (counts === undefined && drill.kind === 'bump') return 'The position of the drive is not known.';
  const refusal = drill.kind === 'home' ? homingRefusal(turn, motion) : undefined;
  if (refusal !== undefined) return refusal;
  const torque = motionTorque(context);
  if (!('percent' in torque)) return `${torque.because}.`;
  const stopRun = drill.kind === 'stop' ? roomierWay(turn, motion, drill) : undefined;
  if (typeof stopRun === 'string') return stopRun;
  return drillSteps(drill, {
    plan,
    profile,
    motion,
    position: (counts ?? 0) * motion.unitsPerCount,
    percent: torque.percent,
    watchdog: (watchdog ?? 1000) / 1000,
    ...(stopRun ? { stopRun } : {}),
  });
}

function spindleDrill({ state: { profile, plan, watchdog } }: Turn, drill: Drill): readonly Step[] | string {
  return profile && plan?.motion.kind === 'spindle'
    ? spindleDrillSteps(drill, profile, plan.motion, (watchdog ?? 1000) / 1000)
    : 'There is no plan.';
}

/** The direction with more room for a stop drill, and how long it may stay at speed; a text: why it is not made. */
function roomierWay(
  { state: { status, watchdog } }: Turn,
  { guide, softLimits, unitsPerCount }: AxisMotionPlan,
  { way, speed }: Extract<Drill, { readonly kind: 'stop' }>,
): StopRun | string {
  const position = (status?.values.positionCounts ?? NaN) * unitsPerCount;
  const { minus, plus } = softLimits;
  if (!guide.isEndless && (status?.values.homed !== 1 || minus === null || plus === null))
    return 'Home the axis first, and plan its soft limits: a stop is measured only where the room for it is known.';
  const [towardsPlus, towardsMinus] = [(plus ?? Infinity) - position, position - (minus ?? -Infinity)];
  const room = guide.isEndless ? Infinity : Math.max(towardsPlus, towardsMinus);
  const seconds = timeAtSpeed(guide, way, speed, (watchdog ?? 200) / 1000, room);
  if (typeof seconds === 'string') return seconds;
  return { sense: guide.isEndless || towardsPlus >= towardsMinus ? 1 : -1, seconds };
}
