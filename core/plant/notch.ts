/** A notch in the torque command: (s² + 2·depth·width·w·s + w²)/(s² + 2·width·w·s + w²) */
export interface Notch {
  /** rad/s */
  readonly frequency: number;
  /** Damping of its poles: the wider, the less it minds that the resonance is elsewhere. */
  readonly width: number;
  /** Gain at its frequency, 0 … 1. */
  readonly depth: number;
}

/** y[n] = b0·x[n] + b1·x[n−1] + b2·x[n−2] − a1·y[n−1] − a2·y[n−2] */
export interface NotchStep {
  readonly b0: number;
  readonly b1: number;
  readonly b2: number;
  readonly a1: number;
  readonly a2: number;
}

/** What leaves a value as it is. */
export const noNotch: NotchStep = { b0: 1, b1: 0, b2: 0, a1: 0, a2: 0 };

/**
 * The notch in steps of `dt` s, by the bilinear transform with its frequency kept exact (pre-warped).
 * @throws RangeError for a frequency at or above half the step rate
 */
export function notchStep({ frequency, width, depth }: Notch, dt: number): NotchStep {
  if (!(frequency > 0 && frequency * dt < Math.PI))
    throw new RangeError(
      `A notch at ${(frequency / 2 / Math.PI).toFixed(0)} Hz is not below half of ${(1 / dt).toFixed(0)} steps a second.`,
    );
  const t = Math.tan((frequency * dt) / 2);
  const whole = 1 + 2 * width * t + t * t;
  const edge = (2 * (t * t - 1)) / whole;
  return {
    b0: (1 + 2 * depth * width * t + t * t) / whole,
    b1: edge,
    b2: (1 - 2 * depth * width * t + t * t) / whole,
    a1: edge,
    a2: (1 - 2 * width * t + t * t) / whole,
  };
}
