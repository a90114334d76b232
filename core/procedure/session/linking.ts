import { identityKeys, identityMark, identityOf, isWeak, wrongDeviceType } from './deviceIdentity.ts';
import { addressText, lineText } from './deviceAddress.ts';
import { procedureEvent } from './procedureRunner.ts';
import { endRecording } from './recordingTrace.ts';
import { reportedKeys } from './reportedMotor.ts';
import { quickStop, revoke, switchOff, waitingQuickStop } from './stopping.ts';
import { snapshotFailed } from './snapshotEvents.ts';
import { isActing, isBusy, nextId, send, set, type Turn } from './turn.ts';

/** Another device, or another map to read it by: nothing that was read before says anything of it. */
const nothingRead = {
  reading: undefined,
  readAt: undefined,
  reported: {},
  homingSeries: undefined,
  survived: {},
  proof: undefined,
  procedure: undefined,
  snapshot: undefined,
} as const;

/** ms for which a disconnect waits until the axis is seen to stand */
const closingTime = 5000;

/** The connection stands: who is there, and in what state? Nothing is written before that is known. */
export function greet(turn: Turn): void {
  const { profile } = turn.state;
  if (!profile) return;
  set(turn, {
    link: 'greeting',
    retryAt: undefined,
    linkMessage: '',
    inFlight: {},
    status: undefined,
    shown: undefined,
  });
  send(turn, 'greeting', {
    kind: 'read',
    registers: [...identityKeys(profile), ...reportedKeys(profile), 'statusword'],
  });
}

const otherDrive =
  'Another drive responds at this address. The drive that was here before had been enabled by Kavrid, and its stop was not confirmed.';

const restored = 'The link to the drive was lost and has been restored. Nothing that was under way continues.';

/** The identity could not be read. A drive that has answered before, or that has still to be stopped, is asked again. */
export function notGreeted(turn: Turn, because: string): void {
  const { restart, stop, isOurs, identity } = turn.state;
  if (restart || stop || isOurs || identity) {
    turn.commands.push({ type: 'close' });
    return set(turn, { link: 'lost', retryAt: turn.now + turn.state.timing.reconnect });
  }
  close(turn);
  set(turn, {
    linkMessage: `The identity and statusword of the drive cannot be read: ${because}. Check the register map.`,
  });
}

export function greeted(turn: Turn, values: Readonly<Record<string, number>>): void {
  const wrong = wrongDeviceType(values);
  if (wrong !== undefined) return notGreeted(turn, wrong);
  const { identity: before, isOurs, stop } = turn.state;
  const identity = identityOf(values);
  const isSame = before !== undefined && identityMark(before) === identityMark(identity);
  if (!isSame) {
    const isOther = before !== undefined && isOurs;
    set(turn, {
      isOurs: false,
      stop: undefined,
      isLatched: false,
      ...nothingRead,
      restart: undefined,
      temporary: [],
      isReverse: false,
      ...(isOther ? { linkMessage: otherDrive } : {}),
    });
  }
  // A drive that was told to restart was expected to go.
  if (isSame && (isOurs || stop) && !turn.state.restart) set(turn, { linkMessage: restored });
  set(turn, {
    identity,
    reported: values,
    isConfirmed: !isWeak(identity),
    // Another device of the kind would look the same.
    ...(isWeak(identity) && !turn.state.restart ? { survived: {} } : {}),
    link: 'up',
  });
  if (isSame && isOurs) quickStop(turn, { kind: 'stopped', because: 'the link was lost' });
  const id = nextId(turn);
  const { address } = turn.state;
  set(turn, { lookUp: id });
  turn.commands.push({
    type: 'look up',
    id,
    identity: identityMark(identity),
    address: address ? addressText(address) : '',
  });
  send(turn, 'greeting', { kind: 'read all' });
}

/** Another register map is used as soon as nothing is to be stopped by the old one; what was read by that proves nothing now. */
export function adoptProfile(turn: Turn): void {
  const { plan, stop, profileMark } = turn.state;
  if (stop || !plan || plan.profileMark === profileMark) return;
  set(turn, {
    profile: plan.profile,
    profileMark: plan.profileMark,
    ...nothingRead,
    inFlight: {},
  });
  if (!plan.profile) return close(turn);
  if (turn.state.link === 'up' || turn.state.link === 'greeting') greet(turn);
}

export function lineLost(turn: Turn, because: string): void {
  const { state } = turn;
  const wasUp = state.link === 'up' || state.link === 'greeting';
  const mustStop = isActing(state) || state.stop !== undefined || (state.isOurs && !state.isLatched);
  const watched = state.isOurs || state.script?.hasMoved ? ' The drive’s own watchdog has to stop it.' : '';
  revoke(turn, { kind: 'link lost', because: 'the link was lost' });
  set(turn, {
    inFlight: {},
    status: undefined,
    shown: undefined,
    // The device that reconnects may have been changed in the meantime.
    reading: undefined,
    readAt: undefined,
    ...(state.procedure?.phase === 'proven' ? { procedure: undefined } : {}),
    link: state.closingBy !== undefined ? 'off' : wasUp || state.link === 'lost' ? 'lost' : 'connecting',
    linkMessage: wasUp
      ? `The link to the drive is lost (${because}).${watched} Trying again …`
      : state.link === 'lost'
        ? turn.state.linkMessage
        : `No response from ${state.address ? lineText(state.address) : ''} (${because}). Trying again …`,
    retryAt: turn.now + state.timing.reconnect,
    stop: mustStop && wasUp ? waitingQuickStop : turn.state.stop,
    isLatched: turn.state.isLatched || (mustStop && wasUp),
  });
  snapshotFailed(turn, 'the link was lost');
  if (isBusy(turn.state) && !turn.state.restart) procedureEvent(turn, { type: 'failed', because: 'the link was lost' });
  turn.commands.push({ type: 'drive data changed' });
  if (state.recording) endRecording(turn);
  if (state.closingBy !== undefined) close(turn);
}

/** Lets go of the connection. */
export function close(turn: Turn): void {
  revoke(turn, { kind: 'stopped', because: 'disconnected' });
  if (turn.state.recording) endRecording(turn);
  if (turn.state.link !== 'off') turn.commands.push({ type: 'close' });
  set(turn, {
    link: 'off',
    linkMessage: turn.state.planMissing,
    retryAt: undefined,
    closingBy: undefined,
    attempt: turn.state.attempt + 1,
    inFlight: {},
    status: undefined,
    shown: undefined,
    stop: undefined,
    isLatched: false,
    identity: undefined,
    isConfirmed: false,
    isOurs: false,
    isReverse: false,
    ...nothingRead,
    restart: undefined,
    holder: undefined,
  });
  turn.commands.push({ type: 'drive data changed' });
}

/** Stops what moves, waits until it is seen to stand, and closes the connection. */
export function disconnect(turn: Turn): void {
  const { link, isOurs } = turn.state;
  if (link !== 'up') return close(turn);
  if (turn.state.closingBy !== undefined) return;
  if (isOurs && !turn.state.stop) switchOff(turn, { kind: 'stopped', because: 'disconnected' });
  set(turn, { closingBy: turn.now + closingTime });
}

export function reconnect(turn: Turn): void {
  const { address, attempt, link } = turn.state;
  if (!address) return;
  set(turn, { attempt: attempt + 1, retryAt: undefined, link: link === 'lost' ? 'lost' : 'connecting' });
  turn.commands.push({ type: 'connect', attempt: attempt + 1, address });
}
