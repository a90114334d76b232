import { leftByStep } from './driveDataMessages.ts';
import { enableSteps, fencedJogSteps, goToStartSteps, homeSteps, jogSteps, testMoveSteps } from './axisScripts.ts';
import { beginActivity } from './beginActivity.ts';
import { movePlan, outsideSoftLimits, tooLittleTorque } from './freeMoves.ts';
import { trialPlan } from './gainTrial.ts';
import { gainsOnTrial } from './heldGains.ts';
import { guidedJog } from './guidedJog.ts';
import { forcedBecause } from './forcingInputs.ts';
import { torqueSteps } from './guidedScripts.ts';
import { homingRefusal } from './homingRefusal.ts';
import { homingSeriesSteps, seriesRefusal } from './homingSeries.ts';
import { lineTooSlow } from './lineCycle.ts';
import type { AxisMotionPlan } from './memberPlan.ts';
import type { MoveOrder } from './movesPlan.ts';
import { noWatchdog } from './planChecks.ts';
import { otherMotor, plateComparisons } from './reportedMotor.ts';
import type { SessionMessage } from './sessionMessages.ts';
import type { SessionActivity } from './sessionState.ts';
import { slowJog } from './slowJog.ts';
import type { Step } from './step.ts';
import { change } from './scriptState.ts';
import { mayPress } from './stopping.ts';
import { driveState, isPowered, isStale, send, set, stands, tell, type Turn } from './turn.ts';
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
  if (message.by === 'fenced') {
    const steps = fencedJog(turn, motion, message);
    return typeof steps === 'string'
      ? tell(turn, window, steps)
      : beginActivity(turn, window, 'jogging', steps, message.press);
  }
  const steps = jogSteps(motion, message.direction * message.speed, mode).map((step) =>
    step.do === 'hold' ? { ...step, isLever: message.by === 'lever' } : step,
  );
  beginActivity(turn, window, 'jogging', steps, message.press);
}

/** Towards an end of the test move, with the torque limit of a press; there it stands quietly while it is held on. */
function fencedJog(
  turn: Turn,
  motion: AxisMotionPlan,
  { direction, speed }: Extract<SessionMessage, { type: 'jog' }>,
): readonly Step[] | string {
  const { status, profile } = turn.state;
  if (status?.values.homed !== 1) return 'Home the axis first: a fence is a position.';
  if ('because' in motion.testMove) return motion.testMove.because;
  const { from, distance } = motion.testMove;
  const fence = direction > 0 ? Math.max(from, from + distance) : Math.min(from, from + distance);
  const outside = outsideSoftLimits(motion, [fence]);
  if (outside !== undefined) return outside;
  const here = position(turn, motion);
  if (!(direction * (fence - here) >= 0))
    return `The axis is beyond the fence at ${fence} ${motion.unit}. Jog in the other direction.`;
  const { torque } = motion.moves.press;
  const weak = torque === null ? undefined : tooLittleTorque(motion, torque);
  if (weak !== undefined) return weak;
  const lowered = profile && torque !== null ? torqueSteps(profile, motion, torque) : [];
  const seconds = 10 + (2 * Math.abs(fence - here)) / speed;
  return [...lowered, ...fencedJogSteps(motion, fence, direction * speed, status.values.modeDisplay, seconds)];
}

/** The lever of a jog is held at another speed: nothing of it outlives its press, and none is above the limit of a jog. */
export function jogSpeed(
  turn: Turn,
  window: string,
  { press, speed }: Extract<SessionMessage, { type: 'jogSpeed' }>,
): void {
  const { script, permits, plan } = turn.state;
  const permit = permits.act;
  const motion = plan?.motion;
  const step = script?.steps[script.at];
  const isMine = permit?.window === window && permit.press === press && permit.version === plan?.version;
  if (
    script?.activity !== 'jogging' ||
    step?.do !== 'hold' ||
    step.isLever !== true ||
    !permit ||
    !isMine ||
    motion?.kind !== 'axis'
  )
    return;
  const most = motion.jogLimit;
  const raw = Math.round(Math.sign(speed) * Math.min(Math.abs(speed), most) * motion.incrementsPerUnit);
  // One at a time; a speed that the drive does not take ends the jog.
  if (script.waitsFor !== undefined) return;
  const id = send(turn, 'script', { kind: 'write', register: 'targetVelocity', raw }, { permit, isMotion: true });
  change(turn, { waitsFor: id });
}

function jogRefusal(
  turn: Turn,
  motion: AxisMotionPlan,
  { speed, direction, by }: Extract<SessionMessage, { type: 'jog' }>,
): string | undefined {
  const guided = guidedJog(turn.state);
  const jogSpeed = by === 'slow' && motion.jogSpeed !== null ? slowJog(motion.jogSpeed) : motion.jogSpeed;
  const planned = guided?.speed ?? jogSpeed;
  if (by !== 'lever' && planned === null) return 'No jog speed has been entered.';
  if (guided && by !== undefined) return 'This step jogs by its own buttons.';
  if (by !== 'lever' && speed !== planned)
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
  const because = notMovable(turn) ?? loweredBecause(turn);
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

function testMoveOf({ state: { status } }: Turn, motion: AxisMotionPlan) {
  const { testMove } = motion;
  if ('because' in testMove) return testMove.because;
  if (status?.values.homed !== 1) return 'Home the axis first: a test move runs between two positions.';
  return outsideSoftLimits(motion, [testMove.from, testMove.from + testMove.distance]) ?? testMove;
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

/** A move other than the test move, by the values of the plan; refused before anything moves. */
export function makeMove(turn: Turn, window: string, order: MoveOrder): void {
  const motion = axisMotion(turn);
  if (typeof motion === 'string') return tell(turn, window, motion);
  const { plan, profile, status } = turn.state;
  const because = notMovable(turn) ?? (order.kind === 'press' ? undefined : loweredBecause(turn));
  if (because !== undefined || !plan || !profile) return tell(turn, window, because ?? 'Connect first.');
  const isHomed = status?.values.homed === 1;
  const site = { plan, profile, motion, position: position(turn, motion), isHomed };
  const made =
    order.kind === 'trial' ? trialPlan(site, order.isMeant, gainsOnTrial(turn.state)) : movePlan(order, site);
  if ('because' in made) return tell(turn, window, made.because);
  beginActivity(turn, window, made.activity, made.steps);
}

/** Why the axis is not moved otherwise while a press or a fence has left its torque limit lowered. */
const loweredBecause = ({ state }: Turn): string | undefined =>
  leftByStep(state).length > 0
    ? 'The torque limit and following-error window of the press are still set. Disable the motor: they are then put back.'
    : undefined;
