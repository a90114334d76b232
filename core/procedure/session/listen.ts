import { deviceState, errorText } from '../../drive/index.ts';
import { endScript } from './endScript.ts';
import { change } from './scriptState.ts';
import { set, type Turn } from './turn.ts';

/** An alarm of the drive ends the moves, and with them the recording; one that was there before is for the controller to reset. */
export function listen(turn: Turn): void {
  const { script, permits, status } = turn.state;
  const state = deviceState(status?.values.statusword ?? 0);
  const isAlarm = state === 'fault' || state === 'fault reaction active';
  if (!isAlarm) return change(turn, { tries: 1 });
  if (script?.tries !== 1) return;
  set(turn, { permits: { ...permits, act: undefined } });
  endScript(turn, {
    kind: 'fault',
    because: errorText(status?.values.errorCode ?? 0) ?? 'The drive has an alarm.',
  });
}
