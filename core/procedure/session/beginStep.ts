import { parameterOfRole } from '../../drive/index.ts';
import { identityMark } from './deviceIdentity.ts';
import { seriesRegister } from './homingSeries.ts';
import { addressText } from './deviceAddress.ts';
import { checkedParameters, uncheckedRoles } from './planChecks.ts';
import { change, permitOf, refuse } from './scriptState.ts';
import { tripped } from './stepCondition.ts';
import type { RunningScript } from './sessionState.ts';
import type { Step } from './step.ts';
import { enabledKey } from './temporarySetting.ts';
import { nextId, send, set, tell, type Turn } from './turn.ts';
import { recordedSteps } from './recordingTrace.ts';

/** Begins a step. @returns whether it waits for an event */
export function beginStep(turn: Turn, step: Step): 'waits' | 'done' {
  const permit = permitOf(turn);
  const { profile, plan } = turn.state;
  if (!permit || !profile || !plan) return refuse(turn, 'This activity is no longer permitted.');
  const ask = (id: number) => {
    change(turn, { waitsFor: id });
    return 'waits' as const;
  };
  switch (step.do) {
    case 'tell':
      set(turn, { progress: step.progress });
      return 'done';
    case 'check': {
      set(turn, { unchecked: uncheckedRoles(profile, step.roles) });
      const keys = checkedParameters(profile, step.roles).map(({ key }) => key);
      return keys.length === 0 ? 'done' : ask(send(turn, 'script', { kind: 'read parameters', keys }));
    }
    case 'write': {
      const { register, raw, isMotion = false } = step;
      if (!profile.registers[register]) return refuse(turn, `The register map has no register ${register}.`);
      if (isMotion && tripped(turn)) return 'waits';
      if (isMotion) change(turn, { hasMoved: true });
      return ask(send(turn, 'script', { kind: 'write', register, raw }, { permit, isMotion }));
    }
    case 'read back':
      return ask(send(turn, 'script', { kind: 'read', registers: [step.register] }));
    case 'note home':
      return ask(send(turn, 'script', { kind: 'read', registers: [seriesRegister, 'positionCounts'] }));
    case 'set temporarily': {
      const parameter = parameterOfRole(profile, step.role);
      if (!parameter) return 'done';
      return ask(send(turn, 'script', { kind: 'read parameters', keys: [parameter.key] }));
    }
    case 'remember motor':
      set(turn, { isOurs: true });
      return ask(remember(turn, enabledKey, 'Motor switched on from Kavrid', 0, 1));
    case 'remember':
      return ask(remember(turn, step.key, step.label, step.original, step.temporary));
    case 'write parameter':
      return ask(send(turn, 'script', { kind: 'write parameter', key: step.key, raw: step.raw }, { permit }));
    case 'read back parameter':
      return ask(send(turn, 'script', { kind: 'read parameters', keys: [step.key] }));
    case 'forget': {
      const id = nextId(turn);
      turn.commands.push({ type: 'forget', id, setting: step.setting });
      return ask(id);
    }
    case 'enable':
      set(turn, { beats: true });
      return 'waits';
    case 'watch peaks':
      change(turn, { peaks: { error: 0, torque: 0 } });
      return 'done';
    case 'judge peaks': {
      const over = overLimit(step, turn.state.script?.peaks);
      if (over === undefined) return 'done';
      tell(turn, permit.window, `The series ended at ${step.at}: ${over}`);
      // The axis stands at its start; nothing of the rest is made.
      change(turn, { at: turn.state.script?.steps.length ?? 0 });
      return 'done';
    }
    case 'mark':
      set(turn, { markedAt: turn.now });
      return 'done';
    case 'withhold':
      set(turn, { beats: false });
      return 'done';
    case 'await':
    case 'await go':
    case 'dwell':
    case 'listen':
    case 'hold':
    case 'play':
      return 'waits';
    case 'record': {
      const missing = ['traceRun', 'tracePeriod', 'traceHead', 'traceMemory'].some((key) => !profile.registers[key]);
      if (missing) return 'done';
      send(
        turn,
        'script',
        { kind: 'write', register: 'tracePeriod', raw: recordedSteps(turn.state, step.periodSteps) },
        { permit },
      );
      return ask(send(turn, 'script', { kind: 'write', register: 'traceRun', raw: 1 }, { permit }));
    }
  }
}

/** Which limit the peaks were above, with the numbers; undefined: none. */
function overLimit(
  { followingError, torque, unit, unitsPerCount }: Extract<Step, { readonly do: 'judge peaks' }>,
  peaks: RunningScript['peaks'],
): string | undefined {
  const error = (peaks?.error ?? 0) * unitsPerCount;
  if (followingError !== null && error > followingError)
    return `a following error of ${Number(error.toPrecision(3))} ${unit} is above the limit of ${followingError} ${unit}.`;
  if (torque !== null && (peaks?.torque ?? 0) > torque)
    return `a torque of ${Number((peaks?.torque ?? 0).toPrecision(3))} % is above the limit of ${torque} %.`;
  return undefined;
}

/** Has a value kept before it is changed. @returns the id by which that is answered */
export function remember(turn: Turn, key: string, label: string, original: number, temporary: number): number {
  const { identity, address } = turn.state;
  const id = nextId(turn);
  turn.commands.push({
    type: 'remember',
    id,
    setting: {
      key,
      label,
      original,
      temporary,
      identity: identity ? identityMark(identity) : '',
      address: address ? addressText(address) : '',
    },
  });
  return id;
}
