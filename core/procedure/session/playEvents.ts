import { controlword } from '../../drive/index.ts';
import type { SpindleEvent } from '../../plant/index.ts';
import { change, permitOf } from './scriptState.ts';
import type { RunningScript } from './sessionState.ts';
import type { Step } from './step.ts';
import { tripped } from './stepCondition.ts';
import { reverseBit } from './stopping.ts';
import { send, set, type Turn } from './turn.ts';

/** What the register of the trigger says before there is one. */
const notYet = 0xffffffff;

/** Plays events by the drive's own clock, from the sample at which it was first commanded to run. @returns whether all have been played */
export function playEvents(
  turn: Turn,
  script: RunningScript,
  step: Extract<Step, { readonly do: 'play' }>,
): 'waits' | 'done' {
  if (tripped(turn)) return 'waits';
  const { traceHead, traceTrigger } = turn.state.status?.values ?? {};
  const runs = traceTrigger !== undefined && traceTrigger !== notYet;
  const seconds =
    traceHead === undefined ? (turn.now - script.since) / 1000 : runs ? (traceHead - traceTrigger) * step.period : 0;
  set(turn, { progress: `Run test, ${Math.floor(seconds)} of ${Math.round(step.duration)} s` });
  let { played } = script;
  for (let event = step.events[played]; event && event.at <= seconds; event = step.events[++played])
    playEvent(turn, event);
  change(turn, { played });
  return seconds < step.duration ? 'waits' : 'done';
}

function playEvent(turn: Turn, event: SpindleEvent): void {
  const permit = permitOf(turn);
  const { profile, isReverse } = turn.state;
  if (!profile || !permit) return;
  const write = (register: string, raw: number, isMotion: boolean) =>
    send(turn, 'script', { kind: 'write', register, raw }, { permit, isMotion });
  const bits = isReverse ? reverseBit : 0;
  switch (event.kind) {
    case 'speed':
      if (event.hertz === 0) write('controlword', controlword.switchOn | bits, false);
      else write('speedReference', Math.round(event.hertz / (profile.registers.speedReference?.scale ?? 1)), true);
      return;
    case 'load':
      // Only the bench can load its spindle; at a real one the load is applied by hand.
      if (profile.registers.benchLoad)
        write('benchLoad', Math.round(event.torque / profile.registers.benchLoad.scale), false);
      return;
    case 'coast':
      write('controlword', controlword.disableVoltage, false);
      return;
    case 'supply':
      // Refused before the test begins.
      return;
  }
}
