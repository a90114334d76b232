import { controlword } from '../../drive/index.ts';
import { enable, goToStart, home, homeSeries, jog, jogSpeed, makeMove, testMove } from './axisActivities.ts';
import { endRecordingController, recordController } from './controllerMoves.ts';
import { endSeries, noteHomeNow } from './controllerSeries.ts';
import { pauseSeries } from './homingSeries.ts';
import { beginActivity, hold } from './beginActivity.ts';
import { identityMark } from './deviceIdentity.ts';
import { readDrive, restore, writeDrive, putBackGains } from './driveDataMessages.ts';
import { endForcing, forceInput } from './forcingInputs.ts';
import { takeSnapshot } from './keepingSnapshots.ts';
import { disconnect } from './linking.ts';
import { statusBlocks } from './lineCycle.ts';
import { messageRefusal } from './messageRefusal.ts';
import { answerGuidedStep, beginGuidedStep, endGuidedStep, giveUp, skipGuidedStep } from './guidingSteps.ts';
import { isNearHost } from './nearHost.ts';
import { procedureEvent } from './procedureRunner.ts';
import type { SessionMessage } from './sessionMessages.ts';
import { timingOver } from './sessionTiming.ts';
import { runSpindle, runTest } from './spindleActivities.ts';
import type { Step } from './step.ts';
import { halt, quickStop, rampDown, switchOff, zeroSpeed } from './stopping.ts';
import { enabledKey } from './temporarySetting.ts';
import { driveState, isActing, isBusy, isPowered, set, tell, type Turn } from './turn.ts';
import { beginWalk, walkEvent } from './walkingSensors.ts';
import { onlyWatched } from './watched.ts';

/** Handles a request of a window. A refusal goes to that window alone and changes nothing. */
export function receive(turn: Turn, window: string, message: SessionMessage, deviceHeldBy: string | undefined): void {
  const because = messageRefusal(turn, window, message, deviceHeldBy);
  if (because !== undefined) return tell(turn, window, because);
  act(turn, window, message);
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
    case 'jogSpeed':
      return jogSpeed(turn, window, message);
    case 'connect':
      return connect(turn, window, message.isFarConfirmed === true);
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
      return beginActivity(turn, window, 'resetting a fault', resetSteps);
    case 'enable':
      return enable(turn, window, message.isPropped);
    case 'jog':
      return jog(turn, window, message);
    case 'recordController':
      return recordController(turn, window);
    case 'endRecording':
      return endRecordingController(turn, window);
    case 'makeMove':
      return makeMove(turn, window, message.order);
    case 'putBackGains':
      return putBackGains(turn, window);
    case 'home':
      return home(turn, window);
    case 'homeSeries':
      return homeSeries(turn, window, message.starts);
    case 'pauseSeries':
      return pauseSeries(turn, window, message.isPaused);
    case 'noteHome':
      return noteHomeNow(turn, window);
    case 'endSeries':
      return endSeries(turn, window);
    case 'goToStart':
      return goToStart(turn, window);
    case 'testMove':
      return testMove(turn, window);
    case 'runSpindle':
      return runSpindle(turn, window, message.speed, message.reverse);
    case 'runTest':
      return runTest(turn, window);
    case 'readDrive':
      return readDrive(turn, message);
    case 'writeDrive':
      return writeDrive(turn, window);
    case 'takeSnapshot':
      return takeSnapshot(turn, window, message.name);
    case 'forceInput':
      return forceInput(turn, window, message.key, message.to);
    case 'endForcing':
      return endForcing(turn, window);
    case 'sensorWalk':
      return beginWalk(turn, window);
    case 'walkOn':
      return walkOn(turn, message);
    case 'beginStep':
      return beginGuidedStep(turn, window, message);
    case 'answerStep':
      return answerGuidedStep(turn, window, message);
    case 'skipStep':
      return skipGuidedStep(turn, window, message);
    case 'endStep':
      return endGuidedStep(turn);
    case 'restore':
      return restore(turn, window, message.isHostQuiet);
  }
}

function walkOn(turn: Turn, { what, because }: Extract<SessionMessage, { type: 'walkOn' }>): void {
  const at = turn.now;
  switch (what) {
    case 'nothing':
      return walkEvent(turn, { type: 'nothing', at });
    case 'skip':
      return walkEvent(turn, { type: 'skip', because, at });
    case 'end':
      return walkEvent(turn, { type: 'end', because: 'ended by the user' });
  }
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

function connect(turn: Turn, window: string, isFarConfirmed: boolean): void {
  const { plan, link, givenTiming } = turn.state;
  if (!plan || link !== 'off') return;
  if (!plan.profile) {
    set(turn, { linkMessage: 'Choose or import the register map of this drive first.' });
    return;
  }
  const { address } = plan;
  if (address.kind === 'tcp' && !isNearHost(address.host) && !isFarConfirmed)
    return tell(
      turn,
      window,
      `${address.host} is not on this computer or in a private network. Connect from the page Drive data, where the address is confirmed first.`,
    );
  const attempt = turn.state.attempt + 1;
  set(turn, {
    link: 'connecting',
    linkMessage: '',
    address,
    timing: timingOver(address, statusBlocks(turn.state, plan.profile, address), givenTiming),
    profile: plan.profile,
    profileMark: plan.profileMark,
    attempt,
    retryAt: undefined,
  });
  turn.commands.push({ type: 'connect', attempt, address });
}

/** It is the drive that was meant; one that was left switched on from here is stopped now. */
function confirmIdentity(turn: Turn, mark: string): void {
  const { identity, temporary, isOurs } = turn.state;
  if (!identity || identityMark(identity) !== mark) return;
  set(turn, { isConfirmed: true });
  if (isOurs || !temporary.some(({ key }) => key === enabledKey)) return;
  set(turn, { isOurs: true });
  quickStop(turn, { kind: 'stopped', because: 'it was still enabled from an earlier session' });
}

function takeOver(turn: Turn, window: string): void {
  const { permits, holder } = turn.state;
  if (holder?.window !== window && (permits.enable || permits.act))
    halt(turn, { kind: 'stopped', because: 'another window has taken over' });
  if (turn.state.guided && turn.state.guided.window !== window) giveUp(turn, 'another window has taken over');
  hold(turn, window);
}
