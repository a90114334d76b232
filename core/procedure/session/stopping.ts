import { controlword } from '../../drive/index.ts';
import { endScript } from './endScript.ts';
import type { End, Stop } from './sessionState.ts';
import { driveState, isPowered, send, set, stands, type Turn } from './turn.ts';

/** After this many ignored stops nothing more is sent to a drive that counts messages as signs of life. */
const mostUnheeded = 5;
/** Bit 11 of the controlword reverses the output of a spindle drive. */
export const reverseBit = 0x0800;

const fresh: Omit<Stop, 'how' | 'deadline'> = {
  sentAt: undefined,
  answeredAt: undefined,
  unheeded: 0,
  silentUntil: undefined,
};

/** For a link that was lost: sent as soon as the same drive answers again. */
export const waitingQuickStop: Stop = { ...fresh, how: 'quick stop', deadline: undefined };

/** Takes every permit back, so that nothing that waits is sent any more, and ends what was under way. */
export function revoke(turn: Turn, end: End): void {
  const { enable, act } = turn.state.permits;
  set(turn, { permits: { enable: undefined, act: undefined }, beats: false, waitingPress: undefined });
  if (enable || act || turn.state.script) endScript(turn, end);
}

/** Quick stop, latched: repeated until the drive reports standstill; no heartbeat and no motion until it is enabled again. */
export function quickStop(turn: Turn, end: End): void {
  const { stop } = turn.state;
  revoke(turn, end);
  // One that is in force already is only said again; in a silence not even that, since it would feed the watchdog.
  set(turn, { isLatched: true, stop: stop?.how === 'quick stop' ? stop : waitingQuickStop });
  if (!isSilent(turn)) sendStop(turn);
}

/** Ends all that is under way: by a quick stop where the motor may be on by us, else by taking the permits back. */
export function halt(turn: Turn, end: End): void {
  const { isOurs, script } = turn.state;
  if (isOurs || script?.hasMoved) quickStop(turn, end);
  else revoke(turn, end);
}

/** Switches the motor off; one that turns is stopped first. */
export function switchOff(turn: Turn, end: End): void {
  if (turn.state.stop?.how === 'quick stop') return;
  if (!stands(turn.state)) return quickStop(turn, end);
  revoke(turn, end);
  set(turn, { isLatched: true, stop: { ...fresh, how: 'disable', deadline: turn.now + turn.state.timing.rampGrace } });
  sendStop(turn);
}

/** Ends a jog: zero speed at once; heartbeats go on when the drive has taken it. */
export function zeroSpeed(turn: Turn): void {
  const { permits, plan, status } = turn.state;
  set(turn, { permits: { ...permits, act: undefined }, waitingPress: undefined });
  endScript(turn, { kind: 'stopped', because: 'stopped' });
  const motion = plan?.motion;
  const speed = motion?.kind === 'axis' ? Math.abs((status?.values.velocityCounts ?? 0) * motion.unitsPerCount) : 0;
  const planned = motion?.kind === 'axis' ? Math.max(speed, motion.jogSpeed ?? 0) : 0;
  const ramp = motion?.kind === 'axis' ? (1000 * planned) / motion.jogAcceleration : 0;
  set(turn, {
    stop: { ...fresh, how: 'zero speed', deadline: turn.now + ramp + turn.state.timing.rampGrace },
  });
  sendStop(turn);
}

/** Lets a spindle run out along its ramp. */
export function rampDown(turn: Turn): void {
  const { plan } = turn.state;
  revoke(turn, { kind: 'stopped', because: 'stopped' });
  const ramp = plan?.motion.kind === 'spindle' ? 1000 * plan.motion.rampDown : 0;
  set(turn, {
    isLatched: true,
    stop: { ...fresh, how: 'ramp', deadline: turn.now + 1.5 * ramp + turn.state.timing.rampGrace },
  });
  sendStop(turn);
}

function sendStop(turn: Turn): void {
  const { stop, link } = turn.state;
  // Nothing is sent to a drive that has not yet identified itself.
  if (!stop || link !== 'up') return;
  const bits = turn.state.isReverse ? reverseBit : 0;
  const word = (raw: number) => ({ kind: 'write', register: 'controlword', raw }) as const;
  switch (stop.how) {
    case 'zero speed':
      send(turn, 'stop', { kind: 'write', register: 'targetVelocity', raw: 0 });
      break;
    case 'ramp':
      send(turn, 'stop', word(controlword.switchOn | bits));
      break;
    case 'quick stop':
      send(turn, 'stop', word(controlword.quickStop | bits));
      break;
    case 'disable':
      send(turn, 'stop', word(controlword.disableVoltage));
      break;
  }
  set(turn, { stop: { ...stop, sentAt: turn.now, answeredAt: undefined } });
}

/** A stop was answered by the drive, or was refused or lost. */
export function stopAnswered(turn: Turn, wasTaken: boolean): void {
  const { stop } = turn.state;
  if (!stop) return;
  if (wasTaken) return set(turn, { stop: { ...stop, answeredAt: stop.answeredAt ?? turn.now } });
  countUnheeded(turn, stop);
}

function countUnheeded(turn: Turn, stop: Stop): void {
  const unheeded = stop.unheeded + 1;
  set(turn, { stop: { ...stop, unheeded } });
  if (stop.how !== 'quick stop' && unheeded >= 2)
    return quickStop(turn, { kind: 'stopped', because: 'the drive did not accept the stop' });
  if (unheeded >= mostUnheeded) goSilent(turn);
}

/** The last resort for a drive that ignores stops and takes every message for a sign of life: let its watchdog run out. */
function goSilent(turn: Turn): void {
  const { stop, profile, watchdog } = turn.state;
  if (!stop) return;
  const feed = profile?.watchdogFedBy;
  if (feed !== 'any message' && feed !== 'any write') return set(turn, { stop: { ...stop, unheeded: 0 } });
  const silence = 1.5 * (watchdog ?? 1000) + 100;
  set(turn, {
    stop: { ...stop, unheeded: 0, silentUntil: turn.now + silence },
    linkMessage: 'The drive does not accept the stop. Nothing more is sent to it, so that its own watchdog stops it.',
  });
}

export const isSilent = ({ state: { stop }, now }: Turn): boolean =>
  stop?.silentUntil !== undefined && now < stop.silentUntil;

/** Repeats a stop that has not been seen to work, makes a gentle one a quick one, and ends one that has. */
export function tendStop(turn: Turn): void {
  const { stop, timing, link } = turn.state;
  if (!stop || isSilent(turn)) return;
  if (stop.silentUntil !== undefined) set(turn, { stop: { ...stop, silentUntil: undefined } });
  if (link !== 'up') return;
  if (isDone(turn)) return set(turn, { stop: undefined });
  if (stop.sentAt === undefined) return sendStop(turn);
  if (stop.deadline !== undefined && turn.now > stop.deadline)
    return quickStop(turn, { kind: 'stopped', because: 'the drive was not seen to stop' });
  if (turn.now - stop.sentAt < timing.stopAgain) return;
  if (stop.answeredAt === undefined) return sendStop(turn);
  // It was taken; only a status asked for afterwards says whether it works.
  const { status } = turn.state;
  if (status === undefined || status.requestedAt < stop.answeredAt) return;
  const state = driveState(turn.state, turn.now);
  const ignored =
    (stop.how === 'quick stop' || stop.how === 'ramp' || stop.how === 'disable') && state === 'operation enabled';
  if (ignored) {
    countUnheeded(turn, stop);
    if (turn.state.stop && !isSilent(turn)) sendStop(turn);
  }
}

/** Whether a status asked for after the last stop shows that it has worked. */
function isDone({ state }: Turn): boolean {
  const { stop, status } = state;
  if (!stop || stop.answeredAt === undefined || !status || status.requestedAt < stop.answeredAt) return false;
  if (stop.how === 'zero speed') return stands(state);
  const drive = driveState(state, status.requestedAt);
  // Some drives stay in quick stop active when they stand.
  return (!isPowered(drive) || drive === 'quick stop active') && stands(state);
}

/** Whether a new press may begin: nothing is to be stopped, or the zero speed of the last one has been taken. */
export const mayPress = ({ stop }: Turn['state']): boolean =>
  stop === undefined || (stop.how === 'zero speed' && stop.answeredAt !== undefined);
