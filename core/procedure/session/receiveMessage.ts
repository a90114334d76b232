import { controlword, fromRaw, parameterOfRole } from '../../drive/index.ts';
import { enableSteps, goToStartSteps, homeSteps, jogSteps, testMoveSteps } from './axisScripts.ts';
import { identityMark } from './deviceIdentity.ts';
import { addressText, type AxisMotionPlan, type SpindleMotionPlan } from './memberPlan.ts';
import { disconnect } from './linking.ts';
import { procedureEvent } from './procedureRunner.ts';
import { startScript } from './runScript.ts';
import type { SessionMessage } from './sessionMessages.ts';
import { type Permit, type SessionActivity } from './sessionState.ts';
import { enabledKey } from './temporarySetting.ts';
import { noWatchdog } from './planChecks.ts';
import { otherMotor, plateComparisons } from './reportedMotor.ts';
import { referenceCounts, runSpindleSteps, runTestSteps } from './spindleScripts.ts';
import type { Step } from './step.ts';
import { halt, mayPress, quickStop, rampDown, switchOff, zeroSpeed } from './stopping.ts';
import { driveState, isActing, isBusy, isPowered, isStale, nextId, set, stands, tell, type Turn } from './turn.ts';

/** Something a window asks. What it may not have is told to that window, and changes nothing. */
export function receive(turn: Turn, window: string, message: SessionMessage, deviceHeldBy: string | undefined): void {
  const because = refusal(turn, window, message, deviceHeldBy);
  if (because !== undefined) return tell(turn, window, because);
  act(turn, window, message);
}

const heldElsewhere = 'Another window holds this drive. Use “Take over” first; it stops what moves.';

/** Needs neither a holder nor a link: what ends something, or asks nothing of the drive. */
const isFree = (message: SessionMessage): boolean =>
  ['alive', 'stop', 'jogEnd', 'stopSpindle', 'connect', 'disconnect', 'confirmIdentity', 'takeOver'].includes(
    message.type,
  );

/** Why a message is refused; undefined: it is carried out. */
function refusal(
  turn: Turn,
  window: string,
  message: SessionMessage,
  deviceHeldBy: string | undefined,
): string | undefined {
  const { state, now } = turn;
  const { plan, planMissing, link, identity, holder, timing } = state;
  if ('version' in message) {
    if (!plan) return planMissing;
    if (message.version !== plan.version)
      return `This was meant for version ${message.version}, and version ${plan.version} is the newest saved one. Nothing was done; look at it and try again.`;
  }
  const isHeldElsewhere =
    holder !== undefined && holder.window !== window && now - holder.aliveAt < timing.silentOtherwise;
  if (message.type === 'disconnect' && window !== '' && isHeldElsewhere && isActing(state)) return heldElsewhere;
  if (isFree(message)) return undefined;
  if (link !== 'up') return 'There is no link to the drive. Connect first.';
  if (state.closingBy !== undefined) return 'The link is being closed.';
  if (!state.isConfirmed && message.type !== 'readDrive')
    return 'This drive reports no serial number. Confirm first that it is the right one.';
  if (identity && plan && state.address && addressText(plan.address) !== addressText(state.address))
    return `The link has been edited. Disconnect from ${state.address.host}:${state.address.port} first.`;
  if (deviceHeldBy !== undefined && message.type !== 'readDrive')
    return `${deviceHeldBy} works with the same drive now. Switch it off there first.`;
  if (isHeldElsewhere) return heldElsewhere;
  return busyRefusal(turn, message);
}

function busyRefusal(turn: Turn, message: SessionMessage): string | undefined {
  const { state } = turn;
  const { script, recording } = state;
  if (message.type === 'disable') return undefined;
  if (script && !(script.activity === 'running' && message.type === 'runSpindle'))
    return message.type === 'jog' && script.activity === 'jogging'
      ? 'A jog is under way.'
      : `The drive is busy: ${script.activity}.`;
  if (isBusy(state)) return 'The drive is busy: writing drive data.';
  if (recording) return 'The last recording is still being fetched.';
  if (state.stop && !(message.type === 'jog' || mayPress(state))) return 'The drive is still being stopped.';
  return undefined;
}

function act(turn: Turn, window: string, message: SessionMessage): void {
  const { state } = turn;
  switch (message.type) {
    case 'alive':
      if (state.holder?.window === window) set(turn, { holder: { window, aliveAt: turn.now } });
      return;
    case 'stop':
      return stop(turn, window);
    case 'jogEnd':
      return jogEnd(turn, window, message.press);
    case 'stopSpindle':
      return stopSpindle(turn);
    case 'connect':
      return connect(turn);
    case 'disconnect':
      return disconnect(turn);
    case 'confirmIdentity':
      return confirmIdentity(turn, message.mark);
    case 'takeOver':
      return takeOver(turn, window);
    default:
      hold(turn, window);
  }
  switch (message.type) {
    case 'disable':
      return disable(turn, window);
    case 'resetFault':
      return begin(turn, window, 'resetting a fault', resetSteps);
    case 'enable':
      return enable(turn, window, message.isPropped);
    case 'jog':
      return jog(turn, window, message);
    case 'home':
      return move(turn, window, 'homing', (motion) =>
        motion.homingBy === 'drive'
          ? homeSteps(motion)
          : 'By the plan, the controller homes this axis. Home it there, or plan the homing for the drive.',
      );
    case 'goToStart':
      return move(turn, window, 'going to start', (motion) => {
        const test = testMoveOf(turn, motion);
        return typeof test === 'string' ? test : goToStartSteps(motion, test);
      });
    case 'testMove':
      return move(turn, window, 'test move', (motion) => {
        const test = testMoveOf(turn, motion);
        if (typeof test === 'string') return test;
        const off = Math.abs(position(turn, motion) - test.from);
        // Not where it is known to stand: a position that is not known is no start either.
        return !(off <= startTolerance(motion, test.distance))
          ? `The axis is ${off.toPrecision(3)} ${motion.unit} away from the start of the test move. Go to the start first.`
          : testMoveSteps(motion, test);
      });
    case 'runSpindle':
      return runSpindle(turn, window, message.speed, message.reverse);
    case 'runTest':
      return runTest(turn, window);
    case 'readDrive':
    case 'writeDrive':
      return driveData(turn, window, message.type);
    case 'restore':
      return restore(turn, window, message.isHostQuiet);
  }
}

const hold = (turn: Turn, window: string): void => set(turn, { holder: { window, aliveAt: turn.now } });

/** Gives leave for one activity; whatever had leave before has it no longer. */
function permit(turn: Turn, window: string, press = 0): Permit {
  const given = { id: nextId(turn), window, press, version: turn.state.plan?.version ?? 0 };
  set(turn, { permits: { ...turn.state.permits, act: given } });
  return given;
}

function begin(turn: Turn, window: string, activity: SessionActivity, steps: readonly Step[], press = 0): void {
  startScript(turn, { activity, window, permit: permit(turn, window, press), steps });
}

const resetSteps: readonly Step[] = [
  { do: 'write', register: 'controlword', raw: controlword.disableVoltage },
  { do: 'write', register: 'controlword', raw: controlword.faultReset },
  { do: 'write', register: 'controlword', raw: controlword.disableVoltage },
];

/** Quick stop of what was set going from here. A drive that others have switched on is only watched. */
function stop(turn: Turn, window: string): void {
  const { state, now } = turn;
  if (state.link === 'off') return;
  if (isBusy(state) && !state.restart) procedureEvent(turn, { type: 'failed', because: 'stopped' });
  if (state.isOurs || isActing(state)) return halt(turn, { kind: 'stopped', because: 'stopped' });
  if (isPowered(driveState(state, now))) tell(turn, window, `${onlyWatched} Use the stop of the machine itself.`);
}

const onlyWatched = 'The drive is enabled by its terminals or by another master. It is only watched from here.';

/** Switches the motor off, and lets go of the drive. */
function disable(turn: Turn, window: string): void {
  const { state, now } = turn;
  if (!state.isOurs && isPowered(driveState(state, now))) return tell(turn, window, onlyWatched);
  switchOff(turn, { kind: 'stopped', because: 'switched off' });
  set(turn, { holder: undefined });
}

function jogEnd(turn: Turn, window: string, press: number): void {
  const { ended, permits, waitingPress, script } = turn.state;
  set(turn, { ended: { ...ended, [window]: Math.max(press, ended[window] ?? 0) } });
  if (waitingPress?.window === window) set(turn, { waitingPress: undefined });
  if (script?.activity === 'jogging' && permits.act?.window === window) zeroSpeed(turn);
}

function stopSpindle(turn: Turn): void {
  const { permits, plan, isOurs } = turn.state;
  if (plan?.memberKind !== 'spindle' || (!permits.enable && !permits.act && !isOurs)) return;
  rampDown(turn);
}

function connect(turn: Turn): void {
  const { plan, link } = turn.state;
  if (!plan || link !== 'off') return;
  if (!plan.profile) {
    set(turn, { linkMessage: 'Choose or import the register map of this drive first.' });
    return;
  }
  const attempt = turn.state.attempt + 1;
  set(turn, {
    link: 'connecting',
    linkMessage: '',
    address: plan.address,
    profile: plan.profile,
    profileMark: plan.profileMark,
    attempt,
    retryAt: undefined,
  });
  turn.commands.push({ type: 'connect', attempt, address: plan.address });
}

/** It is the drive that was meant; one that was left switched on from here is stopped now. */
function confirmIdentity(turn: Turn, mark: string): void {
  const { identity, temporary, isOurs } = turn.state;
  if (!identity || identityMark(identity) !== mark) return;
  set(turn, { isConfirmed: true });
  if (isOurs || !temporary.some(({ key }) => key === enabledKey)) return;
  set(turn, { isOurs: true });
  quickStop(turn, { kind: 'stopped', because: 'it was still switched on from an earlier session' });
}

function takeOver(turn: Turn, window: string): void {
  const { permits, holder } = turn.state;
  if (holder?.window !== window && (permits.enable || permits.act))
    halt(turn, { kind: 'stopped', because: 'another window has taken over' });
  hold(turn, window);
}

const axisMotion = ({ state: { plan } }: Turn): AxisMotionPlan | string =>
  plan?.motion.kind === 'axis'
    ? plan.motion
    : plan?.motion.kind === 'unknown'
      ? plan.motion.because
      : 'A spindle cannot do that.';

const spindleMotion = ({ state: { plan } }: Turn): SpindleMotionPlan | string =>
  plan?.motion.kind === 'spindle'
    ? plan.motion
    : plan?.motion.kind === 'unknown'
      ? plan.motion.because
      : 'An axis cannot do that.';

function enable(turn: Turn, window: string, isPropped: boolean): void {
  const { state, now } = turn;
  const motion = axisMotion(turn);
  if (typeof motion === 'string') return tell(turn, window, motion);
  if (isStale(state, now)) return tell(turn, window, tooSlow(turn));
  const unwatched = state.profile && noWatchdog(state.profile, 'watchdogTime');
  if (unwatched !== undefined) return tell(turn, window, unwatched);
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
  begin(turn, window, 'enabling', enableSteps(motion));
}

const tooSlow = ({ state: { timing } }: Turn): string =>
  `The drive does not report its state within ${timing.stale} ms, so motion is refused.`;

/** Why the axis may not be moved now; undefined: it may. */
function notMovable({ state, now }: Turn): string | undefined {
  if (!state.permits.enable || driveState(state, now) !== 'operation enabled')
    return isStale(state, now) && state.permits.enable
      ? `The state of the drive is not known.`
      : 'Enable the drive first.';
  return undefined;
}

function jog(turn: Turn, window: string, message: Extract<SessionMessage, { type: 'jog' }>): void {
  const { state } = turn;
  const motion = axisMotion(turn);
  const because = typeof motion === 'string' ? motion : jogRefusal(turn, motion, message.speed);
  if (typeof motion === 'string' || because !== undefined) return tell(turn, window, because ?? '');
  if (message.press <= (state.ended[window] ?? 0)) return;
  if (!mayPress(state)) return set(turn, { waitingPress: { window, message } });
  set(turn, { stop: undefined });
  const mode = state.status?.values.modeDisplay;
  begin(turn, window, 'jogging', jogSteps(motion, message.direction * message.speed, mode), message.press);
}

function jogRefusal(turn: Turn, motion: AxisMotionPlan, speed: number): string | undefined {
  if (motion.jogSpeed === null) return 'The jog speed is not filled in.';
  if (speed !== motion.jogSpeed)
    return `A jog at ${speed} ${motion.unit}/s is not what is planned (${motion.jogSpeed} ${motion.unit}/s).`;
  if (speed > motion.jogLimit)
    return `A jog at ${speed} ${motion.unit}/s is above ${Number(motion.jogLimit.toPrecision(4))} ${motion.unit}/s, limited by ${motion.jogLimitedBy}.`;
  return notMovable(turn);
}

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
  begin(turn, window, activity, steps);
}

/** How far from the start of a test move the axis may stand: a thousandth of the distance. */
export const startTolerance = (motion: AxisMotionPlan, distance: number): number =>
  Math.max(Math.abs(distance) / 1000, 10 * Math.abs(motion.unitsPerCount));

const position = ({ state: { status } }: Turn, motion: AxisMotionPlan): number =>
  (status?.values.positionCounts ?? NaN) * motion.unitsPerCount;

function testMoveOf({ state: { status } }: Turn, { testMove, softLimits }: AxisMotionPlan) {
  if ('because' in testMove) return testMove.because;
  if (status?.values.homed !== 1) return 'Home the axis first: a test move is between two positions.';
  const ends = [testMove.from, testMove.from + testMove.distance];
  const { minus, plus } = softLimits;
  if (ends.some((end) => (minus !== null && end < minus) || (plus !== null && end > plus)))
    return 'The test move leaves the soft limits.';
  return testMove;
}

function runSpindle(turn: Turn, window: string, speed: number, isReverse: boolean): void {
  const { state } = turn;
  const motion = spindleMotion(turn);
  if (typeof motion === 'string') return tell(turn, window, motion);
  const { profile, permits } = state;
  const isRunning = permits.enable !== undefined && driveState(state, turn.now) === 'operation enabled';
  const counts = profile && referenceCounts(profile, speed * motion.hertzPerToolRpm);
  const because =
    speed > motion.highestToolSpeed * 1.0005
      ? `${speed} rpm is above the ${Math.round(motion.highestToolSpeed)} rpm that ${motion.highestBy.join(' and ')} allow.`
      : counts === undefined
        ? 'This speed does not fit the 16 bits of the speed reference.'
        : isRunning
          ? undefined
          : notStartable(turn);
  if (because !== undefined || counts === undefined) return tell(turn, window, because ?? '');
  set(turn, { isReverse, isLatched: false, linkMessage: '' });
  begin(turn, window, 'running', runSpindleSteps(counts, isReverse, isRunning));
}

/** Starting into a motor that is still turning would trip the drive. */
function notStartable(turn: Turn): string | undefined {
  const { state, now } = turn;
  if (isStale(state, now)) return tooSlow(turn);
  const unwatched = state.profile && noWatchdog(state.profile, 'busTimeOut');
  if (unwatched !== undefined) return unwatched;
  const drive = driveState(state, now);
  if (drive === 'fault') return 'The drive has tripped. Find the cause, then reset it.';
  if (isPowered(drive)) return onlyWatched;
  return stands(state)
    ? undefined
    : 'The motor is still turning. Wait until it has stopped; starting now would trip the drive.';
}

function runTest(turn: Turn, window: string): void {
  const motion = spindleMotion(turn);
  const { profile } = turn.state;
  if (typeof motion === 'string') return tell(turn, window, motion);
  const { runTest: test } = motion;
  if ('because' in test) return tell(turn, window, test.because);
  if (!profile) return;
  if (test.events.some((event) => event.kind === 'speed' && referenceCounts(profile, event.hertz) === undefined))
    return tell(turn, window, 'A speed of the run test does not fit the 16 bits of the speed reference.');
  const because = notStartable(turn);
  if (because !== undefined) return tell(turn, window, because);
  set(turn, { isReverse: false, isLatched: false, linkMessage: '' });
  begin(turn, window, 'run test', runTestSteps(profile, test.events, test.duration));
}

function driveData(turn: Turn, window: string, what: 'readDrive' | 'writeDrive'): void {
  const { plan, temporary } = turn.state;
  if (!plan) return;
  if (what === 'readDrive')
    return procedureEvent(turn, { type: 'start', planned: plan.planned, survived: turn.state.survived });
  if (plan.waitsFor !== undefined) return tell(turn, window, plan.waitsFor);
  const drive = driveState(turn.state, turn.now);
  if (drive === undefined) return tell(turn, window, 'The state of the drive is not known.');
  if (isPowered(drive)) return tell(turn, window, 'Disable the drive first: values are written with the motor off.');
  if (temporary.some(({ key }) => key !== enabledKey))
    return tell(
      turn,
      window,
      'Restore the temporary settings first, so that they are not stored as if they were planned.',
    );
  permit(turn, window);
  procedureEvent(turn, { type: 'confirm', planned: plan.planned });
}

/** Puts temporary settings back, each read back before it is forgotten. */
function restore(turn: Turn, window: string, isHostQuiet: boolean): void {
  const { temporary, profile, identity, address } = turn.state;
  const own = temporary.filter(
    (each) =>
      each.key !== enabledKey &&
      each.identity === (identity ? identityMark(identity) : '') &&
      each.address === (address ? addressText(address) : ''),
  );
  if (own.length === 0) return tell(turn, window, 'There is nothing to restore at this drive.');
  const drive = driveState(turn.state, turn.now);
  if (drive === undefined || isPowered(drive))
    return tell(turn, window, 'Switch the motor off first: settings are restored with the motor off.');
  const needsQuiet = own.find(({ key, original, temporary: now }) => {
    const parameter = profile?.parameters.find((each) => each.key === key);
    if (!profile || !parameter) return false;
    const isSource = parameterOfRole(profile, 'commandSource')?.key === key;
    return isSource || fromRaw(parameter, original) > fromRaw(parameter, now);
  });
  if (needsQuiet && !isHostQuiet)
    return tell(
      turn,
      window,
      `${needsQuiet.label} goes back to the host. Confirm first that the host’s enable is off and its command is zero.`,
    );
  begin(turn, window, 'restoring', [
    { do: 'write', register: 'controlword', raw: controlword.disableVoltage },
    { do: 'await', what: 'Switching off', until: { is: 'off' }, seconds: 3 },
    ...own.flatMap((setting): readonly Step[] => [
      { do: 'write parameter', key: setting.key, raw: setting.original },
      { do: 'read back parameter', key: setting.key, raw: setting.original },
      { do: 'forget', setting },
    ]),
  ]);
}
