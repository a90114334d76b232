import { known, unknown, type Outcome } from '../sheet/index.ts';
import { recognise, type KnownFactor } from './knownFactors.ts';
import { straightLine, type StraightLine } from './straightLine.ts';

/** A place the axis was sent to, and where it really was. Axis units. */
export interface TravelPoint {
  readonly commanded: number;
  readonly measured: number;
  /** The way it was going when it got there. */
  readonly going: 'plus' | 'minus';
}

export interface MeasuredTravel {
  /** measured / commanded */
  readonly scale: number;
  /** 95 % half width, from the scatter of the points and from the gauge */
  readonly uncertainty: number;
  /** Where the gauge reads at a command of zero, come from minus, or in the middle of both ways. */
  readonly offset: number;
  /** Difference between the two ways; undefined with only one */
  readonly backlash: number | undefined;
  readonly line: StraightLine;
  readonly verdict: TravelVerdict;
}

/** What is to be made of a measurement. */
export type TravelVerdict =
  | { readonly kind: 'correct'; readonly because: string }
  | { readonly kind: 'within noise'; readonly because: string }
  | { readonly kind: 'known factor'; readonly factor: KnownFactor }
  | { readonly kind: 'too far off'; readonly because: string };

/** A correction beyond this is neither belt wear nor a pitch error: a nameplate value is wrong. */
const largestCorrection = 0.02;

/**
 * The scale of an axis by measurement. One point is measured from zero; more are fitted with a straight line in both
 * directions at once. A correction within its uncertainty is refused, and so is one that would only hide a mechanical fault.
 * @param gauge what the measuring instrument may be off, ± axis units; 0 when its scatter is all that counts
 */
export function measuredTravel(
  points: readonly TravelPoint[],
  gauge: number,
  factors: readonly KnownFactor[],
): Outcome<MeasuredTravel> {
  const [first] = points;
  if (!first) return unknown('nothing has been measured yet');
  const fitted = points.length === 1 ? throughZero(first) : straightLine(points.map(asPoint));
  if (fitted.state === 'unknown') return fitted;
  const line = fitted.value;
  const reach = points.map(({ commanded }) => commanded).concat(points.length === 1 ? 0 : []);
  const span = Math.max(...reach) - Math.min(...reach);
  // A line cannot be better known than the gauge at both its ends.
  const byGauge = (Math.SQRT2 * gauge) / span;
  const byScatter = Number.isFinite(line.slopeUncertainty) ? line.slopeUncertainty : 0;
  const uncertainty =
    gauge === 0 && !Number.isFinite(line.slopeUncertainty) ? Infinity : Math.hypot(byScatter, byGauge);
  const [plus, minus] = [line.offsets.get('plus'), line.offsets.get('minus')];
  return known({
    scale: line.slope,
    uncertainty,
    offset: plus !== undefined && minus !== undefined ? (plus + minus) / 2 : (plus ?? minus ?? 0),
    backlash: backlashOf(plus, minus),
    line,
    verdict: verdictOn(line.slope, uncertainty, backlashOf(plus, minus), line.scatter, factors),
  });
}

/** Come from minus, the load stands short of where it stands come from plus. */
const backlashOf = (plus: number | undefined, minus: number | undefined): number | undefined =>
  plus === undefined || minus === undefined ? undefined : minus - plus;

const asPoint = ({ commanded, measured, going }: TravelPoint) => ({ x: commanded, y: measured, group: going });

function throughZero({ commanded, measured, going }: TravelPoint): Outcome<StraightLine> {
  if (commanded === 0) return unknown('a single point must be away from zero');
  return known({
    slope: measured / commanded,
    offsets: new Map([[going, 0]]),
    slopeUncertainty: Infinity,
    residuals: [0],
    scatter: 0,
    degreesOfFreedom: 0,
  });
}

function verdictOn(
  scale: number,
  uncertainty: number,
  backlash: number | undefined,
  scatter: number,
  factors: readonly KnownFactor[],
): TravelVerdict {
  if (!(scale > 0)) return { kind: 'too far off', because: 'the axis moved in the opposite direction, or not at all' };
  const off = Math.abs(scale - 1);
  const factor = off > largestCorrection ? recognise(scale, factors) : undefined;
  if (factor) return { kind: 'known factor', factor };
  if (!Number.isFinite(uncertainty))
    return {
      kind: 'within noise',
      because: 'too few points to estimate the scatter: enter the uncertainty of the gauge, or measure more points',
    };
  if (off <= uncertainty) return { kind: 'within noise', because: 'the correction is smaller than its uncertainty' };
  // No play is less than none: beyond the scatter of the points the ways were noted wrongly, or the gauge sticks.
  if (backlash !== undefined && backlash < -Math.max(3 * scatter, 1e-9))
    return {
      kind: 'too far off',
      because: 'the backlash is negative: the directions were recorded the wrong way round, or the gauge sticks',
    };
  if (off > largestCorrection)
    return {
      kind: 'too far off',
      because:
        'this is too large for wear or a pitch error: a nameplate value, a ratio or the gear is wrong, or the axis slips',
    };
  return { kind: 'correct', because: 'the correction is larger than its uncertainty' };
}
