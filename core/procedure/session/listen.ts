import { endScript } from './endScript.ts';
import { change } from './scriptState.ts';
import { alarmWords } from './stepCondition.ts';
import { set, type Turn } from './turn.ts';

/** An alarm of the drive ends the moves, and with them the recording; one that was there before is for the controller to reset. */
export function listen(turn: Turn): void {
  const { script, permits } = turn.state;
  const because = alarmWords(turn);
  if (because === undefined) return change(turn, { tries: 1 });
  if (script?.tries !== 1) return;
  set(turn, { permits: { ...permits, act: undefined } });
  endScript(turn, { kind: 'fault', because });
}
