import { controlword, deviceState, errorText, nextTowardsEnabled } from '../../drive/index.ts';
import { change, fail, permitOf } from './scriptState.ts';
import type { RunningScript } from './sessionState.ts';
import { nextId, send, set, type Turn } from './turn.ts';

/** s in which a drive must go through its states */
export const enableTime = 5;

/** Goes on through the states of the drive. @returns whether it is enabled, or waited for */
export function towardsEnabled(turn: Turn, script: RunningScript, bits: number, seconds: number): 'waits' | 'done' {
  const permit = permitOf(turn);
  if (script.waitsFor !== undefined) {
    if (seconds > enableTime) fail(turn, { kind: 'timeout', because: notEnabled });
    return 'waits';
  }
  const values = turn.state.status?.values ?? {};
  const state = deviceState(values.statusword ?? 0);
  if (state === 'operation enabled') {
    // From here on the motor has leave of its own, whatever becomes of the activity that switched it on.
    // It has a number of its own, so that no write of that activity lives on under it.
    const enable = permit && { ...permit, id: nextId(turn) };
    set(turn, { permits: { ...turn.state.permits, enable } });
    return 'done';
  }
  if (state === 'fault' || state === 'fault reaction active') {
    const fault = errorText(values.errorCode ?? 0) ?? 'The drive has a fault.';
    fail(turn, { kind: 'fault', because: `${fault} Find its cause, then reset it.` });
    return 'waits';
  }
  if (script.tries >= 12 || !permit) {
    fail(turn, { kind: 'timeout', because: notEnabled });
    return 'waits';
  }
  const word = state && nextTowardsEnabled(state);
  if (word === undefined) return 'waits';
  const isMotion = word === controlword.enableOperation;
  const id = send(turn, 'script', { kind: 'write', register: 'controlword', raw: word | bits }, { permit, isMotion });
  change(turn, { waitsFor: id, tries: script.tries + 1, hasMoved: true });
  return 'waits';
}

const notEnabled =
  'The drive did not enable. Check that its enable input is on, that its active level is right, and that it takes its command from the link.';
