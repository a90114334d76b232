import { straightLine, type StraightLine } from '../measure/index.ts';
import { map, type Outcome } from '../sheet/index.ts';

/** A speed asked of the tool and the one a tachometer read, both in rpm. */
export interface TachometerPoint {
  readonly commanded: number;
  readonly measured: number;
}

export interface TachometerResult {
  /** measured / commanded, and its 95 % half width */
  readonly scale: number;
  readonly uncertainty: number;
  /** rpm at a command of nothing */
  readonly offset: number;
  /** The farthest point from the line, as a share of the highest speed measured. */
  readonly linearity: number;
  readonly line: StraightLine;
  /** The correction stands clear of its uncertainty. */
  readonly isWorthCorrecting: boolean;
}

/** Commanded against measured speeds: a straight line, what is left of it, and whether to correct the scaling. */
export const tachometer = (points: readonly TachometerPoint[]): Outcome<TachometerResult> =>
  map(straightLine(points.map(({ commanded, measured }) => ({ x: commanded, y: measured }))), (line) => {
    const highest = Math.max(...points.map(({ measured }) => Math.abs(measured)));
    return {
      scale: line.slope,
      uncertainty: line.slopeUncertainty,
      offset: line.offsets.get('') ?? 0,
      linearity: Math.max(...line.residuals.map(Math.abs)) / highest,
      line,
      isWorthCorrecting: Math.abs(line.slope - 1) > line.slopeUncertainty,
    };
  });

/** Hz at full signal, or the factor of a speed reference, that makes up for a measured scale. */
export const corrected = (planned: number, { scale }: Pick<TachometerResult, 'scale'>): number => planned / scale;
