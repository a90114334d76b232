import type { DriveInput } from '../../drive/index.ts';
import { beginActivity } from './beginActivity.ts';
import type { Step } from './step.ts';
import { forcedKey } from './temporarySetting.ts';
import { driveState, has, isPowered, nextId, tell, type Turn } from './turn.ts';

/** What an input is forced to; free: it follows its terminal again. */
export type Forcing = 'active' | 'not active' | 'free';

/** Forces one input, or frees it. The motor is off, and stays off as long as an input is forced. */
export function forceInput(turn: Turn, window: string, key: string, to: Forcing): void {
  const { profile, status } = turn.state;
  const input = profile?.inputs.find((each) => each.key === key);
  const because = notForcible(turn, input, to);
  if (because !== undefined || !input) return tell(turn, window, because ?? '');
  const bit = 1 << input.bit;
  const { inputForceMask = 0, inputStates = 0 } = status?.values ?? {};
  const mask = (to === 'free' ? inputForceMask & ~bit : inputForceMask | bit) >>> 0;
  const states = ((to === 'active' ? inputStates | bit : inputStates & ~bit) & mask) >>> 0;
  beginActivity(turn, window, 'forcing inputs', forceSteps(turn, mask, states, inputForceMask));
}

function notForcible(turn: Turn, input: DriveInput | undefined, to: Forcing): string | undefined {
  if (!input) return 'The register map has no such input.';
  if (!has(turn.state, 'inputForceMask') || !has(turn.state, 'inputForceStates'))
    return 'The register map of this drive has no registers that force inputs (inputForceMask and inputForceStates).';
  const drive = driveState(turn.state, turn.now);
  if (drive === undefined) return 'The state of the drive is not known.';
  if (to === 'free') return undefined;
  if (input.role === 'safeTorqueOff') return 'Safe torque off is never forced.';
  return isPowered(drive) ? 'Disable the drive first: inputs are forced with the motor off only.' : undefined;
}

/** Kept before it is done, so that it is shown and ended after a crash as well; forgotten when the last input is free. */
function forceSteps(turn: Turn, mask: number, states: number, before: number): readonly Step[] {
  const setting = turn.state.temporary.find(({ key }) => key === forcedKey);
  return [
    ...(mask !== 0 && (before === 0 || !setting)
      ? [{ do: 'remember', key: forcedKey, label: 'Forced inputs', original: 0, temporary: mask } as const]
      : []),
    { do: 'write', register: 'inputForceStates', raw: states },
    { do: 'write', register: 'inputForceMask', raw: mask },
    { do: 'read back', register: 'inputForceMask', raw: mask },
    // What is forced next starts from what is seen then.
    { do: 'await', what: 'Forcing the input', until: { is: 'inputs forced', mask }, seconds: 2 },
    ...(mask === 0 && setting ? [{ do: 'forget', setting } as const] : []),
  ];
}

/** Frees every input, where one is forced: its window, page or tab has gone. */
export function endForcing(turn: Turn, window: string): void {
  const { status, link, script } = turn.state;
  if (link !== 'up' || script || (status?.values.inputForceMask ?? 0) === 0) return;
  beginActivity(turn, window, 'forcing inputs', forceSteps(turn, 0, 0, status?.values.inputForceMask ?? 0));
}

/** A drive frees its inputs at a restart, or when the link is lost: the temporary setting is then removed. */
export function tendForcing(turn: Turn): void {
  const { temporary, status, script, lookUp } = turn.state;
  const setting = temporary.find(({ key }) => key === forcedKey);
  if (!setting || script || lookUp !== undefined || status?.values.inputForceMask !== 0) return;
  turn.commands.push({ type: 'forget', id: nextId(turn), setting });
}

/** Why nothing may be switched on: an input that is forced guards nothing. */
export const forcedBecause = ({ state }: Turn): string | undefined =>
  (state.status?.values.inputForceMask ?? 0) === 0
    ? undefined
    : 'Inputs of the drive are forced, so they guard nothing. Free them first.';
