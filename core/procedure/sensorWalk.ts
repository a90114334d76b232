/** What has been seen of one sensor that was tripped by hand. */
export type WalkVerdict =
  | { readonly kind: 'proven' }
  /** It came and went several times while it was tripped once. */
  | {
      readonly kind: 'bounces';
      readonly changes: number;
      /** ms, at most; the longest it was gone in between */ readonly gap: number;
    }
  /** Another input changed, and this one did not. */
  | { readonly kind: 'swapped'; readonly with: string }
  /** Another input changed as well. */
  | { readonly kind: 'several'; readonly with: string }
  | { readonly kind: 'no change' }
  /** It was active before anybody tripped it. */
  | { readonly kind: 'always active' }
  | { readonly kind: 'skipped'; readonly because: string };

/** Sensors tripped by hand in turn, each watched until it alone has changed and changed back. */
export interface SensorWalk {
  readonly phase: 'rest' | 'trip' | 'release' | 'done' | 'ended';
  /** Keys of the inputs, in the order in which they are tripped. */
  readonly order: readonly string[];
  readonly at: number;
  /** ms; when the phase began, and when the input last changed. */
  readonly since: number;
  readonly changedAt: number;
  /** Times that the present input has become active. */
  readonly changes: number;
  /** ms; when the input was last seen active, and the longest time from there to its next coming. */
  readonly activeAt: number;
  readonly gap: number;
  readonly verdicts: Readonly<Record<string, WalkVerdict>>;
  /** Why it ended early. */
  readonly because: string;
}

export type WalkEvent =
  | { readonly type: 'seen'; readonly active: ReadonlySet<string>; readonly at: number }
  /** The sensor was tripped, and nothing changed. */
  | { readonly type: 'nothing'; readonly at: number }
  | { readonly type: 'skip'; readonly because: string; readonly at: number }
  | { readonly type: 'end'; readonly because: string };

/** ms that an input may be active before the walk comes to it; others may take so long to settle. */
const restTime = 3000;
const settleTime = 300;
/** ms; contacts bounce for less (common practice), and a longer debounce would move the edge that homing counts. */
const longestDebounce = 100;
/** ms for which a released input has to stay inactive. */
const steadyTime = 500;

export const startWalk = (order: readonly string[], at: number): SensorWalk => ({
  phase: order.length === 0 ? 'done' : 'rest',
  order,
  at: 0,
  since: at,
  changedAt: at,
  changes: 0,
  activeAt: at,
  gap: 0,
  verdicts: {},
  because: '',
});

export const isWalking = ({ phase }: SensorWalk): boolean => phase !== 'done' && phase !== 'ended';

/** The key of the sensor to be tripped now. */
export const walkedNow = (walk: SensorWalk): string => walk.order[walk.at] ?? '';

export function stepWalk(walk: SensorWalk, event: WalkEvent): SensorWalk {
  if (!isWalking(walk)) return walk;
  switch (event.type) {
    case 'end':
      return { ...walk, phase: 'ended', because: event.because };
    case 'nothing':
      return walk.phase === 'trip' ? judged(walk, { kind: 'no change' }, event.at) : walk;
    case 'skip':
      return judged(walk, { kind: 'skipped', because: event.because }, event.at);
    case 'seen':
      return seen(walk, event.active, event.at);
  }
}

function seen(walk: SensorWalk, active: ReadonlySet<string>, at: number): SensorWalk {
  const now = walkedNow(walk);
  const isActive = active.has(now);
  // One that is always active says nothing.
  const other = walk.order.find(
    (key) => key !== now && active.has(key) && walk.verdicts[key]?.kind !== 'always active',
  );
  switch (walk.phase) {
    case 'rest':
      if (!isActive && other === undefined) return { ...walk, phase: 'trip', since: at, changes: 0 };
      // One that stays active needs no hand, and does not hold up the others.
      if (isActive && at - walk.since >= restTime) return judged(walk, { kind: 'always active' }, at);
      if (other === undefined) return { ...walk, changedAt: at };
      return at - walk.changedAt >= restTime
        ? { ...walk, changedAt: at, verdicts: { ...walk.verdicts, [other]: { kind: 'always active' } } }
        : walk;
    case 'trip':
      if (!isActive && other === undefined) return { ...walk, changedAt: at };
      // Both may be on their way: what is there after a moment counts.
      if (at - walk.changedAt < settleTime) return walk;
      if (other === undefined)
        return { ...walk, phase: 'release', since: at, changedAt: at, changes: 1, activeAt: at, gap: 0 };
      return judged(walk, { kind: isActive ? 'several' : 'swapped', with: other }, at);
    case 'release':
      return released(walk, isActive, other, at);
    case 'done':
    case 'ended':
      return walk;
  }
}

/** While it is held and let go nothing else may come, and once let go it stays away. */
function released(walk: SensorWalk, isActive: boolean, other: string | undefined, at: number): SensorWalk {
  if (other !== undefined) return judged(walk, { kind: 'several', with: other }, at);
  const wasActive = walk.changes % 2 === 1;
  const seenOn = isActive ? { ...walk, activeAt: at } : walk;
  if (isActive && !wasActive)
    return { ...seenOn, changes: walk.changes + 1, changedAt: at, gap: Math.max(walk.gap, at - walk.activeAt) };
  if (isActive !== wasActive) return { ...walk, changes: walk.changes + 1, changedAt: at };
  if (isActive || at - walk.changedAt < steadyTime) return seenOn;
  const times = walk.changes / 2;
  return judged(walk, times > 1 ? { kind: 'bounces', changes: times, gap: walk.gap } : { kind: 'proven' }, at);
}

function judged(walk: SensorWalk, verdict: WalkVerdict, at: number): SensorWalk {
  const verdicts = { ...walk.verdicts, [walkedNow(walk)]: verdict };
  const next = walk.order.findIndex((key, index) => index > walk.at && verdicts[key] === undefined);
  return {
    ...walk,
    phase: next < 0 ? 'done' : 'rest',
    at: next < 0 ? walk.order.length : next,
    since: at,
    changedAt: at,
    changes: 0,
    verdicts,
  };
}

/** What a verdict means, and what to do. @param labelOf the label of an input by its key */
export function walkWords(verdict: WalkVerdict, labelOf: (key: string) => string): string {
  switch (verdict.kind) {
    case 'proven':
      return 'It changed alone, and changed back.';
    case 'bounces':
      return `It became active ${verdict.changes} times for one trip, and was gone for up to ${Math.ceil(verdict.gap)} ms in between. ${
        verdict.gap <= longestDebounce
          ? `The contact bounces: an input debounce of ${Math.ceil(verdict.gap)} ms would do.`
          : 'That is too long for a debounce: the switch or a terminal is loose, or the flag shakes.'
      }`;
    case 'swapped':
      return `${labelOf(verdict.with)} reacted instead: the two wires are swapped, or the other switch was tripped.`;
    case 'several':
      return `${labelOf(verdict.with)} reacted as well: a short between the two wires, or one flag trips both switches.`;
    case 'no change':
      return 'Nothing reacted: the wire is broken or goes to another terminal, the sensor has no supply, or the switch is faulty.';
    case 'always active':
      return 'It was active before it was tripped: the active level is inverted, a normally closed wire is broken, or the axis is on the switch.';
    case 'skipped':
      return `Skipped: ${verdict.because}`;
  }
}
