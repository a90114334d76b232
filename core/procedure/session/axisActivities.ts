import { enableSteps, goToStartSteps, homeSteps, jogSteps, testMoveSteps } from './axisScripts.ts';
import { beginActivity } from './beginActivity.ts';
import { guidedJog } from './guidedJog.ts';
import { forcedBecause } from './forcingInputs.ts';
import { homingRefusal } from './homingRefusal.ts';
import { homingSeriesSteps, seriesRefusal } from './homingSeries.ts';
import { lineTooSlow } from './lineCycle.ts';
import type { AxisMotionPlan } from './memberPlan.ts';
import { noWatchdog } from './planChecks.ts';
import { otherMotor, plateComparisons } from './reportedMotor.ts';
import type { SessionMessage } from './sessionMessages.ts';
import type { SessionActivity } from './sessionState.ts';
import type { Step } from './step.ts';
import { mayPress } from './stopping.ts';
import { driveState, isPowered, isStale, set, stands, tell, type Turn } from './turn.ts';
import { onlyWatched, tooSlow } from './watched.ts';

const axisMotion = ({ state: { plan } }: Turn): AxisMotionPlan | string =>
  plan?.motion.kind === 'axis'
    ? plan.motion
    : plan?.motion.kind === 'unknown'
      ? plan.motion.because
      : 'A spindle cannot do that.';

/** Switches the motor on, where nothing speaks against it. */
export function enable(turn: Turn, window: string, isPropped: boolean): void {
  const { state, now } = turn;
  const motion = axisMotion(turn);
  if (typeof motion === 'string') return tell(turn, window, motion);
  if (motion.guide.isPair)
    return tell(
      turn,
      window,
      'Two motors move this axis, and over this link only one of them would be enabled. Move it from its controller, which commands both.',
    );
  if (isStale(state, now)) return tell(turn, window, tooSlow(turn));
  const unwatched = state.profile && noWatchdog(state.profile, 'watchdogTime');
  if (unwatched !== undefined) return tell(turn, window, unwatched);
  const forced = forcedBecause(turn);
  if (forced !== undefined) return tell(turn, window, forced);
  const slow = lineTooSlow(state);
  if (slow !== undefined) return tell(turn, window, slow);
  const { plan, profile, reported } = state;
  const motor = plan && profile && otherMotor(plateComparisons(plan, profile, reported));
  if (motor !== undefined) return tell(turn, window, motor);
  const drive = driveState(state, now);
  // A drive that stays in quick stop active when it stands is taken on from there.
  if (isPowered(drive) && !(drive === 'quick stop active' && stands(state) && state.isOurs))
    return tell(turn, window, state.permits.enable ? 'The drive is enabled already.' : onlyWatched);
  if (motion.isSuspended && !isPropped)
    return tell(
      turn,
      window,
      'The load is suspended, and no holding brake controlled by the drive is known. Prop the load, or confirm that the mechanics are self-locking.',
    );
  set(turn, { isLatched: false, linkMessage: '', beats: false });
  beginActivity(turn, window, 'enabling', enableSteps(motion));
}

/** Why the axis may not be moved now; undefined: it may. */
function notMovable({ state, now }: Turn): string | undefined {
  if (!state.permits.enable || driveState(state, now) !== 'operation enabled')
    return isStale(state, now) && state.permits.enable
      ? `The state of the drive is not known.`
      : 'Enable the drive first.';
  return undefined;
}

/** Begins a jog, or keeps it until the axis may be pressed on. */
export function jog(turn: Turn, window: string, message: Extract<SessionMessage, { type: 'jog' }>): void {
  const { state } = turn;
  const motion = axisMotion(turn);
  const because = typeof motion === 'string' ? motion : jogRefusal(turn, motion, message);
  if (typeof motion === 'string' || because !== undefined) return tell(turn, window, because ?? '');
  if (message.press <= (state.ended[window] ?? 0)) return;
  if (!mayPress(state)) return set(turn, { waitingPress: { window, message } });
  set(turn, { stop: undefined });
  const mode = state.status?.values.modeDisplay;
  beginActivity(turn, window, 'jogging', jogSteps(motion, message.direction * message.speed, mode), message.press);
}

function jogRefusal(
  turn: Turn,
  motion: AxisMotionPlan,
  { speed, direction }: Extract<SessionMessage, { type: 'jog' }>,
): string | undefined {
  const guided = guidedJog(turn.state);
  const planned = guided?.speed ?? motion.jogSpeed;
  if (planned === null) return 'No jog speed has been entered.';
  if (speed !== planned)
    return `A jog at ${speed} ${motion.unit}/s is not what is planned (${planned} ${motion.unit}/s).`;
  if (guided && !guided.directions.includes(direction)) return 'This step jogs in the other direction.';
  if (speed > motion.jogLimit)
    return `A jog at ${speed} ${motion.unit}/s is above ${Number(motion.jogLimit.toPrecision(4))} ${motion.unit}/s, limited by ${motion.jogLimitedBy}.`;
  return notMovable(turn);
}

/** Begins a motion of an enabled axis. */
function move(
  turn: Turn,
  window: string,
  activity: SessionActivity,
  stepsOf: (motion: AxisMotionPlan) => readonly Step[] | string,
): void {
  const motion = axisMotion(turn);
  if (typeof motion === 'string') return tell(turn, window, motion);
  const because = notMovable(turn);
  if (because !== undefined) return tell(turn, window, because);
  const steps = stepsOf(motion);
  if (typeof steps === 'string') return tell(turn, window, steps);
  beginActivity(turn, window, activity, steps);
}

/** How far from the start of a test move the axis may stand: a thousandth of the distance. */
export const startTolerance = (motion: AxisMotionPlan, distance: number): number =>
  Math.max(Math.abs(distance) / 1000, 10 * Math.abs(motion.unitsPerCount));

const position = ({ state: { status } }: Turn, motion: AxisMotionPlan): number =>
  (status?.values.positionCounts ?? NaN) * motion.unitsPerCount;

function testMoveOf({ state: { status } }: Turn, { testMove, softLimits }: AxisMotionPlan) {
  if ('because' in testMove) return testMove.because;
  if (status?.values.homed !== 1) return 'Home the axis first: a test move runs between two positions.';
  const ends = [testMove.from, testMove.from + testMove.distance];
  const { minus, plus } = softLimits;
  if (ends.some((end) => (minus !== null && end < minus) || (plus !== null && end > plus)))
    return 'The test move leaves the soft limits.';
  return testMove;
}

export const home = (turn: Turn, window: string): void =>
  move(turn, window, 'homing', (motion) => homingRefusal(turn, motion) ?? homeSteps(motion));

export const homeSeries = (turn: Turn, window: string, starts: readonly number[]): void =>
  move(turn, window, 'homing series', (motion) => {
    const because = homingRefusal(turn, motion) ?? seriesRefusal(turn, motion, starts);
    if (because !== undefined) return because;
    set(turn, {
      homingSeries: { of: starts.length + 1, zeros: [], startedAt: turn.now, by: 'drive', isPaused: false },
    });
    return homingSeriesSteps(motion, starts);
  });

export const goToStart = (turn: Turn, window: string): void =>
  move(turn, window, 'going to start', (motion) => {
    const test = testMoveOf(turn, motion);
    return typeof test === 'string' ? test : goToStartSteps(motion, test);
  });

export const testMove = (turn: Turn, window: string): void =>
  move(turn, window, 'test move', (motion) => {
    const test = testMoveOf(turn, motion);
    if (typeof test === 'string') return test;
    const off = Math.abs(position(turn, motion) - test.from);
    // Not where it is known to stand: a position that is not known is no start either.
    return !(off <= startTolerance(motion, test.distance))
      ? `The axis is ${off.toPrecision(3)} ${motion.unit} away from the start of the test move. Go to the start first.`
      : testMoveSteps(motion, test);
  });
