import FFT from 'fft.js';

/** Amplitudes over frequency: line k is at `k · hertzPerLine`. */
export interface Spectrum {
  readonly hertzPerLine: number;
  /** Peak amplitude of a sine of that frequency, in the unit of the channel. */
  readonly amplitudes: Float64Array;
  /** Hz between two lines that can still be told apart: the samples before zero padding set it. */
  readonly resolution: number;
}

/** Samples that a spectrum needs at least. */
export const fewestForSpectrum = 16;

/**
 * Amplitude spectrum of a stretch of samples: mean and slope taken away, Hann window, zero-padded to twice the next power of two.
 * A missing sample counts as what lies before it.
 * @param period s from sample to sample @returns undefined where there are too few samples
 */
export function spectrumOf(values: Float64Array, period: number): Spectrum | undefined {
  const count = values.length;
  if (count < fewestForSpectrum) return undefined;
  const size = 2 ** (Math.ceil(Math.log2(count)) + 1);
  const input = new Float64Array(size);
  const rest = withoutTrend(withoutGaps(values));
  let gain = 0;
  for (let k = 0; k < count; k++) {
    const weight = 0.5 - 0.5 * Math.cos((2 * Math.PI * k) / (count - 1));
    gain += weight;
    input[k] = weight * (rest[k] ?? 0);
  }
  const transform = new FFT(size);
  const lines = new Float64Array(2 * size);
  transform.realTransform(lines, input);
  const amplitudes = new Float64Array(size / 2);
  for (let k = 0; k < amplitudes.length; k++)
    amplitudes[k] = (Math.hypot(lines[2 * k] ?? 0, lines[2 * k + 1] ?? 0) * (k === 0 ? 1 : 2)) / gain;
  return { hertzPerLine: 1 / (size * period), amplitudes, resolution: 1 / (count * period) };
}

/** A line that stands out of a spectrum. */
export interface SpectralPeak {
  readonly hertz: number;
  readonly amplitude: number;
}

/** The highest peaks, the highest first; between two lines a parabola gives frequency and height. */
export function peaksOf({ hertzPerLine, amplitudes, resolution }: Spectrum, most = 5): readonly SpectralPeak[] {
  const at = (k: number) => amplitudes[k] ?? 0;
  const found: SpectralPeak[] = [];
  // Below two of its own widths a line is what was left of the trend.
  for (let k = Math.max(1, Math.ceil((2 * resolution) / hertzPerLine)); k < amplitudes.length - 1; k++) {
    const [before, here, after] = [at(k - 1), at(k), at(k + 1)];
    if (!(here > before && here >= after)) continue;
    const bend = before - 2 * here + after;
    const shift = bend === 0 ? 0 : (before - after) / (2 * bend);
    found.push({ hertz: (k + shift) * hertzPerLine, amplitude: here - ((before - after) * shift) / 4 });
  }
  const sorted = found.sort((a, b) => b.amplitude - a.amplitude);
  // The sidelobes of a window lie 31 dB below its peak; nothing nearer than four widths is a peak of its own.
  const apart: SpectralPeak[] = [];
  for (const each of sorted) {
    if (apart.length >= most || each.amplitude < (sorted[0]?.amplitude ?? 0) / 100) break;
    if (apart.every(({ hertz }) => Math.abs(hertz - each.hertz) > 4 * resolution)) apart.push(each);
  }
  return apart;
}

const withoutGaps = (values: Float64Array): Float64Array => {
  let last = values.find((each) => !Number.isNaN(each)) ?? 0;
  return values.map((each) => (last = Number.isNaN(each) ? last : each));
};

/** Straight line by least squares taken away. */
function withoutTrend(values: Float64Array): Float64Array {
  const middle = (values.length - 1) / 2;
  let [sum, moment, square] = [0, 0, 0];
  for (let k = 0; k < values.length; k++) {
    sum += values[k] ?? 0;
    moment += (k - middle) * (values[k] ?? 0);
    square += (k - middle) ** 2;
  }
  const [mean, slope] = [sum / values.length, square > 0 ? moment / square : 0];
  return values.map((each, k) => each - mean - slope * (k - middle));
}
