import { known, unknown, type Outcome } from '../sheet/index.ts';
import { straightLine } from './straightLine.ts';

/** What an indicator at the returning axis shows of lost or doubled pulses, without a link. */
export interface IndicatorReturns {
  /** Axis units that the axis comes back farther towards plus with every return, and ± 95 %. */
  readonly perReturn: number;
  readonly uncertainty: number;
  /** Pulses for each return; undefined where no pulses command it. */
  readonly pulsesPerReturn: number | undefined;
  readonly verdict: 'none lost' | 'drifts' | 'within noise';
}

/**
 * Reads an indicator after every so many returns to the same position: lost pulses let it drift, backlash and friction only scatter it.
 * Least squares over the readings.
 * @param readings in their order, the first before any return; axis units @param everyReturns returns from one reading to the next
 * @param smallest what the indicator can tell apart
 */
export function indicatorReturns(
  readings: readonly number[],
  everyReturns: number,
  pulsesPerUnit: number | undefined,
  smallest: number,
): Outcome<IndicatorReturns> {
  if (readings.length < 3) return unknown('three readings at least show a drift');
  const line = straightLine(readings.map((y, k) => ({ x: k * everyReturns, y })));
  if (line.state === 'unknown') return line;
  const { slope, slopeUncertainty } = line.value;
  const span = everyReturns * (readings.length - 1);
  // The indicator itself is off by half of what it tells apart, at both ends.
  const uncertainty = Math.hypot(
    Number.isFinite(slopeUncertainty) ? slopeUncertainty : 0,
    smallest / Math.SQRT2 / span,
  );
  const pulse = pulsesPerUnit === undefined ? undefined : 1 / pulsesPerUnit;
  // Over the whole span not even one pulse is gone.
  const isNone = pulse !== undefined && (Math.abs(slope) + uncertainty) * span < pulse;
  return known({
    perReturn: slope,
    uncertainty,
    pulsesPerReturn: pulse === undefined ? undefined : slope / pulse,
    verdict: isNone ? 'none lost' : Math.abs(slope) > uncertainty ? 'drifts' : 'within noise',
  });
}
