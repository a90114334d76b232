import { parameterOfRole, type DriveProfile } from '../../drive/index.ts';
import { beginStep, remember } from './beginStep.ts';
import { endScript } from './endScript.ts';
import { planRefusal } from './planChecks.ts';
import { playEvents } from './playEvents.ts';
import { change, fail, permitOf } from './scriptState.ts';
import type { DeviceAnswer, End, Permit, RunningScript, SessionActivity } from './sessionState.ts';
import type { Step } from './step.ts';
import { noteHome, seriesRegister } from './homingSeries.ts';
import { listen } from './listen.ts';
import { isMet, lostPower } from './stepCondition.ts';
import { rampDown } from './stopping.ts';
import { enableTime, towardsEnabled } from './towardsEnabled.ts';
import { send, set, type Turn } from './turn.ts';
import { temporaryHere } from './temporarySetting.ts';
import { recordedSteps } from './recordingTrace.ts';

/** s in which the database must have kept what is to be changed */
const databaseTime = 2;

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

/** Carries out steps until one has to wait. */
function proceed(turn: Turn): void {
  for (let script = turn.state.script; script; script = turn.state.script) {
    const step = script.steps[script.at];
    if (!step) return finish(turn);
    if (beginStep(turn, step) === 'waits') return;
    if (turn.state.script === undefined) return;
    next(turn);
  }
}

const next = (turn: Turn): void =>
  change(turn, { at: (turn.state.script?.at ?? 0) + 1, since: turn.now, waitsFor: undefined, tries: 0 });

/** The present step has ended. */
function goOn(turn: Turn): void {
  next(turn);
  proceed(turn);
}

function finish(turn: Turn): void {
  const { script, permits } = turn.state;
  set(turn, { permits: { ...permits, act: undefined } });
  endScript(turn, { kind: 'finished' });
  // Whatever the events of a run test were, its end is a stop.
  if (script?.activity === 'run test') rampDown(turn);
}

/** The answer that the present step waits for has come. */
export function scriptAnswered(turn: Turn, id: number, answer: DeviceAnswer): void {
  const { script, plan, profile } = turn.state;
  const step = script?.steps[script.at];
  if (!script || !step || script.waitsFor !== id || !plan || !profile) return;
  const values = answer.kind === 'values' ? answer.values : {};
  switch (step.do) {
    case 'check': {
      const refusal = planRefusal(plan, profile, step.roles, values, temporaryHere(turn.state));
      if (refusal) return fail(turn, { kind: 'refused', because: refusal });
      break;
    }
    case 'hold':
      // The speed of a lever has been taken.
      change(turn, { waitsFor: undefined });
      return;
    case 'read back':
      if (values[step.register] !== step.raw)
        return fail(turn, {
          kind: 'refused',
          because: `The drive did not accept ${step.register}: it reads ${values[step.register]} instead of ${step.raw}.`,
        });
      break;
    case 'note home': {
      const { [seriesRegister]: encoderCounts, positionCounts } = values;
      if (encoderCounts === undefined || positionCounts === undefined)
        return fail(turn, { kind: 'refused', because: 'The position was not read at home.' });
      noteHome(turn, encoderCounts, positionCounts);
      break;
    }
    case 'read back parameter':
      if (values[step.key] !== step.raw)
        return fail(turn, { kind: 'refused', because: `The drive did not accept ${step.key}; it is left as it was.` });
      seen(turn, step.key, step.raw);
      break;
    case 'set temporarily':
      return temporarily(turn, script, step, values);
    case 'enable':
      change(turn, { waitsFor: undefined, since: turn.now });
      return;
    case 'record':
      // The drive has cleared its trace memory: earlier trace positions belong to an older recording.
      turn.commands.push({ type: 'record', periodSteps: recordedSteps(turn.state, step.periodSteps) });
      set(turn, {
        recording: {
          kind: step.kind,
          periodSteps: recordedSteps(turn.state, step.periodSteps),
          version: plan.version,
          startedAt: turn.now,
          taken: 0,
          missing: 0,
          trigger: undefined,
          ending: undefined,
        },
      });
      break;
    default:
      break;
  }
  goOn(turn);
}

/** What the running copy of a value that works at once has just been read to be goes into what is known of the drive. */
function seen(turn: Turn, key: string, raw: number): void {
  const { reading } = turn.state;
  if (!reading || reading.running[key] === raw) return;
  const written = { ...reading.written, [key]: raw };
  set(turn, { reading: { ...reading, running: { ...reading.running, [key]: raw }, written } });
  turn.commands.push({ type: 'drive data changed' });
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
      return goOn(turn);
    }
    const id = remember(turn, parameter.key, parameter.label, original, step.raw);
    return change(turn, { waitsFor: id, tries: 1, original });
  }
  goOn(turn);
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
  goOn(turn);
}

/** The request or call of the present step has failed. */
export function scriptFailed(turn: Turn, id: number, end: End): void {
  if (turn.state.script?.waitsFor === id) fail(turn, end);
}

const higher = (
  { error, torque }: NonNullable<RunningScript['peaks']>,
  values: Readonly<Record<string, number>>,
  profile: DriveProfile,
) => ({
  error: Math.max(error, Math.abs(values.followingErrorCounts ?? 0)),
  torque: Math.max(torque, Math.abs(values.torque ?? 0) * (profile.registers.torque?.scale ?? 1)),
});

/** A new status has come, or time has passed: steps that wait for either. */
export function tendScript(turn: Turn): void {
  const { script, status, profile } = turn.state;
  const step = script?.steps[script.at];
  if (!script || !step || !profile) return;
  const seconds = (turn.now - script.since) / 1000;
  const isNew = status !== undefined && status.requestedAt >= script.since;
  if (script.peaks && status) change(turn, { peaks: higher(script.peaks, status.values, profile) });
  switch (step.do) {
    case 'enable':
      if ((isNew || seconds > enableTime) && towardsEnabled(turn, script, step.bits, seconds) === 'done') goOn(turn);
      return;
    case 'await':
      if (isNew && lostPower(turn, step.until)) return;
      if (isNew && isMet(turn, step.until)) {
        return goOn(turn);
      }
      if (seconds > step.seconds)
        fail(turn, { kind: 'timeout', because: `${step.what} did not complete within ${step.seconds.toFixed(0)} s.` });
      return;
    case 'dwell':
      if (isNew && lostPower(turn, undefined)) return;
      if (seconds >= step.seconds) {
        goOn(turn);
      }
      return;
    case 'listen':
      if (seconds >= step.seconds) goOn(turn);
      else if (isNew) listen(turn);
      return;
    case 'await go':
      if (isNew && lostPower(turn, undefined)) return;
      if (!turn.state.homingSeries?.isPaused) goOn(turn);
      return;
    case 'hold':
      if (isNew) lostPower(turn, undefined);
      return;
    case 'play':
      if (isNew && playEvents(turn, script, step) === 'done') goOn(turn);
      return;
    case 'set temporarily':
    case 'remember':
    case 'remember motor':
      // A motor must not switch on seconds after the button was pressed.
      if (seconds > databaseTime)
        fail(turn, {
          kind: 'timeout',
          because: 'The database does not respond in time, so the drive is left as it is.',
        });
      return;
    default:
      return;
  }
}
