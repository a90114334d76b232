import {
  compareValues,
  outOfRange,
  type DriveParameter,
  type DriveProfile,
  type DriveReading,
  type ParameterComparison,
  type PlannedValues,
  type RawValues,
} from '../drive/index.ts';

/**
 * Write and verify: read what is there, show what differs, write only that, read back, store, restart where a value
 * waits for it, and read once more. A reducer: it knows nothing of links and is driven by events.
 */
export interface WriteAndVerifyState {
  readonly phase:
    | 'idle'
    | 'reading'
    | 'review'
    | 'writing'
    | 'reading back'
    | 'storing'
    | 'checking store'
    | 'restarting'
    | 'proving'
    | 'proven'
    | 'failed';
  readonly profile: DriveProfile;
  readonly planned: PlannedValues;
  readonly reading: DriveReading | undefined;
  readonly comparisons: readonly ParameterComparison[];
  /** What this device has kept through a restart; see {@link compareValues}. */
  readonly survived: RawValues;
  /** A parameter that reads a value it cannot have: nothing is written by this map. */
  readonly unreadable: DriveParameter | undefined;
  /** Keys still to be written, in order. */
  readonly queue: readonly string[];
  readonly log: readonly string[];
  readonly because?: string;
}

export type WriteAndVerifyEvent =
  | { readonly type: 'start'; readonly planned: PlannedValues; readonly survived: RawValues }
  | { readonly type: 'read'; readonly reading: DriveReading }
  /** With the plan as it stands now, which is what is written. */
  | { readonly type: 'confirm'; readonly planned: PlannedValues }
  | { readonly type: 'written'; readonly key: string }
  | { readonly type: 'stored' }
  | { readonly type: 'restarted' }
  | { readonly type: 'failed'; readonly because: string };

export type WriteAndVerifyCommand =
  | { readonly type: 'read' }
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
  planned: {},
  reading: undefined,
  comparisons: [],
  survived: {},
  unreadable: undefined,
  queue: [],
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
          planned: event.planned,
          survived: event.survived,
          log: ['Reading the drive before writing.'],
        },
        commands: [{ type: 'read' }],
      };
    case 'failed':
      return active(state) ? fail(state, event.because) : stay;
    case 'confirm': {
      if (state.phase !== 'review') return stay;
      const { unreadable } = state;
      if (unreadable) return fail(state, `${unreadable.label} reads a value outside its range: ${wrongMap}`);
      const comparisons = compareValues(state.profile, event.planned, state.reading, state.survived);
      const impossible = comparisons.find((each) => each.standing === 'cannot be written');
      if (impossible) return fail(state, impossible.because ?? `${impossible.parameter.label} cannot be written`);
      const queue = comparisons.filter((each) => each.standing === 'differs').map((each) => each.parameter.key);
      const now = { ...state, planned: event.planned, comparisons };
      return queue.length > 0 ? writeNext({ ...now, phase: 'writing', queue }) : afterWriting(now);
    }
    case 'written':
      if (state.phase !== 'writing' || event.key !== state.queue[0]) return stay;
      return writeNext({
        ...state,
        survived: without(state.survived, event.key),
        queue: state.queue.slice(1),
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
      return afterReading({
        ...state,
        reading,
        survived,
        comparisons: compareValues(state.profile, state.planned, reading, survived),
        unreadable: outOfRange(state.profile, reading),
      });
    }
  }
}

const without = (values: RawValues, key: string): RawValues =>
  Object.fromEntries(Object.entries(values).filter(([each]) => each !== key));

/** What has survived a restart stops proving anything as soon as another value is seen in its place. */
export const stillThere = (survived: RawValues, { running, written }: DriveReading): RawValues =>
  Object.fromEntries(Object.entries(survived).filter(([key, raw]) => running[key] === raw && written[key] === raw));

const wrongMap = 'the word order or the register map is wrong, so nothing is written';

const active = (state: WriteAndVerifyState) =>
  state.phase !== 'idle' && state.phase !== 'proven' && state.phase !== 'failed';

const labelOf = (state: WriteAndVerifyState, key: string) =>
  state.profile.parameters.find((parameter) => parameter.key === key)?.label ?? key;

const fail = (state: WriteAndVerifyState, because: string): WriteAndVerifyStep => ({
  state: { ...state, phase: 'failed', because, queue: [], log: [...state.log, `Stopped: ${because}.`] },
  commands: [],
});

function writeNext(state: WriteAndVerifyState): WriteAndVerifyStep {
  const key = state.queue[0];
  if (key === undefined) return { state: { ...state, phase: 'reading back' }, commands: [{ type: 'read' }] };
  const comparison = state.comparisons.find((each) => each.parameter.key === key);
  return comparison?.planned === undefined
    ? fail(state, `${key} has no planned value`)
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
      return wrong.length > 0 ? fail(state, `not stored: ${labels(wrong)}`) : afterWriting(state);
    }
    case 'proving': {
      const wrong = state.comparisons.filter((each) => each.standing !== 'proven' && each.standing !== 'not planned');
      return wrong.length > 0
        ? fail(state, `after the restart these values differ from the plan: ${labels(wrong)}`)
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
  state: { ...state, phase: 'proven', log: [...state.log, 'Every planned value is running and stored.'] },
  commands: [],
});
