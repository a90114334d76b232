import { known, unknown, type Outcome } from '../sheet/index.ts';
import { recognise, type KnownFactor } from './knownFactors.ts';

/** Counts a revolution that encoders commonly have: lines with quadrature, and powers of two. */
const lines = [
  100, 200, 250, 256, 360, 400, 500, 512, 600, 625, 720, 800, 900, 1000, 1024, 1200, 1250, 1500, 1800, 2000, 2048, 2500,
  3000, 3600, 4000, 4096, 5000, 6000, 7200, 8000, 8192, 10000, 12500, 16384, 20000, 25000,
];
const bits = Array.from({ length: 17 }, (_, k) => k + 10);

/** An encoder that may be built in. */
export interface StandardEncoder {
  readonly name: string;
  readonly countsPerRevolution: number;
}

const encoders: readonly StandardEncoder[] = [
  ...lines.map((each) => ({ name: `${each} lines`, countsPerRevolution: 4 * each })),
  ...bits.map((each) => ({ name: `${each} bits`, countsPerRevolution: 2 ** each })),
];

export interface MeasuredCounts {
  readonly countsPerRevolution: number;
  /** Which way the counts changed while the shaft was turned towards plus. */
  readonly direction: 'with the turns' | 'against the turns';
  /** The standard encoders that it may be, the nearest first; those with the same number of counts are all named. None: no standard one fits. */
  readonly nearest: readonly StandardEncoder[];
  /** measured / nearest − 1, in ppm; undefined where no standard encoder fits */
  readonly off: number | undefined;
  /** Degrees by which the mark on the shaft was missed, if the nearest is the one. */
  readonly missedBy: number | undefined;
  /** The wrong factor against the plate, where it has a name. */
  readonly factor: KnownFactor | undefined;
  readonly agreesWithPlate: boolean | undefined;
}

/** How far a hand-turned mark may be off to be believed: degrees over the whole of the turns. */
const handTurned = 15;

/**
 * Counts per revolution from k turns by hand, and the encoder it must be.
 * @param turns not 0, plus or minus
 * @param plate counts per revolution as they are thought to be
 */
export function measuredCounts(
  turns: number,
  counts: number,
  plate: number | undefined,
  factors: readonly KnownFactor[],
): Outcome<MeasuredCounts> {
  if (turns === 0) return unknown('enter at least one turn of the shaft');
  const countsPerRevolution = Math.abs(counts / turns);
  if (!(countsPerRevolution >= 1)) return unknown('the counts have hardly changed: less than one per turn');
  const distance = (each: StandardEncoder) => Math.abs(Math.log(countsPerRevolution / each.countsPerRevolution));
  const best = encoders.reduce((a, b) => (distance(b) < distance(a) ? b : a));
  const allowed = (each: number) => (handTurned / 360 / Math.abs(turns)) * each;
  const ratio = plate === undefined ? undefined : countsPerRevolution / plate;
  const agreesWithPlate = plate === undefined ? undefined : Math.abs(countsPerRevolution - plate) <= allowed(plate);
  const fits = Math.abs(countsPerRevolution - best.countsPerRevolution) <= allowed(best.countsPerRevolution);
  const off = countsPerRevolution / best.countsPerRevolution - 1;
  return known({
    countsPerRevolution,
    direction: counts / turns > 0 ? 'with the turns' : 'against the turns',
    nearest: fits ? encoders.filter((each) => each.countsPerRevolution === best.countsPerRevolution) : [],
    off: fits ? off * 1e6 : undefined,
    missedBy: fits ? off * 360 * Math.abs(turns) : undefined,
    factor: ratio === undefined || agreesWithPlate ? undefined : recognise(ratio, factors),
    agreesWithPlate,
  });
}
