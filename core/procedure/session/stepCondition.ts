import { deviceState, errorText, statusBit } from '../../drive/index.ts';
import { homingFailures } from '../../homing/index.ts';
import type { Condition } from './step.ts';
import { quickStop } from './stopping.ts';
import { isPowered, stands, type Turn } from './turn.ts';

/** What the alarm of the drive is, by its last status; undefined: it has none. */
export function alarmWords({ state: { status } }: Turn): string | undefined {
  const { statusword = 0, errorCode = 0 } = status?.values ?? {};
  const state = deviceState(statusword);
  return state === 'fault' || state === 'fault reaction active'
    ? (errorText(errorCode) ?? 'The drive has an alarm.')
    : undefined;
}

/** Ends the activity when the drive has an alarm. @returns whether it has */
export function tripped(turn: Turn): boolean {
  const because = alarmWords(turn);
  if (because !== undefined) quickStop(turn, { kind: 'fault', because });
  return because !== undefined;
}

/** Ends the activity when the drive is no longer enabled. */
export function lostPower(turn: Turn, until: Condition | undefined): boolean {
  const state = deviceState(turn.state.status?.values.statusword ?? 0);
  if (until?.is === 'off' || until?.is === 'disabled' || until?.is === 'at rest' || until?.is === 'inputs forced')
    return false;
  if (tripped(turn)) return true;
  if (state === 'operation enabled' || (until?.is === 'mode' && !turn.state.script?.hasMoved)) return false;
  quickStop(turn, { kind: 'stopped', because: 'the drive was disabled or stopped by something else' });
  return true;
}

/** What a drive says of a homing that failed, as far as its map knows the words. */
function homingFailed({ state: { status, profile } }: Turn): string {
  const { homingFailure = 0, errorCode = 0 } = status?.values ?? {};
  const failure = profile?.homing.failures?.[homingFailure];
  if (!failure) return errorText(errorCode) ?? 'Homing failed.';
  const { words, remedy } = homingFailures[failure];
  return `Homing failed: ${words}. ${remedy}`;
}

/** s from one look at the drive to the next at most */
const lookTime = 0.06;
/** Of the torque limit: what counts as pushing with it. */
const pushShare = 0.9;
/** ms in which an axis that stands may be about to start */
const startTime = 400;

/** Whether the status shows what a step waits for. */
export function isMet(turn: Turn, until: Condition): boolean {
  const { status, profile } = turn.state;
  const values = status?.values ?? {};
  const word = values.statusword ?? 0;
  switch (until.is) {
    case 'mode':
      return profile?.registers.modeDisplay === undefined || values.modeDisplay === until.mode;
    case 'off': {
      const state = deviceState(word);
      return state !== 'operation enabled' && state !== 'quick stop active' && stands(turn.state);
    }
    case 'disabled':
      return !isPowered(deviceState(word));
    case 'at rest':
      return stands(turn.state);
    case 'at speed':
      return Math.abs((values.velocityCounts ?? 0) - until.countsPerSecond) < 0.05 * Math.abs(until.countsPerSecond);
    case 'inputs forced':
      return values.inputForceMask === until.mask;
    case 'held': {
      const { positionCounts = until.fromCounts, torque = 0 } = values;
      if (Math.abs(positionCounts - until.fromCounts) > until.travelCounts) {
        quickStop(turn, { kind: 'stopped', because: 'nothing held the axis within the travel' });
        return false;
      }
      const pushes = Math.abs(torque) * (profile?.registers.torque?.scale ?? 1) >= pushShare * until.torque;
      return stands(turn.state) && pushes && turn.now - (turn.state.script?.since ?? turn.now) > startTime;
    }
    case 'at fence': {
      const { positionCounts = until.counts, velocityCounts = 0 } = values;
      const speed = Math.abs(velocityCounts);
      // What was read is so old already, and the word that stops takes as long again.
      const age = (turn.now - (status?.requestedAt ?? turn.now)) / 1000;
      const way = speed * (2 * age + lookTime) + speed ** 2 / (2 * until.deceleration);
      return until.sense * (until.counts - positionCounts) <= way;
    }
    case 'set-point acknowledged':
      return (word & statusBit.acknowledged) !== 0;
    case 'target reached':
      return (word & statusBit.targetReached) !== 0;
    case 'homing ended': {
      if (word & statusBit.homingError) {
        quickStop(turn, { kind: 'fault', because: homingFailed(turn) });
        return false;
      }
      const ended = statusBit.acknowledged | statusBit.targetReached;
      return (word & ended) === ended;
    }
  }
}
