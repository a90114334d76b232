import { startScript } from './runScript.ts';
import type { Permit, SessionActivity } from './sessionState.ts';
import type { Step } from './step.ts';
import { nextId, set, type Turn } from './turn.ts';

/** This window holds the drive from now on. */
export const hold = (turn: Turn, window: string): void => set(turn, { holder: { window, aliveAt: turn.now } });

/** Gives leave for one activity; whatever had leave before has it no longer. */
export function givePermit(turn: Turn, window: string, press = 0): Permit {
  const given = { id: nextId(turn), window, press, version: turn.state.plan?.version ?? 0 };
  set(turn, { permits: { ...turn.state.permits, act: given } });
  return given;
}

/** Begins an activity with a permit of its own. */
export function beginActivity(
  turn: Turn,
  window: string,
  activity: SessionActivity,
  steps: readonly Step[],
  press = 0,
): void {
  startScript(turn, { activity, window, permit: givePermit(turn, window, press), steps });
}
