import {
  controlword,
  deviceState,
  errorText,
  nextTowardsEnabled,
  parameterOfRole,
  statusBit,
} from '../../drive/index.ts';
import type { SpindleEvent } from '../../plant/index.ts';
import { addressText } from './memberPlan.ts';
import { identityMark } from './deviceIdentity.ts';
import { checkedParameters, planRefusal, uncheckedRoles } from './planChecks.ts';
import { type DeviceAnswer, type End, type Permit, type RunningScript, type SessionActivity } from './sessionState.ts';
import { enabledKey } from './temporarySetting.ts';
import type { Condition, Step } from './step.ts';
import { quickStop, rampDown, reverseBit } from './stopping.ts';
import { endScript } from './endScript.ts';
import { nextId, send, set, stands, type Turn } from './turn.ts';

/** s in which a drive must go through its states */
const enableTime = 5;
/** s in which the database must have kept what is to be changed */
const databaseTime = 2;
/** What the register of the trigger says before there is one. */
const notYet = 0xffffffff;

/** Begins an activity. Its permit must have been given. */
export function startScript(
  turn: Turn,
  options: {
    readonly activity: SessionActivity;
    readonly window: string;
    readonly permit: Permit;
    readonly steps: readonly Step[];
  },
): void {
  const { activity, window, permit, steps } = options;
  set(turn, {
    progress: '',
    script: {
      activity,
      window,
      permit: permit.id,
      steps,
      at: 0,
      since: turn.now,
      waitsFor: undefined,
      tries: 0,
      hasMoved: false,
      played: 0,
    },
  });
  proceed(turn);
}

const change = (turn: Turn, next: Partial<RunningScript>): void => {
  if (turn.state.script) set(turn, { script: { ...turn.state.script, ...next } });
};

const permitOf = ({ state: { permits, script } }: Turn): Permit | undefined =>
  [permits.act, permits.enable].find((permit) => permit !== undefined && permit.id === script?.permit);

/** Carries out steps until one has to wait. */
function proceed(turn: Turn): void {
  for (let script = turn.state.script; script; script = turn.state.script) {
    const step = script.steps[script.at];
    if (!step) return finish(turn);
    if (begin(turn, step) === 'waits') return;
    if (turn.state.script === undefined) return;
    next(turn);
  }
}

const next = (turn: Turn): void =>
  change(turn, { at: (turn.state.script?.at ?? 0) + 1, since: turn.now, waitsFor: undefined, tries: 0 });

function finish(turn: Turn): void {
  const { script, permits } = turn.state;
  set(turn, { permits: { ...permits, act: undefined } });
  endScript(turn, { kind: 'finished' });
  // Whatever the events of a run test were, its end is a stop.
  if (script?.activity === 'run test') rampDown(turn);
}

/** An activity has failed: when it may have moved something, or the motor is on by it, the drive is stopped. */
export function fail(turn: Turn, end: End): void {
  const { script, permits } = turn.state;
  if (!script) return;
  if (script.hasMoved) return quickStop(turn, end);
  set(turn, { permits: { ...permits, act: undefined } });
  endScript(turn, end);
}

const refuse = (turn: Turn, because: string): 'waits' => {
  fail(turn, { kind: 'refused', because });
  return 'waits';
};

/** Begins a step. @returns whether it waits for an event */
function begin(turn: Turn, step: Step): 'waits' | 'done' {
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
      if (isMotion) change(turn, { hasMoved: true });
      return ask(send(turn, 'script', { kind: 'write', register, raw }, { permit, isMotion }));
    }
    case 'read back':
      return ask(send(turn, 'script', { kind: 'read', registers: [step.register] }));
    case 'set temporarily': {
      const parameter = parameterOfRole(profile, step.role);
      if (!parameter) return 'done';
      return ask(send(turn, 'script', { kind: 'read parameters', keys: [parameter.key] }));
    }
    case 'remember motor':
      set(turn, { isOurs: true });
      return ask(remember(turn, enabledKey, 'Motor switched on from Kavrid', 0, 1));
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
    case 'await':
    case 'dwell':
    case 'hold':
    case 'play':
      return 'waits';
    case 'record': {
      const missing = ['traceRun', 'tracePeriod', 'traceHead', 'traceMemory'].some((key) => !profile.registers[key]);
      if (missing) return 'done';
      send(turn, 'script', { kind: 'write', register: 'tracePeriod', raw: step.periodSteps }, { permit });
      return ask(send(turn, 'script', { kind: 'write', register: 'traceRun', raw: 1 }, { permit }));
    }
  }
}

function remember(turn: Turn, key: string, label: string, original: number, temporary: number): number {
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

/** The answer that the present step waits for has come. */
export function scriptAnswered(turn: Turn, id: number, answer: DeviceAnswer): void {
  const { script, plan, profile } = turn.state;
  const step = script?.steps[script.at];
  if (!script || !step || script.waitsFor !== id || !plan || !profile) return;
  const values = answer.kind === 'values' ? answer.values : {};
  switch (step.do) {
    case 'check': {
      const refusal = planRefusal(plan, profile, step.roles, values);
      if (refusal) return fail(turn, { kind: 'refused', because: refusal });
      break;
    }
    case 'read back':
      if (values[step.register] !== step.raw)
        return fail(turn, {
          kind: 'refused',
          because: `The drive did not take ${step.register}: it reads ${values[step.register]} instead of ${step.raw}.`,
        });
      break;
    case 'read back parameter':
      if (values[step.key] !== step.raw)
        return fail(turn, { kind: 'refused', because: `The drive did not take ${step.key}; it is left as it was.` });
      break;
    case 'set temporarily':
      return temporarily(turn, script, step, values);
    case 'enable':
      change(turn, { waitsFor: undefined, since: turn.now });
      return;
    case 'record':
      // The drive has cleared its trace memory: earlier trace positions belong to an older recording.
      turn.commands.push({ type: 'record', periodSteps: step.periodSteps });
      set(turn, {
        recording: {
          kind: step.kind,
          periodSteps: step.periodSteps,
          version: plan.version,
          startedAt: turn.now,
          taken: 0,
          trigger: undefined,
          ending: undefined,
        },
      });
      break;
    default:
      break;
  }
  next(turn);
  proceed(turn);
}

/** Original read, then kept, then written: three answers of one step. */
function temporarily(
  turn: Turn,
  script: RunningScript,
  step: Extract<Step, { readonly do: 'set temporarily' }>,
  values: Readonly<Record<string, number>>,
): void {
  const { profile } = turn.state;
  const parameter = profile && parameterOfRole(profile, step.role);
  if (!parameter) return;
  if (script.tries === 0) {
    const original = values[parameter.key];
    if (original === undefined)
      return fail(turn, { kind: 'refused', because: `${parameter.label} could not be read.` });
    if (original === step.raw) {
      next(turn);
      return proceed(turn);
    }
    const id = remember(turn, parameter.key, parameter.label, original, step.raw);
    return change(turn, { waitsFor: id, tries: 1, original });
  }
  next(turn);
  proceed(turn);
}

/** The database has kept, or forgotten, what the present step asked. */
export function scriptKept(turn: Turn, id: number): void {
  const { script, profile } = turn.state;
  const step = script?.steps[script.at];
  if (!script || !step || script.waitsFor !== id) return;
  if (step.do === 'set temporarily' && profile) {
    const parameter = parameterOfRole(profile, step.role);
    const permit = permitOf(turn);
    if (!parameter || !permit) return;
    const sent = send(turn, 'script', { kind: 'write parameter', key: parameter.key, raw: step.raw }, { permit });
    return change(turn, { waitsFor: sent, tries: 2 });
  }
  next(turn);
  proceed(turn);
}

/** The request or call of the present step has failed. */
export function scriptFailed(turn: Turn, id: number, end: End): void {
  if (turn.state.script?.waitsFor === id) fail(turn, end);
}

/** A new status has come, or time has passed: steps that wait for either. */
export function tendScript(turn: Turn): void {
  const { script, status, profile } = turn.state;
  const step = script?.steps[script.at];
  if (!script || !step || !profile) return;
  const seconds = (turn.now - script.since) / 1000;
  const isNew = status !== undefined && status.requestedAt >= script.since;
  switch (step.do) {
    case 'enable':
      return isNew || seconds > enableTime ? towardsEnabled(turn, script, step.bits, seconds) : undefined;
    case 'await':
      if (isNew && lostPower(turn, step.until)) return;
      if (isNew && isMet(turn, step.until)) {
        next(turn);
        return proceed(turn);
      }
      if (seconds > step.seconds)
        fail(turn, { kind: 'timeout', because: `${step.what} did not end within ${step.seconds.toFixed(0)} s.` });
      return;
    case 'dwell':
      if (isNew && lostPower(turn, undefined)) return;
      if (seconds >= step.seconds) {
        next(turn);
        proceed(turn);
      }
      return;
    case 'hold':
      if (isNew) lostPower(turn, undefined);
      return;
    case 'play':
      return isNew ? play(turn, script, step) : undefined;
    case 'set temporarily':
    case 'remember motor':
      // A motor must not switch on seconds after the button was pressed.
      if (seconds > databaseTime)
        fail(turn, {
          kind: 'timeout',
          because: 'The database does not answer in time, so the drive is left as it is.',
        });
      return;
    default:
      return;
  }
}

/** Ends the activity when the drive is no longer enabled. */
function lostPower(turn: Turn, until: Condition | undefined): boolean {
  const values = turn.state.status?.values ?? {};
  const state = deviceState(values.statusword ?? 0);
  if (until?.is === 'off') return false;
  if (state === 'fault' || state === 'fault reaction active') {
    quickStop(turn, { kind: 'fault', because: errorText(values.errorCode ?? 0) ?? 'The drive has a fault.' });
    return true;
  }
  if (state === 'operation enabled' || (until?.is === 'mode' && !turn.state.script?.hasMoved)) return false;
  quickStop(turn, { kind: 'stopped', because: 'the drive was switched off or stopped by something else' });
  return true;
}

function isMet(turn: Turn, until: Condition): boolean {
  const { status, profile } = turn.state;
  const values = status?.values ?? {};
  const word = values.statusword ?? 0;
  switch (until.is) {
    case 'mode':
      return profile?.registers.modeDisplay === undefined || values.modeDisplay === until.mode;
    case 'off': {
      const state = deviceState(word);
      return state !== 'operation enabled' && state !== 'quick stop active' && stands(turn.state);
    }
    case 'set-point acknowledged':
      return (word & statusBit.acknowledged) !== 0;
    case 'target reached':
      return (word & statusBit.targetReached) !== 0;
    case 'homing ended': {
      if (word & statusBit.homingError) {
        quickStop(turn, { kind: 'fault', because: errorText(values.errorCode ?? 0) ?? 'Homing failed.' });
        return false;
      }
      const ended = statusBit.acknowledged | statusBit.targetReached;
      return (word & ended) === ended;
    }
  }
}

function towardsEnabled(turn: Turn, script: RunningScript, bits: number, seconds: number): void {
  const permit = permitOf(turn);
  if (script.waitsFor !== undefined) {
    if (seconds > enableTime) fail(turn, { kind: 'timeout', because: notEnabled });
    return;
  }
  const values = turn.state.status?.values ?? {};
  const state = deviceState(values.statusword ?? 0);
  if (state === 'operation enabled') {
    // From here on the motor has leave of its own, whatever becomes of the activity that switched it on.
    // It has a number of its own, so that no write of that activity lives on under it.
    const enable = permit && { ...permit, id: nextId(turn) };
    set(turn, { permits: { ...turn.state.permits, enable } });
    next(turn);
    return proceed(turn);
  }
  if (state === 'fault' || state === 'fault reaction active')
    return fail(turn, {
      kind: 'fault',
      because: `${errorText(values.errorCode ?? 0) ?? 'The drive has a fault.'} Find its cause, then reset it.`,
    });
  if (script.tries >= 12 || !permit) return fail(turn, { kind: 'timeout', because: notEnabled });
  const word = state && nextTowardsEnabled(state);
  if (word === undefined) return;
  const isMotion = word === controlword.enableOperation;
  const id = send(turn, 'script', { kind: 'write', register: 'controlword', raw: word | bits }, { permit, isMotion });
  change(turn, { waitsFor: id, tries: script.tries + 1, hasMoved: true });
}

const notEnabled =
  'The drive did not enable. Check that its enable input is on, that its active level is right, and that it takes its command from the link.';

/** Plays events along the drive's own clock, from the sample at which it was first told to run. */
function play(turn: Turn, script: RunningScript, step: Extract<Step, { readonly do: 'play' }>): void {
  const values = turn.state.status?.values ?? {};
  const state = deviceState(values.statusword ?? 0);
  if (state === 'fault' || state === 'fault reaction active')
    return quickStop(turn, { kind: 'fault', because: errorText(values.errorCode ?? 0) ?? 'The drive has tripped.' });
  const { traceHead, traceTrigger } = values;
  const runs = traceTrigger !== undefined && traceTrigger !== notYet;
  const seconds =
    traceHead === undefined ? (turn.now - script.since) / 1000 : runs ? (traceHead - traceTrigger) * step.period : 0;
  set(turn, { progress: `Run test, ${Math.floor(seconds)} of ${Math.round(step.duration)} s` });
  let { played } = script;
  for (let event = step.events[played]; event && event.at <= seconds; event = step.events[++played])
    playEvent(turn, event);
  change(turn, { played });
  if (seconds < step.duration) return;
  next(turn);
  proceed(turn);
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
