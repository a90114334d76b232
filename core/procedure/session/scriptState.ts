import { endScript } from './endScript.ts';
import type { End, Permit, RunningScript } from './sessionState.ts';
import { quickStop } from './stopping.ts';
import { set, type Turn } from './turn.ts';

/** Changes what is known of the activity under way. */
export const change = (turn: Turn, next: Partial<RunningScript>): void => {
  if (turn.state.script) set(turn, { script: { ...turn.state.script, ...next } });
};

/** The permit it runs by, while it is alive. */
export const permitOf = ({ state: { permits, script } }: Turn): Permit | undefined =>
  [permits.act, permits.enable].find((permit) => permit !== undefined && permit.id === script?.permit);

/** An activity has failed: when it may have moved something, or the motor is on by it, the drive is stopped. */
export function fail(turn: Turn, end: End): void {
  const { script, permits } = turn.state;
  if (!script) return;
  if (script.hasMoved) return quickStop(turn, end);
  set(turn, { permits: { ...permits, act: undefined } });
  endScript(turn, end);
}

/** Ends the activity because a step is refused. */
export const refuse = (turn: Turn, because: string): 'waits' => {
  fail(turn, { kind: 'refused', because });
  return 'waits';
};
