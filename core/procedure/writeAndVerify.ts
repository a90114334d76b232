import {
  compareValues,
  fromRaw,
  outOfRange,
  writeOrder,
  type DriveParameter,
  type DriveProfile,
  type DriveReading,
  type ParameterComparison,
  type PlannedValues,
  type RawValues,
} from '../drive/index.ts';

/** What the drive is to hold: the plan as it stands, or values from elsewhere (a snapshot, a file, the factory). */
export type WriteTarget =
  | { readonly kind: 'plan' }
  /** `label`: where they come from, in words: “snapshot Before service”. */
  | { readonly kind: 'values'; readonly label: string; readonly values: RawValues };

/**
 * Write and verify: read what is there, show what differs, make sure that it is still the same drive in the same state, keep a
 * snapshot of it, write only what differs, read back, store, restart where a value waits for it, and read once more. A reducer:
 * it knows nothing of links and is driven by events.
 */
export interface WriteAndVerifyState {
  readonly phase:
    | 'idle'
    | 'reading'
    | 'review'
    | 'identifying'
    | 'checking'
    | 'keeping a snapshot'
    | 'unlocking'
    | 'writing'
    | 'reading back'
    | 'storing'
    | 'checking store'
    | 'restarting'
    | 'proving'
    | 'proven'
    | 'failed';
  readonly profile: DriveProfile;
  readonly target: WriteTarget;
  /** The values of the target, in the unit of each. */
  readonly wanted: PlannedValues;
  readonly reading: DriveReading | undefined;
  readonly comparisons: readonly ParameterComparison[];
  /** What this device has kept through a restart; see {@link compareValues}. */
  readonly survived: RawValues;
  /** A parameter that reads a value it cannot have: nothing is written by this map. */
  readonly unreadable: DriveParameter | undefined;
  /** Keys still to be written, in order; in review, those that would be. */
  readonly queue: readonly string[];
  /** Keys that the drive has taken since the writing began. */
  readonly written: readonly string[];
  /** A write whose answer never came: whether the drive has the value is not known. */
  readonly inDoubt: string | undefined;
  /** Its parameters were locked before the writing, and are locked again after it. */
  readonly wasLocked: boolean;
  /** Whether everything written has been stored, and the store looked at. */
  readonly isStored: boolean;
  readonly log: readonly string[];
  readonly because?: string;
}

export type WriteAndVerifyEvent =
  | {
      readonly type: 'start';
      readonly planned: PlannedValues;
      readonly survived: RawValues;
      readonly target: WriteTarget;
    }
  | { readonly type: 'read'; readonly reading: DriveReading }
  /** With the plan as it stands now, which is what is written where the target is the plan. */
  | { readonly type: 'confirm'; readonly planned: PlannedValues }
  /** It is still the drive that was read; `isLocked`: its parameters have to be unlocked first. */
  | { readonly type: 'identified'; readonly isLocked?: boolean }
  | { readonly type: 'unlocked' }
  | { readonly type: 'snapshot kept' }
  | { readonly type: 'written'; readonly key: string }
  | { readonly type: 'stored' }
  | { readonly type: 'restarted' }
  /** `isRefused`: the drive has said no, so that what was asked has not been done. */
  | { readonly type: 'failed'; readonly because: string; readonly isRefused?: boolean };

export type WriteAndVerifyCommand =
  | { readonly type: 'read' }
  | { readonly type: 'identify' }
  | { readonly type: 'unlock' }
  /** As it was before the writing. */
  | { readonly type: 'lock' }
  /** Of the reading, before anything is written. */
  | { readonly type: 'keep snapshot' }
  | { readonly type: 'write'; readonly key: string; readonly raw: number }
  | { readonly type: 'store' }
  | { readonly type: 'restart' };

export interface WriteAndVerifyStep {
  readonly state: WriteAndVerifyState;
  readonly commands: readonly WriteAndVerifyCommand[];
}

export const writeAndVerify = (profile: DriveProfile): WriteAndVerifyState => ({
  phase: 'idle',
  profile,
  target: { kind: 'plan' },
  wanted: {},
  reading: undefined,
  comparisons: [],
  survived: {},
  unreadable: undefined,
  queue: [],
  written: [],
  inDoubt: undefined,
  wasLocked: false,
  isStored: false,
  log: [],
});

/** An event that does not belong to the phase changes nothing. */
export function stepWriteAndVerify(state: WriteAndVerifyState, event: WriteAndVerifyEvent): WriteAndVerifyStep {
  const stay: WriteAndVerifyStep = { state, commands: [] };
  switch (event.type) {
    case 'start':
      return {
        state: {
          ...writeAndVerify(state.profile),
          phase: 'reading',
          target: event.target,
          wanted: wantedBy(state.profile, event.target, event.planned),
          survived: event.survived,
          log: ['Reading the drive before writing.', ...strangers(state.profile, event.target)],
        },
        commands: [{ type: 'read' }],
      };
    case 'failed':
      return active(state) ? fail(state, inFull(state, event.because), event.isRefused !== true) : stay;
    case 'confirm': {
      if (state.phase !== 'review') return stay;
      const { unreadable } = state;
      if (unreadable) return fail(state, `${unreadable.label} reads a value outside its range: ${wrongMap}`);
      const wanted = state.target.kind === 'plan' ? event.planned : state.wanted;
      const now = compared({ ...state, wanted });
      const impossible = now.comparisons.find((each) => each.standing === 'cannot be written');
      if (impossible) return fail(state, impossible.because ?? `${impossible.parameter.label} cannot be written`);
      return { state: { ...now, phase: 'identifying' }, commands: [{ type: 'identify' }] };
    }
    case 'identified':
      if (state.phase !== 'identifying') return stay;
      return {
        state: { ...state, phase: 'checking', wasLocked: event.isLocked === true },
        commands: [{ type: 'read' }],
      };
    case 'snapshot kept':
      if (state.phase !== 'keeping a snapshot') return stay;
      return unlock({ ...state, log: [...state.log, 'A snapshot of the drive as it was has been kept.'] });
    case 'unlocked':
      if (state.phase !== 'unlocking') return stay;
      return writeNext({ ...state, phase: 'writing', log: [...state.log, 'The parameters have been unlocked.'] });
    case 'written':
      if (state.phase !== 'writing' || event.key !== state.queue[0]) return stay;
      return writeNext({
        ...state,
        survived: without(state.survived, event.key),
        queue: state.queue.slice(1),
        written: [...state.written, event.key],
        log: [...state.log, `Wrote ${labelOf(state, event.key)}.`],
      });
    case 'stored':
      if (state.phase !== 'storing') return stay;
      return {
        state: { ...state, phase: 'checking store', log: [...state.log, 'Stored.'] },
        commands: [{ type: 'read' }],
      };
    case 'restarted':
      if (state.phase !== 'restarting') return stay;
      return { state: { ...state, phase: 'proving', log: [...state.log, 'Restarted.'] }, commands: [{ type: 'read' }] };
    case 'read': {
      if (!active(state)) return stay;
      const { reading } = event;
      const survived = state.phase === 'proving' ? reading.running : stillThere(state.survived, reading);
      const now = { ...state, reading, survived, unreadable: outOfRange(state.profile, reading) };
      return state.phase === 'checking' ? afterChecking(state, compared(now)) : afterReading(compared(now));
    }
  }
}

/** The comparison as it follows from what is wanted and what was read; before the writing, with what is to be written. */
function compared(state: WriteAndVerifyState): WriteAndVerifyState {
  const comparisons = compareValues(state.profile, state.wanted, state.reading, state.survived);
  if (state.phase !== 'reading' && state.phase !== 'review' && state.phase !== 'checking')
    return { ...state, comparisons };
  const differing = comparisons.filter(({ standing }) => standing === 'differs');
  const wanted = Object.fromEntries(differing.map(({ parameter, planned }) => [parameter.key, planned ?? 0]));
  return { ...state, comparisons, queue: writeOrder(state.profile, state.reading?.written ?? {}, wanted) };
}

/** What is written was shown: a drive that has changed since it was read is shown again. */
function afterChecking(shown: WriteAndVerifyState, now: WriteAndVerifyState): WriteAndVerifyStep {
  const hasChanged = shown.profile.parameters.some(
    ({ key }) =>
      now.wanted[key] !== undefined &&
      (shown.reading?.written[key] !== now.reading?.written[key] ||
        shown.reading?.running[key] !== now.reading?.running[key]),
  );
  if (hasChanged || now.unreadable)
    return {
      state: {
        ...now,
        phase: 'review',
        log: [...now.log, 'Nothing was written: the drive has changed since it was read. Check the values again.'],
      },
      commands: [],
    };
  if (now.queue.length === 0) return afterWriting(now);
  return { state: { ...now, phase: 'keeping a snapshot' }, commands: [{ type: 'keep snapshot' }] };
}

function wantedBy(profile: DriveProfile, target: WriteTarget, planned: PlannedValues): PlannedValues {
  switch (target.kind) {
    case 'plan':
      return planned;
    case 'values':
      return Object.fromEntries(
        profile.parameters.flatMap((parameter) => {
          const raw = target.values[parameter.key];
          return raw === undefined ? [] : [[parameter.key, fromRaw(parameter, raw)]];
        }),
      );
  }
}

/** Values that the register map does not have. */
function strangers(profile: DriveProfile, target: WriteTarget): readonly string[] {
  if (target.kind === 'plan') return [];
  const unknown = Object.keys(target.values).filter((key) => !profile.parameters.some((each) => each.key === key));
  return unknown.length === 0 ? [] : [`Left out, because the register map does not have them: ${unknown.join(', ')}.`];
}

function unlock(state: WriteAndVerifyState): WriteAndVerifyStep {
  if (!state.wasLocked) return writeNext({ ...state, phase: 'writing' });
  return state.profile.unlockCode === undefined
    ? fail(state, 'the parameters of the drive are locked, and its register map has no unlock code')
    : { state: { ...state, phase: 'unlocking' }, commands: [{ type: 'unlock' }] };
}

const beforeUnlocking: readonly WriteAndVerifyState['phase'][] = ['identifying', 'checking', 'keeping a snapshot'];

/** A drive that was found locked is left locked, however the writing ended. */
const lockAgain = ({ wasLocked, phase }: WriteAndVerifyState): readonly WriteAndVerifyCommand[] =>
  wasLocked && !beforeUnlocking.includes(phase) ? [{ type: 'lock' }] : [];

const without = (values: RawValues, key: string): RawValues =>
  Object.fromEntries(Object.entries(values).filter(([each]) => each !== key));

/** What has survived a restart stops proving anything as soon as another value is seen in its place. */
export const stillThere = (survived: RawValues, { running, written }: DriveReading): RawValues =>
  Object.fromEntries(Object.entries(survived).filter(([key, raw]) => running[key] === raw && written[key] === raw));

const wrongMap = 'the word order or the register map is wrong, so nothing is written';

const active = (state: WriteAndVerifyState) =>
  state.phase !== 'idle' && state.phase !== 'proven' && state.phase !== 'failed';

/** With the value that was to be written, where one was. */
const inFull = (state: WriteAndVerifyState, because: string): string =>
  state.phase === 'writing' && state.queue[0] !== undefined ? `${labelOf(state, state.queue[0])}: ${because}` : because;

const labelOf = (state: WriteAndVerifyState, key: string) =>
  state.profile.parameters.find((parameter) => parameter.key === key)?.label ?? key;

const fail = (state: WriteAndVerifyState, because: string, isInDoubt = false): WriteAndVerifyStep => ({
  state: {
    ...state,
    phase: 'failed',
    because,
    inDoubt: isInDoubt && state.phase === 'writing' ? state.queue[0] : undefined,
    log: [...state.log, `Stopped: ${because}.`],
  },
  commands: lockAgain(state),
});

function writeNext(state: WriteAndVerifyState): WriteAndVerifyStep {
  const key = state.queue[0];
  if (key === undefined) return { state: { ...state, phase: 'reading back' }, commands: [{ type: 'read' }] };
  const comparison = state.comparisons.find((each) => each.parameter.key === key);
  return comparison?.planned === undefined
    ? fail(state, `${key} has no value to write`)
    : { state, commands: [{ type: 'write', key, raw: comparison.planned }] };
}

const labels = (comparisons: readonly ParameterComparison[]) =>
  comparisons.map((each) => each.parameter.label).join(', ');

function afterReading(state: WriteAndVerifyState): WriteAndVerifyStep {
  const standing = (name: ParameterComparison['standing']) =>
    state.comparisons.filter((each) => each.standing === name);
  switch (state.phase) {
    case 'reading': {
      const count = standing('differs').length;
      return {
        state: {
          ...state,
          phase: 'review',
          log: [
            ...state.log,
            ...(state.unreadable ? [`${state.unreadable.label} reads a value outside its range: ${wrongMap}.`] : []),
            count === 0
              ? 'Nothing needs to be written.'
              : count === 1
                ? 'One value differs.'
                : `${count} values differ.`,
          ],
        },
        commands: [],
      };
    }
    case 'reading back': {
      const wrong = standing('differs');
      return wrong.length > 0
        ? fail(state, `the drive did not accept ${labels(wrong)}`)
        : afterWriting({ ...state, log: [...state.log, 'Read back: the drive holds what was written.'] });
    }
    case 'checking store': {
      const wrong = [...standing('differs'), ...standing('not stored').filter(hasStoredCopy)];
      return wrong.length > 0
        ? fail(state, `not stored: ${labels(wrong)}`)
        : afterWriting({ ...state, isStored: true });
    }
    case 'proving': {
      const wrong = state.comparisons.filter((each) => each.standing !== 'proven' && each.standing !== 'not planned');
      return wrong.length > 0
        ? fail(state, `after the restart these values differ from what was written: ${labels(wrong)}`)
        : proven(state);
    }
    default:
      return { state, commands: [] };
  }
}

const hasStoredCopy = ({ stored }: ParameterComparison) => stored !== undefined;

/** What is left to do once every planned value is in the drive. A stored copy that cannot be read is proven by a restart. */
function afterWriting(state: WriteAndVerifyState): WriteAndVerifyStep {
  const notStored = state.comparisons.filter((each) => each.standing === 'not stored');
  const isToldToStore = state.phase === 'checking store';
  if (notStored.some((each) => !isToldToStore || hasStoredCopy(each))) {
    return { state: { ...state, phase: 'storing' }, commands: [{ type: 'store' }] };
  }
  if (notStored.length > 0 || state.comparisons.some((each) => each.standing === 'needs restart')) {
    return { state: { ...state, phase: 'restarting' }, commands: [{ type: 'restart' }] };
  }
  return proven(state);
}

const proven = (state: WriteAndVerifyState): WriteAndVerifyStep => ({
  state: {
    ...state,
    phase: 'proven',
    isStored: true,
    log: [
      ...state.log,
      state.target.kind === 'plan'
        ? 'Every planned value is running and stored.'
        : `Every value of ${state.target.label} is running and stored.`,
    ],
  },
  commands: lockAgain(state),
});
