import { known, unknown, type Outcome } from '../sheet/index.ts';
import { studentFactor } from './studentFactor.ts';

export interface MeasuredPoint {
  readonly x: number;
  readonly y: number;
  /** Points of a group share an offset: the direction a position was come from. One group where nothing is said. */
  readonly group?: string;
}

/** y = slope · x + the offset of its group. */
export interface StraightLine {
  readonly slope: number;
  /** By group, in the order in which they appear. */
  readonly offsets: ReadonlyMap<string, number>;
  /** 95 % half width of the slope; infinite with no point to spare */
  readonly slopeUncertainty: number;
  /** Measured less fitted, in the order of the points. */
  readonly residuals: readonly number[];
  /** Standard deviation of the residuals about the line; NaN never: 0 with no point to spare */
  readonly scatter: number;
  readonly degreesOfFreedom: number;
}

/**
 * Least squares with one slope and an offset for each group (analysis of covariance; Draper and Smith, Applied Regression
 * Analysis). With one group it is the plain straight-line fit.
 * @returns unknown with fewer than two different x in every group
 */
export function straightLine(points: readonly MeasuredPoint[]): Outcome<StraightLine> {
  const groups = new Map<string, { n: number; x: number; y: number }>();
  for (const { x, y, group = '' } of points) {
    const sums = groups.get(group) ?? { n: 0, x: 0, y: 0 };
    groups.set(group, { n: sums.n + 1, x: sums.x + x, y: sums.y + y });
  }
  const meanOf = (group: string) => {
    const { n, x, y } = groups.get(group) ?? { n: 1, x: 0, y: 0 };
    return { x: x / n, y: y / n };
  };
  let [xx, xy] = [0, 0];
  for (const { x, y, group = '' } of points) {
    const mean = meanOf(group);
    xx += (x - mean.x) ** 2;
    xy += (x - mean.x) * (y - mean.y);
  }
  if (!(xx > 0)) return unknown('a straight line needs two points at different positions');
  const slope = xy / xx;
  const offsets = new Map([...groups.keys()].map((group) => [group, meanOf(group).y - slope * meanOf(group).x]));
  const residuals = points.map(({ x, y, group = '' }) => y - slope * x - (offsets.get(group) ?? 0));
  const degreesOfFreedom = points.length - 1 - groups.size;
  const scatter = degreesOfFreedom > 0 ? Math.sqrt(residuals.reduce((sum, r) => sum + r * r, 0) / degreesOfFreedom) : 0;
  return known({
    slope,
    offsets,
    slopeUncertainty: degreesOfFreedom > 0 ? (studentFactor(degreesOfFreedom) * scatter) / Math.sqrt(xx) : Infinity,
    residuals,
    scatter,
    degreesOfFreedom,
  });
}
