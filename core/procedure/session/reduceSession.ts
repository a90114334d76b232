import { quickStopIncrements } from './axisScripts.ts';
import { adoptProfile, close, disconnect, greet, greeted, lineLost, notGreeted, reconnect } from './linking.ts';
import type { MemberPlan } from './memberPlan.ts';
import type { Evidence } from '../../evidence/index.ts';
import { stillThere } from '../writeAndVerify.ts';
import { identityMark, isWeak } from './deviceIdentity.ts';
import { procedureAnswered, procedureEvent, takeReading, tendRestart } from './procedureRunner.ts';
import { receive } from './receiveMessage.ts';
import { endRecording, recordingFailed, takeSamples } from './recordingTrace.ts';
import { scriptAnswered, scriptFailed, scriptKept, tendScript } from './runScript.ts';
import { fail } from './scriptState.ts';
import { snapshotFailed, snapshotKept, snapshotRead } from './snapshotEvents.ts';
import {
  type DeviceAnswer,
  type Moment,
  type SessionCommand,
  type SessionEvent,
  type SessionState,
} from './sessionState.ts';
import { exceptionWords } from './exceptionWords.ts';
import { endForcing, tendForcing } from './forcingInputs.ts';
import { enabledKey } from './temporarySetting.ts';
import { giveUp, guidedSaw, tendGuided } from './guidingSteps.ts';
import { tendRest } from './tendRest.ts';
import { tendKeptGains, tendLeftByStep } from './driveDataMessages.ts';
import { walkEvent, walkSaw } from './walkingSensors.ts';
import type { TemporarySetting } from './temporarySetting.ts';
import { halt, isSilent, mayPress, quickStop, stopAnswered, tendStop, zeroSpeed } from './stopping.ts';
import {
  driveState,
  isActing,
  isPowered,
  isStale,
  nextId,
  send,
  sentence,
  set,
  shownKeys,
  statusKeys,
  tell,
  type Turn,
} from './turn.ts';

/**
 * The server's side of one drive: what happens to it, reduced one event at a time. It never waits; whatever it asks for
 * comes back as an event with the id of its command.
 */
export function reduceSession(
  state: SessionState,
  event: SessionEvent,
  moment: Moment,
): { readonly state: SessionState; readonly commands: readonly SessionCommand[] } {
  const turn: Turn = { now: moment.now, commands: [], state };
  watchClocks(turn, moment);
  take(turn, event);
  tendGuided(turn);
  return { state: turn.state, commands: turn.commands };
}

/** A computer that has slept knows nothing of its drives any more. */
function watchClocks(turn: Turn, moment: Moment): void {
  const { clock, timing } = turn.state;
  set(turn, { clock: moment });
  if (!clock) return;
  const apart = Math.abs(moment.wall - clock.wall - (moment.now - clock.now));
  if (apart > timing.sleep && isActing(turn.state)) {
    const because = 'the clock of this computer jumped, as after sleep';
    halt(turn, { kind: 'stopped', because });
    set(turn, { linkMessage: `Stopped: ${because}.` });
  }
}

function take(turn: Turn, event: SessionEvent): void {
  switch (event.type) {
    case 'message':
      return receive(turn, event.window, event.message, event.deviceHeldBy);
    case 'window came':
      return set(turn, { watchers: [...turn.state.watchers, event.window], unwatchedSince: undefined });
    case 'window gone':
      return windowGone(turn, event.window);
    case 'saved':
      return saved(turn, event.plan, event.temporary, event.steps);
    case 'plan missing':
      set(turn, { planMissing: event.because, plan: undefined });
      if (isActing(turn.state)) halt(turn, { kind: 'stopped', because: event.because });
      return disconnect(turn);
    case 'line up':
      return event.attempt === turn.state.attempt ? greet(turn) : undefined;
    case 'line lost':
      walkEvent(turn, { type: 'end', because: 'the link was lost' });
      if (turn.state.guided?.isByHand === false) tendGuided(turn);
      return event.attempt === turn.state.attempt ? lineLost(turn, event.because) : undefined;
    case 'answered':
      return answered(turn, event.id, event.answer, event.leftAt);
    case 'refused':
      return failed(turn, event.id, exceptionWords(event.exception), 'fault');
    case 'timed out':
      return failed(turn, event.id, 'the drive did not answer', 'timeout');
    case 'not sent':
      return failed(turn, event.id, event.because, 'stopped');
    case 'kept':
      return kept(turn, event);
    case 'not kept':
      return notKept(turn, event.id);
    case 'snapshot kept':
      return snapshotKept(turn, event.id);
    case 'tick':
      return tick(turn);
  }
}

function windowGone(turn: Turn, window: string): void {
  const watchers = turn.state.watchers.filter((each) => each !== window);
  set(turn, { watchers, unwatchedSince: watchers.length === 0 ? turn.now : undefined });
  if (turn.state.walk?.window === window)
    walkEvent(turn, { type: 'end', because: 'the window that asked for it has closed' });
  if (turn.state.guided?.window === window) giveUp(turn, 'the window that asked for it has closed');
  if (turn.state.holder?.window !== window) return;
  if (isActing(turn.state)) halt(turn, { kind: 'stopped', because: 'the window that controlled it has closed' });
  set(turn, { holder: undefined });
  endForcing(turn, window);
}

/** A version has been saved. What moves goes on only where nothing that motion depends on has changed. */
function saved(
  turn: Turn,
  plan: MemberPlan,
  temporary: readonly TemporarySetting[],
  steps: readonly Evidence<'guided step'>[] | undefined,
): void {
  const before = turn.state.plan;
  const isConnected = turn.state.link !== 'off';
  set(turn, { plan, planMissing: '', ...(isConnected ? {} : { temporary }) });
  if (steps) set(turn, { stepEvidence: steps });
  if (!before || !isConnected) return;
  const relevant = ({ motion, planned, address, profileMark }: MemberPlan) =>
    JSON.stringify([motion, planned, address, profileMark]);
  if (relevant(before) === relevant(plan)) return;
  const because = 'the plan was changed';
  if (turn.state.permits.act) {
    if (turn.state.script?.activity === 'jogging') zeroSpeed(turn);
    else halt(turn, { kind: 'stopped', because });
  }
  if (plan.profileMark !== turn.state.profileMark) {
    if (isActing(turn.state)) halt(turn, { kind: 'stopped', because: 'its register map has been changed' });
    adoptProfile(turn);
  }
  turn.commands.push({ type: 'drive data changed' });
}

function answered(turn: Turn, id: number, answer: DeviceAnswer, leftAt: number): void {
  const flight = turn.state.inFlight[id];
  if (!flight) return;
  const { [id]: _, ...inFlight } = turn.state.inFlight;
  set(turn, { inFlight });
  switch (flight.purpose) {
    case 'poll':
      return answer.kind === 'values' ? looked(turn, answer.values, leftAt) : undefined;
    case 'shown':
      return answer.kind === 'values'
        ? set(turn, { shown: { values: answer.values, requestedAt: leftAt } })
        : undefined;
    case 'beat':
      return;
    case 'script':
      return scriptAnswered(turn, id, answer);
    case 'stop':
      return stopAnswered(turn, true);
    case 'trace':
      return;
    case 'end of trace':
    case 'lock':
      return;
    case 'greeting':
      if (answer.kind === 'values') return greeted(turn, answer.values);
      return answer.kind === 'reading' ? takeReading(turn, answer.reading) : undefined;
    case 'procedure':
      return procedureAnswered(turn, answer);
    case 'snapshot':
      return answer.kind === 'reading' ? snapshotRead(turn, answer.reading) : undefined;
  }
}

function failed(turn: Turn, id: number, because: string, kind: 'fault' | 'timeout' | 'stopped'): void {
  const flight = turn.state.inFlight[id];
  if (!flight) return;
  const { [id]: _, ...inFlight } = turn.state.inFlight;
  set(turn, { inFlight });
  switch (flight.purpose) {
    case 'stop':
      return stopAnswered(turn, false);
    case 'script':
      if (turn.state.script?.steps[turn.state.script.at]?.do === 'play')
        return fail(turn, { kind, because: sentence(because) });
      return scriptFailed(turn, id, { kind, because: sentence(because) });
    case 'procedure':
      return procedureEvent(turn, { type: 'failed', because, isRefused: kind === 'fault' });
    case 'snapshot':
      return snapshotFailed(turn, because);
    case 'lock':
      return notLocked(turn, because);
    case 'greeting':
      return turn.state.link === 'greeting' ? notGreeted(turn, because) : undefined;
    case 'trace':
      return recordingFailed(turn);
    case 'poll':
    case 'shown':
    case 'beat':
    case 'end of trace':
      return;
  }
}

/** The drive was found locked, and is left unlocked: whoever wrote to it has to know. */
function notLocked(turn: Turn, because: string): void {
  const { holder } = turn.state;
  const words = `The parameters of the drive could not be locked again (${because}). Lock them by hand, or switch the drive off and on.`;
  set(turn, { linkMessage: words });
  if (holder) tell(turn, holder.window, words);
}

/** A look at the drive: what it tells, and what that means for what is under way. */
function looked(turn: Turn, values: Readonly<Record<string, number>>, requestedAt: number): void {
  set(turn, { status: { values, requestedAt } });
  const { restart } = turn.state;
  if (restart && requestedAt > restart.since) {
    set(turn, { restart: undefined });
    procedureEvent(turn, { type: 'restarted' });
  }
  const drive = driveState(turn.state, turn.now);
  if (turn.state.isOurs && !isActing(turn.state) && !turn.state.stop) {
    if (!isPowered(drive)) forgetMotor(turn);
    // Nobody has leave to keep it on.
    else quickStop(turn, { kind: 'stopped', because: 'its motor was enabled, but no window was controlling it' });
  }
  if (turn.state.permits.enable && !turn.state.script && drive !== undefined && drive !== 'operation enabled') {
    // Something else has disabled the drive: a fault, its watchdog, another master.
    quickStop(turn, { kind: 'stopped', because: 'the drive is no longer enabled' });
  }
  tendRest(turn);
  tendScript(turn);
  takeSamples(turn);
  walkSaw(turn);
  guidedSaw(turn);
  tendForcing(turn);
}

function kept(turn: Turn, { id, temporary, isHeldElsewhere, proof }: Extract<SessionEvent, { type: 'kept' }>): void {
  set(turn, { temporary });
  if (id === turn.state.lookUp && proof) takeProof(turn, proof);
  const { identity, isLatched, lookUp } = turn.state;
  const motor = id === lookUp && !isHeldElsewhere && temporary.some(({ key }) => key === enabledKey);
  // A drive that an earlier server switched on, and that may still run.
  if (motor && identity && !isWeak(identity) && !turn.state.isOurs && !isActing(turn.state)) {
    set(turn, { isOurs: true });
    if (!isLatched) quickStop(turn, { kind: 'stopped', because: 'it was still enabled from an earlier session' });
  }
  // Remembered too late: the stop came first, and the motor was never switched on.
  const isLate = id !== lookUp && !turn.state.isOurs && !isActing(turn.state);
  if (isLate && temporary.some(({ key }) => key === enabledKey)) forgetMotor(turn);
  if (id === lookUp) set(turn, { lookUp: undefined });
  scriptKept(turn, id);
}

/** A proof of an earlier session holds for the same device, as long as nothing else is seen in it. */
function takeProof(turn: Turn, proof: Evidence<'drive values'>): void {
  const { identity, reading } = turn.state;
  if (!identity || isWeak(identity) || proof.identity !== identityMark(identity)) return;
  const { values } = proof.payload;
  set(turn, { proof, survived: reading ? stillThere(values, reading) : values });
  turn.commands.push({ type: 'drive data changed' });
}

function forgetMotor(turn: Turn): void {
  set(turn, { isOurs: false });
  const setting = turn.state.temporary.find(({ key }) => key === enabledKey);
  if (setting) turn.commands.push({ type: 'forget', id: nextId(turn), setting });
}

const noDatabase = 'The database does not respond, so nothing is changed in the drive.';

function notKept(turn: Turn, id: number): void {
  if (id === turn.state.lookUp) set(turn, { lookUp: undefined });
  if (id === turn.state.snapshot?.call) snapshotFailed(turn, 'the database does not respond');
  scriptFailed(turn, id, { kind: 'refused', because: noDatabase });
}

/** Time passes: the drive is looked at, kept alive and stopped, all by the same clock. */
function tick(turn: Turn): void {
  const { timing } = turn.state;
  if (turn.state.link === 'off') return tendUnwatched(turn);
  if (turn.state.retryAt !== undefined && turn.now >= turn.state.retryAt) reconnect(turn);
  watchHolder(turn);
  watchStatus(turn);
  tendStop(turn);
  adoptProfile(turn);
  const { link, waitingPress } = turn.state;
  if (link === 'up') {
    if (!isSilent(turn) && !withholdsAll(turn)) {
      if (turn.now - turn.state.polledAt >= timing.poll) poll(turn);
      lookAtShown(turn);
      beat(turn);
    }
    if (waitingPress && mayPress(turn.state)) {
      set(turn, { waitingPress: undefined });
      receive(turn, waitingPress.window, waitingPress.message, undefined);
    }
    tendScript(turn);
  }
  tendRestart(turn);
  tendKeptGains(turn);
  tendLeftByStep(turn);
  const { recording, closingBy } = turn.state;
  if (recording?.ending && turn.now > recording.ending.by) endRecording(turn);
  const isQuiet = turn.state.stop === undefined && recording === undefined;
  if (closingBy !== undefined && (isQuiet || turn.now > closingBy)) close(turn);
  tendUnwatched(turn);
}

function tendUnwatched(turn: Turn): void {
  const { unwatchedSince, link, timing } = turn.state;
  if (unwatchedSince === undefined || link === 'off') return;
  if (turn.now - unwatchedSince > timing.unwatched) disconnect(turn);
}

/** A window that gives no sign of life ends what it holds. */
function watchHolder(turn: Turn): void {
  const { holder, timing, script } = turn.state;
  if (!holder || !isActing(turn.state)) return;
  const silent = turn.now - holder.aliveAt;
  if (silent > (script?.activity === 'jogging' ? timing.silentJogging : timing.silentOtherwise)) {
    const because = 'the window that controlled the axis stopped responding';
    halt(turn, { kind: 'stopped', because });
    set(turn, { linkMessage: `Stopped: ${because}.` });
  }
}

/** What is not known to stand is stopped: a drive whose state is too old to be believed. */
function watchStatus(turn: Turn): void {
  const { permits, script, timing } = turn.state;
  if (turn.state.link !== 'up' || turn.state.restart || !isStale(turn.state, turn.now) || withholdsAll(turn)) return;
  if (!permits.enable && !script?.hasMoved) return;
  const because = `the drive has not reported its state for ${timing.stale} ms`;
  quickStop(turn, { kind: 'fault', because: sentence(because) });
  set(turn, { linkMessage: `Stopped: ${because}.` });
}

/** A step withholds every sign of life: from a drive that takes any message for one, everything until its watchdog must have run out. */
function withholdsAll({ state: { script, profile, watchdog }, now }: Turn): boolean {
  const at = script?.steps.findIndex(({ do: kind }) => kind === 'withhold') ?? -1;
  if (!script || at < 0 || script.at <= at || profile?.watchdogFedBy !== 'any message') return false;
  return now - script.since < 1.5 * (watchdog ?? 1000) + 100;
}

function poll(turn: Turn): void {
  const flights = Object.values(turn.state.inFlight);
  if (flights.some(({ purpose }) => purpose === 'poll')) return;
  set(turn, { polledAt: turn.now });
  send(turn, 'poll', { kind: 'read', registers: statusKeys(turn.state) });
}

/** A serial line is left to what moves. */
function lookAtShown(turn: Turn): void {
  const { shownAt, timing, inFlight, address, isOurs } = turn.state;
  if (turn.now - shownAt < timing.show || Object.values(inFlight).some(({ purpose }) => purpose === 'shown')) return;
  if (address?.kind === 'serial' && (isOurs || isActing(turn.state))) return;
  const registers = shownKeys(turn.state);
  if (registers.length === 0) return;
  set(turn, { shownAt: turn.now });
  send(turn, 'shown', { kind: 'read', registers });
}

/** Passes the window's sign of life on to the drive. A drive that counts every message needs none. */
function beat(turn: Turn): void {
  const { beats, permits, stop, beatenAt, timing, isLatched } = turn.state;
  const permit = permits.enable ?? permits.act;
  const isStopping = stop !== undefined && !(stop.how === 'zero speed' && stop.answeredAt !== undefined);
  if (!beats || !permit || isStopping || (isLatched && !permits.act) || isStale(turn.state, turn.now)) return;
  if (turn.now - beatenAt < timing.beat) return;
  if (Object.values(turn.state.inFlight).some(({ purpose }) => purpose === 'beat')) return;
  const sign = signOfLife(turn.state);
  if (!sign) return;
  set(turn, { beatenAt: turn.now });
  send(turn, 'beat', { kind: 'write', ...sign }, { permit });
}

/** The write that feeds the watchdog: its own register, or, for a drive that counts any write, a ramp said once more. */
function signOfLife({ profile, plan }: SessionState): { readonly register: string; readonly raw: number } | undefined {
  switch (profile?.watchdogFedBy) {
    case 'heartbeat register':
      return { register: 'heartbeat', raw: 1 };
    case 'any write': {
      if (!profile.registers.quickStopDeceleration || plan?.motion.kind !== 'axis') return undefined;
      return { register: 'quickStopDeceleration', raw: quickStopIncrements(plan.motion) };
    }
    case 'any message':
    case 'nothing':
    case undefined:
      return undefined;
  }
}
