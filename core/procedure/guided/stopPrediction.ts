import { stopping, type Sense, type StopPhase, type Stopping, type StopWay } from '../../motion/index.ts';
import { offPhases } from './startValues.ts';
import type { AxisGuide } from './axisGuide.ts';

/** s from an order over the link until the drive acts on it, and from a change at a terminal; the usual scan of a drive. */
const orderTime = 0.004;
const inputTime = 0.002;

/** How a stop is classed by IEC 60204-1 when the hardware makes it; ordered from a screen it is none of them. */
export const stopClass: Readonly<Record<StopWay, string>> = {
  ramp: 'power kept: a stop of category 2 when the controller makes it',
  'quick stop': 'ramp, then power removed: a stop of category 1 when a safety relay makes it',
  'limit switch': 'made by the drive at its limit input; no stop category',
  'lost link': 'made by the watchdog of the drive; no stop category',
  coast: 'power removed by the drive; category 0 only by safe torque off or by cutting the supply',
  'safe torque off': 'power removed at once: category 0',
  'supply cut': 'power removed at once: category 0',
};

/** Ways that let an axis coast: on a suspended axis they are made from standstill only, since holding brakes are not service brakes. */
export const coasts: readonly StopWay[] = ['coast', 'safe torque off', 'supply cut'];

/** How a stop is braked, in turn. The demand is ahead of the axis by its lag, which it makes up while it stops. */
function phasesOf(guide: AxisGuide, way: StopWay, watchdog: number): readonly StopPhase[] | undefined {
  const { ratedTorque, plannedTorqueLimit, peakTorque, radiansPerUnit } = guide;
  if (!ratedTorque) return undefined;
  const torqueLimit = Math.min(peakTorque ?? Infinity, ((plannedTorqueLimit ?? 100) / 100) * ratedTorque);
  const lag = guide.positionGain === null ? 0 : (1 - (guide.velocityFeedforward ?? 0) / 100) / guide.positionGain;
  const waits = (seconds: number): StopPhase => ({ seconds, by: 'nothing yet' });
  const ramp = (units: number): StopPhase => ({
    seconds: Infinity,
    by: { deceleration: units * radiansPerUnit, torqueLimit },
  });
  switch (way) {
    case 'ramp':
      return [waits(orderTime + lag), ramp(guide.jogAcceleration)];
    case 'quick stop':
      return [waits(orderTime + lag), ramp(guide.quickStopDeceleration)];
    case 'limit switch':
      return [waits(inputTime + lag), ramp(guide.quickStopDeceleration)];
    case 'lost link':
      return [waits(watchdog + orderTime + lag), ramp(guide.quickStopDeceleration)];
    case 'coast':
      return [waits(orderTime), ...offPhases(guide)];
    case 'safe torque off':
    case 'supply cut':
      return [waits(inputTime), ...offPhases(guide)];
  }
}

/**
 * Time in s and distance in axis units of a stop; undefined: not known, or it does not come to rest.
 * @param speed axis units/s @param watchdog s
 */
export function predictedStop(
  guide: AxisGuide,
  way: StopWay,
  speed: number,
  sense: Sense,
  watchdog: number,
): Stopping | undefined {
  const phases = phasesOf(guide, way, watchdog);
  if (!guide.train || !phases || !(speed > 0)) return undefined;
  const stop = stopping({ train: guide.train, speed: speed * guide.radiansPerUnit, sense }, phases);
  return stop && { ...stop, distance: stop.distance / guide.radiansPerUnit };
}
