import type { End } from './sessionState.ts';
import { send, set, tell, type Turn } from './turn.ts';

/** Ends what is under way; a recording goes on until its rest has been fetched. */
export function endScript(turn: Turn, end: End): void {
  const { script, recording } = turn.state;
  set(turn, { script: undefined, progress: '' });
  if (recording && !recording.ending) {
    set(turn, { recording: { ...recording, ending: { end, by: turn.now + 5000 } } });
    if (turn.state.link === 'up') send(turn, 'end of trace', { kind: 'write', register: 'traceRun', raw: 0 });
  }
  if (script && end.kind !== 'finished' && end.kind !== 'stopped') tell(turn, script.window, end.because);
}
