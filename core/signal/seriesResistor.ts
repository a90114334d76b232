/** Preferred numbers of a decade: IEC 60063, series E24. */
export const e24 = [
  10, 11, 12, 13, 15, 16, 18, 20, 22, 24, 27, 30, 33, 36, 39, 43, 47, 51, 56, 62, 68, 75, 82, 91,
] as const;

/** The E24 values from 1 Ω to 10 MΩ. */
const standardValues: readonly number[] = Array.from({ length: 7 }, (_, decade) =>
  e24.map((number) => Number((number * 10 ** (decade - 1)).toPrecision(2))),
).flat();

/** The E24 value nearest by ratio. @param ohms positive */
export const nearestStandard = (ohms: number): number =>
  standardValues.reduce((best, each) =>
    Math.abs(Math.log(each / ohms)) < Math.abs(Math.log(best / ohms)) ? each : best,
  );

/** Ratings of resistors in W that shops keep. */
const ratings = [0.125, 0.25, 0.5, 1, 2, 3, 5, 10];

/** A resistor for a current. */
export interface ResistorChoice {
  readonly ohms: number;
  /** A that then flow */
  readonly current: number;
  /** W it turns into heat */
  readonly power: number;
  /** W, the smallest common rating with twice the power (common practice) */
  readonly rating: number;
}

/**
 * The standard resistor whose current is nearest the middle (by ratio) of the range of an input.
 * @param volts left for all resistance in the circuit, after all drops
 * @returns undefined where the current is right without a resistor, and where none helps.
 */
export function resistorFor(
  volts: number,
  ownOhms: number,
  minimumCurrent: number,
  maximumCurrent: number,
): ResistorChoice | undefined {
  const without = volts / ownOhms;
  if (volts <= 0 || without <= maximumCurrent) return undefined;
  const middle = Math.sqrt(minimumCurrent * maximumCurrent);
  const distance = (current: number) => Math.abs(Math.log(current / middle));
  const best = standardValues
    .map((ohms) => ({ ohms, current: volts / (ohms + ownOhms) }))
    .filter(({ current }) => current >= minimumCurrent && current <= maximumCurrent)
    .sort((a, b) => distance(a.current) - distance(b.current))[0];
  if (!best) return undefined;
  const power = best.current ** 2 * best.ohms;
  return { ...best, power, rating: ratings.find((each) => each >= 2 * power) ?? Math.ceil(2 * power) };
}
