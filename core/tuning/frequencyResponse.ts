import FFT from 'fft.js';

/** A frequency response as it was measured; points one by one, in the order of their frequency. */
export interface MeasuredResponse {
  readonly hertz: Float64Array;
  /** Output over input, as it comes out. */
  readonly gain: Float64Array;
  /** Degrees, followed on from point to point. */
  readonly phase: Float64Array;
  /** 0 … 1: how much of both signals belongs to the excitation. */
  readonly coherence: Float64Array;
}

/** What is measured of a loop that is closed while it is excited. */
export interface LoopMeasurement {
  /** Speed over torque: reference to speed over reference to torque. */
  readonly plant: MeasuredResponse;
  /** Speed over its reference: the closed loop. */
  readonly closed: MeasuredResponse;
  /** Points that were left out, because too little of the signals belonged to the excitation. */
  readonly leftOut: number;
}

/** Below this a point says nothing. */
const leastCoherence = 0.8;
/** Points an octave, and lines of the transform that one of them is the mean of at least. */
const [perOctave, fewestLines] = [16, 6];

/**
 * Frequency responses from a record of an excitation that begins and ends at rest. A loop that is closed feeds the noise of the output back
 * to the torque: torque to speed taken directly would be biased by it. Both are therefore taken from the reference, and divided
 * (Ljung, System Identification, joint input–output approach; from memory). The whole record is one zero-padded transform; the cross
 * spectra are means over neighbouring lines, which also give the coherence.
 * @param from Hz @param to Hz, no more than 0.45 of the sample rate is used
 * @returns undefined where there is no excitation between the two
 */
export function frequencyResponse(
  signals: { readonly reference: Float64Array; readonly torque: Float64Array; readonly speed: Float64Array },
  period: number,
  from: number,
  to: number,
): LoopMeasurement | undefined {
  const count = signals.reference.length;
  if (count < 64 || !(from > 0) || !(to > from)) return undefined;
  const size = 2 ** Math.ceil(Math.log2(2 * count));
  const [r, u, y] = [signals.reference, signals.torque, signals.speed].map((signal) => transformed(signal, size));
  if (!r || !u || !y) return undefined;
  const step = 1 / (size * period);
  const most = Math.min(to, 0.45 / period);
  const points: { hertz: number; plant: Complex; closed: Complex; coherence: number }[] = [];
  let leftOut = 0;
  for (let low = from; low < most;) {
    const high = Math.max(low * 2 ** (1 / perOctave), low + fewestLines * step);
    const [first, last] = [Math.ceil(low / step), Math.min(size / 2 - 1, Math.floor(high / step))];
    const band = crossSpectra(r, u, y, first, last);
    const coherence = Math.min(coherenceOf(band.ry, band.rr, band.yy), coherenceOf(band.ru, band.rr, band.uu));
    if (coherence >= leastCoherence)
      points.push({
        hertz: step * band.centre,
        plant: divided(band.ry, band.ru),
        closed: divided(band.ry, [band.rr, 0]),
        coherence,
      });
    else leftOut++;
    low = high;
  }
  if (points.length === 0) return undefined;
  const coherence = Float64Array.from(points, (point) => point.coherence);
  const hertz = Float64Array.from(points, (point) => point.hertz);
  const response = (of: 'plant' | 'closed'): MeasuredResponse => ({
    hertz,
    gain: Float64Array.from(points, (point) => Math.hypot(...point[of])),
    phase: followedOn(points.map((point) => (180 / Math.PI) * Math.atan2(point[of][1], point[of][0]))),
    coherence,
  });
  return { plant: response('plant'), closed: response('closed'), leftOut };
}

type Complex = readonly [number, number];

/** Spectrum of a signal, its mean taken away; a missing sample counts as what lies before it. */
function transformed(signal: Float64Array, size: number): Float64Array {
  let last = 0;
  const whole = signal.map((each) => (last = Number.isNaN(each) ? last : each));
  const mean = whole.reduce((sum, each) => sum + each, 0) / whole.length;
  const input = new Float64Array(size);
  whole.forEach((each, k) => (input[k] = each - mean));
  const spectrum = new Float64Array(2 * size);
  new FFT(size).realTransform(spectrum, input);
  return spectrum;
}

/** Sums over lines, and the line at their middle by the power of the reference. */
function crossSpectra(r: Float64Array, u: Float64Array, y: Float64Array, first: number, last: number) {
  let [rr, uu, yy, ryr, ryi, rur, rui, centre] = [0, 0, 0, 0, 0, 0, 0, 0];
  for (let k = first; k <= last; k++) {
    const [a, b] = [r[2 * k] ?? 0, r[2 * k + 1] ?? 0];
    const [c, d] = [u[2 * k] ?? 0, u[2 * k + 1] ?? 0];
    const [e, f] = [y[2 * k] ?? 0, y[2 * k + 1] ?? 0];
    const power = a * a + b * b;
    rr += power;
    uu += c * c + d * d;
    yy += e * e + f * f;
    ryr += a * e + b * f;
    ryi += a * f - b * e;
    rur += a * c + b * d;
    rui += a * d - b * c;
    centre += power * k;
  }
  return {
    rr,
    uu,
    yy,
    ry: [ryr, ryi] as const,
    ru: [rur, rui] as const,
    centre: rr > 0 ? centre / rr : (first + last) / 2,
  };
}

const coherenceOf = ([real, imaginary]: Complex, one: number, other: number): number =>
  one > 0 && other > 0 ? (real * real + imaginary * imaginary) / (one * other) : 0;

function divided([a, b]: Complex, [c, d]: Complex): Complex {
  const size = c * c + d * d;
  return [(a * c + b * d) / size, (b * c - a * d) / size];
}

/** Without the jumps of a whole turn. */
function followedOn(phase: readonly number[]): Float64Array {
  let turns = 0;
  return Float64Array.from(phase, (each, k) => {
    const before = phase[k - 1] ?? each;
    if (each - before > 180) turns -= 360;
    else if (each - before < -180) turns += 360;
    return each + turns;
  });
}

/** A resonance that stands out of a plant: it falls with its inertia, and rises where motor and load swing against each other. */
export interface FoundResonance {
  readonly hertz: number;
  /** How many times higher than the inertia alone. */
  readonly height: number;
}

/** Above the line of the inertia by 6 dB. */
const standsOut = 2;

/** The lowest resonance of a measured plant; the inertia is read from the lowest quarter of its points. */
export function resonanceIn({ hertz, gain }: MeasuredResponse): FoundResonance | undefined {
  const above = hertz.map((each, k) => each * (gain[k] ?? 0));
  const low = above.slice(0, Math.max(3, Math.floor(above.length / 4))).toSorted();
  const inertia = low[low.length >> 1] ?? 0;
  for (let k = 1; k + 1 < above.length; k++) {
    const height = (above[k] ?? 0) / inertia;
    if (height > standsOut && height > (above[k - 1] ?? 0) / inertia && height >= (above[k + 1] ?? 0) / inertia)
      return { hertz: hertz[k] ?? 0, height };
  }
  return undefined;
}
