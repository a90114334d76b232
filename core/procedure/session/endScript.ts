import { keepSeries } from './homingSeries.ts';
import type { End } from './sessionState.ts';
import { send, set, tell, type Turn } from './turn.ts';

/** Ends what is under way; a recording goes on until its rest has been fetched. */
export function endScript(turn: Turn, end: End): void {
  const { script, recording } = turn.state;
  if (script?.activity === 'homing series') keepSeries(turn, end);
  set(turn, { script: undefined, progress: '', lastEnd: { end, at: turn.now } });
  if (recording && !recording.ending) {
    set(turn, { recording: { ...recording, ending: { end, by: turn.now + 5000 } } });
    if (turn.state.link === 'up') send(turn, 'end of trace', { kind: 'write', register: 'traceRun', raw: 0 });
  }
  // A guided step judges its end itself.
  if (script && script.activity !== 'guided step' && end.kind !== 'finished' && end.kind !== 'stopped')
    tell(turn, script.window, end.because);
}
