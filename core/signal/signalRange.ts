import { exact, type Exact } from '../quantity/index.ts';

/** Ranges of analog commands. A potentiometer is fed from the drive's own reference voltage. */
export const analogRanges = ['±10 V', '0–10 V', '0–5 V', '0–20 mA', '4–20 mA', 'potentiometer'] as const;
export type AnalogRange = (typeof analogRanges)[number];

/** What a signal is counted in. */
export type SignalUnit = 'V' | 'mA' | '%';

/** The ends between which a signal runs. */
export interface SignalRange {
  readonly unit: SignalUnit;
  readonly lowest: Exact;
  readonly highest: Exact;
}

/** The ends of an analog range (IEC 60381-1 for 4–20 mA). @param reference V that feed a potentiometer */
export function rangeOf(range: AnalogRange, reference: number): SignalRange {
  switch (range) {
    case '±10 V':
      return { unit: 'V', lowest: exact(-10), highest: exact(10) };
    case '0–10 V':
      return { unit: 'V', lowest: exact(0), highest: exact(10) };
    case '0–5 V':
      return { unit: 'V', lowest: exact(0), highest: exact(5) };
    case '0–20 mA':
      return { unit: 'mA', lowest: exact(0), highest: exact(20) };
    case '4–20 mA':
      return { unit: 'mA', lowest: exact(4), highest: exact(20) };
    case 'potentiometer':
      return { unit: 'V', lowest: exact(0), highest: exact(Math.round(reference * 1000), 1000) };
  }
}

/** A duty cycle in per cent. */
export const dutyRange: SignalRange = { unit: '%', lowest: exact(0), highest: exact(100) };

/** mA outside which a 4–20 mA signal tells a failure, and the span that is measured (NAMUR NE 43). */
export const liveZeroLevels = { failsBelow: 3.6, measuresFrom: 3.8, measuresTo: 20.5, failsAbove: 21 } as const;
