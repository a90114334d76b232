import { decibels, phases, type Response } from './loopModel.ts';

/** How far a loop is from instability. */
export interface Margins {
  /** The loop, closed, comes to rest. */
  readonly isStable: boolean;
  /** Degrees at the frequency where the open loop has a gain of one; the smallest where there are several. Infinite: it never has. */
  readonly phaseMargin: number;
  /** dB by which the gain may rise; infinite: at any gain. */
  readonly gainMargin: number;
  /** Peak of the sensitivity, 1/|1 + L|. */
  readonly peakSensitivity: number;
  /** rad/s of the last crossing of a gain of one; undefined: none */
  readonly crossover: number | undefined;
}

/**
 * Of an open loop without poles to the right, over frequencies dense and wide enough: it begins where the integrators rule, and ends where
 * nothing is left of its gain.
 * @param integrators poles at 0; stable by the criterion of Nyquist: the angle of 1 + L then rises by 90° for each
 */
export function marginsOf(open: Response, integrators: number): Margins {
  const { frequencies, real, imaginary } = open;
  const gains = decibels(open);
  const angles = phases(open);
  // The phase of so many integrators, whichever turn the arctangent took.
  const turns = Math.round((angles[0] ?? 0) / 360 + integrators / 4) * 360;
  let [phaseMargin, gainMargin, peakSensitivity] = [Infinity, Infinity, 0];
  let crossover: number | undefined;
  const between = (a: number, b: number, at: number) => (b === a ? 0 : (at - a) / (b - a));
  for (let k = 0; k < frequencies.length; k++) {
    peakSensitivity = Math.max(peakSensitivity, 1 / Math.hypot(1 + (real[k] ?? 0), imaginary[k] ?? 0));
    if (k === 0) continue;
    const [before, gain] = [gains[k - 1] ?? 0, gains[k] ?? 0];
    const [from, angle] = [(angles[k - 1] ?? 0) - turns, (angles[k] ?? 0) - turns];
    if (before >= 0 !== gain >= 0) {
      const share = between(before, gain, 0);
      const margin = from + share * (angle - from) + 180;
      phaseMargin = Math.min(phaseMargin, Math.abs(margin - 360 * Math.round(margin / 360)));
      crossover = (frequencies[k - 1] ?? 0) * ((frequencies[k] ?? 1) / (frequencies[k - 1] ?? 1)) ** share;
    }
    // Through −180°, −540° …
    const turnOf = (degrees: number) => Math.floor((degrees - 180) / 360);
    if (turnOf(from) !== turnOf(angle)) {
      const at = 180 + 360 * Math.max(turnOf(from), turnOf(angle));
      const gainThere = before + between(from, angle, at) * (gain - before);
      if (gainThere < 0) gainMargin = Math.min(gainMargin, -gainThere);
    }
  }
  return { isStable: isStable(open, integrators), phaseMargin, gainMargin, peakSensitivity, crossover };
}

function isStable({ frequencies, real, imaginary }: Response, integrators: number): boolean {
  let angle = 0;
  let last = 0;
  for (let k = 0; k < frequencies.length; k++) {
    const now = Math.atan2(imaginary[k] ?? 0, 1 + (real[k] ?? 0));
    if (k > 0) angle += now - last - 2 * Math.PI * Math.round((now - last) / (2 * Math.PI));
    last = now;
  }
  return Math.abs(angle - (integrators * Math.PI) / 2) < Math.PI / 4;
}
