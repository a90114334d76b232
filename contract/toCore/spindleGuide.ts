import type { SpindleGuide } from '@kavrid/core/procedure';
import { valueOf, type Evaluation } from '@kavrid/core/sheet';
import type { SpindleValues } from '@kavrid/core/spindle';
import type { SpindleDocument } from '../spindleDocument.ts';

/** What guided steps work by, from the plan of a spindle. */
export function spindleGuide(
  { settings, interlocks, bus }: SpindleDocument,
  results: Evaluation<SpindleValues>,
  plan: { readonly lowestSpeed: number; readonly highestSpeed: number; readonly hertzPerToolRpm: number },
): SpindleGuide {
  return {
    ...plan,
    baseHertz: valueOf(results.baseHertz) ?? null,
    ratedCurrent: valueOf(results.motorCurrent) ?? null,
    noLoadCurrent: valueOf(results.noLoadCurrent) ?? null,
    ratedSlip: valueOf(results.slip) ?? null,
    rampUp: settings.rampUp ?? usualRamp,
    rampDown: settings.rampDown ?? usualRamp,
    isOverLink: settings.runSource === 'field bus' && settings.speedSource === 'field bus',
    connection: settings.connection,
    atSpeedWay: interlocks.atSpeed,
    watchesLink: (bus.timeOut ?? 0) > 0,
  };
}

/** s that a ramp takes where none is planned: longer than most, so that nothing is judged too early. */
const usualRamp = 10;
