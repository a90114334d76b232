import { homeSteps, returnSteps } from './axisScripts.ts';
import { identityMark } from './deviceIdentity.ts';
import type { AxisMotionPlan } from './memberPlan.ts';
import { pressRoles } from './planChecks.ts';
import type { End } from './sessionState.ts';
import type { Step } from './step.ts';
import { set, tell, type Turn } from './turn.ts';

/** The reading in which a series is measured: the counts of the encoder, which homing leaves as they are. */
export const seriesRegister = 'encoderCounts';

/** Why a series cannot be run from these starts; undefined: it can. @param starts axis units, after the first homing */
export function seriesRefusal(turn: Turn, motion: AxisMotionPlan, starts: readonly number[]): string | undefined {
  const { minus, plus } = motion.softLimits;
  if (!turn.state.profile?.registers[seriesRegister])
    return `The register map has no register ${seriesRegister}: a homing series needs a reading that homing does not reset.`;
  if (minus === null || plus === null) return 'Plan both soft limits first: the starts of a series lie between them.';
  const outside = starts.find((start) => !(start >= minus && start <= plus));
  if (outside !== undefined)
    return `The start at ${outside} ${motion.unit} is outside the soft limits, ${minus} to ${plus} ${motion.unit}.`;
  return undefined;
}

/** Homes from where it stands, then from each start in turn. */
export const homingSeriesSteps = (motion: AxisMotionPlan, starts: readonly number[]): readonly Step[] => {
  const of = starts.length + 1;
  const homed = (k: number): readonly Step[] => [
    ...homeSteps(motion, `Homing ${k + 1} of ${of}`, false),
    { do: 'note home' },
  ];
  return [
    ...homed(0),
    ...starts.flatMap((start, k) => [
      { do: 'await go' } as const,
      // Minutes may have passed: what decides where it goes is read again.
      { do: 'check', roles: pressRoles } as const,
      ...returnSteps(motion, start),
      ...homed(k + 1),
    ]),
  ];
};

/** Holds a series at home, or lets it go on. */
export function pauseSeries(turn: Turn, window: string, isPaused: boolean): void {
  const { homingSeries, script } = turn.state;
  if (!homingSeries || script?.activity !== 'homing series' || homingSeries.by !== 'drive')
    return tell(turn, window, 'There is no homing series under way.');
  set(turn, { homingSeries: { ...homingSeries, isPaused } });
}

/** Counts of a 32-bit counter taken on from the last ones. */
const goingOn = (raw: number, last: number | undefined): number =>
  last === undefined ? raw : last + ((((raw - last) % 2 ** 32) + 2 ** 32 + 2 ** 31) % 2 ** 32) - 2 ** 31;

/** Where zero is in the counts of the encoder, from both readings of an axis at rest. */
export function noteHome(turn: Turn, encoderCounts: number, positionCounts: number): void {
  const { homingSeries } = turn.state;
  if (!homingSeries) return;
  // A controller has a zero of its own, which the drive knows nothing of: it always stands at the same place.
  const place = homingSeries.by === 'controller' ? encoderCounts : encoderCounts - positionCounts;
  const zero = goingOn(place, homingSeries.zeros.at(-1));
  set(turn, { homingSeries: { ...homingSeries, zeros: [...homingSeries.zeros, zero] } });
}

/** A series is over: what it has measured is kept, also where it did not come to its end. */
export function keepSeries(turn: Turn, end: End): void {
  const { homingSeries, plan, identity, clock } = turn.state;
  const motion = plan?.motion;
  if (!plan || motion?.kind !== 'axis' || !identity || !clock) return;
  if (!homingSeries || homingSeries.zeros.length < 2) return;
  const { of, zeros, by } = homingSeries;
  turn.commands.push({
    type: 'keep proof',
    proof: {
      kind: 'homing series',
      madeAt: new Date(clock.wall).toISOString(),
      revision: plan.version,
      identity: identityMark(identity),
      digest: motion.homingDigest,
      payload: {
        of,
        homes: zeros.map((zero) => (zero - (zeros[0] ?? 0)) * motion.unitsPerCount),
        end: end.kind,
        by: by === 'controller' ? by : 'drive',
      },
    },
  });
}
