import type { Notch } from '../plant/index.ts';

/**
 * The loops of a servo drive with one axis, linear, everything at the motor shaft: current loop, mechanics of one or two masses, speed
 * loop with P and I, position loop with P. SI units; a linear motor is a shaft whose radian is a metre.
 */
export interface LoopModel {
  /** kg·m²; motor with what is fixed to it, and load */
  readonly motorInertia: number;
  readonly loadInertia: number;
  /** N·m/rad between the two; undefined: rigid */
  readonly stiffness: number | undefined;
  /** N·m·s/rad between the two */
  readonly damping: number;
  /** s: current loop, filter of the speed, and dead time of sampling and computing */
  readonly torqueTimeConstant: number;
  readonly filterTime: number;
  readonly deadTime: number;
  /** A first-order filter of the torque command, s, and a notch in it; absent: none. */
  readonly torqueFilterTime?: number | undefined;
  readonly notch?: Notch | undefined;
  /** N·m·s/rad */
  readonly speedGain: number;
  /** s; 0 turns the integral off */
  readonly speedIntegralTime: number;
  /** 1/s */
  readonly positionGain: number;
  /** The position loop is closed in the controller; absent: in the drive. */
  readonly host?: HostedLoop | undefined;
}

/** A position loop in the controller over a speed command. */
export interface HostedLoop {
  /** 1/s² */
  readonly integralGain: number;
  /** s: from a position to the speed that is sent, and the filter of the signal in the drive */
  readonly deadTime: number;
  readonly filterTime: number;
}

/** Frequencies in rad/s with a complex number each, real and imaginary parts apart. */
export interface Response {
  readonly frequencies: Float64Array;
  readonly real: Float64Array;
  readonly imaginary: Float64Array;
}

/** Open loops (error to feedback) and closed loops (demand to actual value). */
export interface LoopResponses {
  readonly speedOpen: Response;
  readonly speedClosed: Response;
  readonly positionOpen: Response;
  readonly positionClosed: Response;
}

/** rad/s at which load and motor swing against each other, and at which the load alone swings on a motor that is held. */
export function resonanceOf({
  motorInertia,
  loadInertia,
  stiffness,
}: Pick<LoopModel, 'motorInertia' | 'loadInertia' | 'stiffness'>):
  { readonly resonance: number; readonly antiresonance: number } | undefined {
  if (stiffness === undefined) return undefined;
  return {
    resonance: Math.sqrt((stiffness * (motorInertia + loadInertia)) / (motorInertia * loadInertia)),
    antiresonance: Math.sqrt(stiffness / loadInertia),
  };
}

/** So many frequencies, evenly spaced in their logarithm. @param from rad/s, above 0 */
export const logarithmic = (from: number, to: number, count: number): Float64Array =>
  Float64Array.from({ length: count }, (_, k) => from * (to / from) ** (k / (count - 1)));

/** Motor speed over torque at a frequency, rad/s: real and imaginary. */
function mechanicsAt(
  { motorInertia: jm, loadInertia: jl, stiffness: k, damping: c }: LoopModel,
  w: number,
): readonly [number, number] {
  if (k === undefined) return [0, -1 / ((jm + jl) * w)];
  // Numerator over s·(…): (jm·jl·(−w²) + (jm + jl)·(c·j·w + k))·j·w
  const [nr, ni] = [k - jl * w * w, c * w];
  const [dr, di] = [-(jm + jl) * c * w * w, w * ((jm + jl) * k - jm * jl * w * w)];
  return divided(nr, ni, dr, di);
}

/** The mechanics alone, motor speed over torque. */
export function plantResponse(model: LoopModel, frequencies: Float64Array): Response {
  const real = new Float64Array(frequencies.length);
  const imaginary = new Float64Array(frequencies.length);
  frequencies.forEach((w, n) => ([real[n], imaginary[n]] = mechanicsAt(model, w)));
  return { frequencies, real, imaginary };
}

/**
 * - mechanics, motor speed over torque: (J_l·s² + c·s + k) / (s·(J_m·J_l·s² + (J_m + J_l)·(c·s + k))); rigid: 1/((J_m + J_l)·s)
 * - open speed loop: K·(1 + 1/(T·s)) · e^(−s·T_d)/(1 + s·τ) · mechanics · 1/(1 + s·τ_f)
 * - open position loop: K_p/s · speed loop, closed; in a controller (K_p + K_i/s)/s · e^(−s·T_h)/(1 + s·τ_h) · speed loop, closed
 */
export function loopResponses(model: LoopModel, frequencies: Float64Array): LoopResponses {
  const count = frequencies.length;
  const empty = (): Response => ({
    frequencies,
    real: new Float64Array(count),
    imaginary: new Float64Array(count),
  });
  const responses = {
    speedOpen: empty(),
    speedClosed: empty(),
    positionOpen: empty(),
    positionClosed: empty(),
  };
  const { speedIntegralTime: ti } = model;
  for (let n = 0; n < count; n++) {
    const w = frequencies[n] ?? 0;
    const [pr, pi] = mechanicsAt(model, w);
    let [lr, li] = multiplied(pr, pi, model.speedGain, ti > 0 ? -model.speedGain / (ti * w) : 0);
    [lr, li] = multiplied(lr, li, Math.cos(w * model.deadTime), -Math.sin(w * model.deadTime));
    if (model.notch) {
      const { frequency: f, width, depth } = model.notch;
      [lr, li] = multiplied(lr, li, f * f - w * w, 2 * depth * width * f * w);
      [lr, li] = divided(lr, li, f * f - w * w, 2 * width * f * w);
    }
    [lr, li] = divided(lr, li, 1, w * model.torqueTimeConstant);
    [lr, li] = divided(lr, li, 1, w * (model.torqueFilterTime ?? 0));
    [lr, li] = divided(lr, li, 1, w * model.filterTime);
    set(responses.speedOpen, n, lr, li);
    const [tr, tim] = divided(lr, li, 1 + lr, li);
    set(responses.speedClosed, n, tr, tim);
    const [or, oi] = hosted(model.host, w, multiplied(tr, tim, ...controllerAt(model, w)));
    set(responses.positionOpen, n, or, oi);
    const [cr, ci] = divided(or, oi, 1 + or, oi);
    set(responses.positionClosed, n, cr, ci);
  }
  return responses;
}

/** What makes a speed of a position error: K_p/s, with an integral (K_p + K_i/s)/s. */
const controllerAt = ({ positionGain, host }: LoopModel, w: number): Complex => [
  -(host?.integralGain ?? 0) / (w * w),
  -positionGain / w,
];

/** What the way from the controller to the drive does to it. */
function hosted(host: HostedLoop | undefined, w: number, [real, imaginary]: Complex): Complex {
  if (!host) return [real, imaginary];
  const late = multiplied(real, imaginary, Math.cos(w * host.deadTime), -Math.sin(w * host.deadTime));
  return divided(...late, 1, w * host.filterTime);
}

/**
 * Actual over demanded speed of the whole drive: (T'·K_p/s + k·T)/(1 + T'·K_p/s). T is the closed speed loop as measured behind its filter,
 * T' = T·(1 + s·τ_f) the true speed; the demanded speed passes the same filter as the measured one. A feedforward of the acceleration adds
 * a·J·s/(1 + s·τ_a) to the torque, which is the same over C = K·(1 + 1/(T·s)) added to k.
 */
export function demandedSpeedResponse(model: LoopModel, feedforward: Feedforward, frequencies: Float64Array): Response {
  const { speedClosed, positionOpen } = loopResponses(model, frequencies);
  const real = new Float64Array(frequencies.length);
  const imaginary = new Float64Array(frequencies.length);
  frequencies.forEach((w, n) => {
    const [or, oi] = multiplied(positionOpen.real[n] ?? 0, positionOpen.imaginary[n] ?? 0, 1, w * model.filterTime);
    const [tr, ti] = [speedClosed.real[n] ?? 0, speedClosed.imaginary[n] ?? 0];
    const [kr, ki] = feedforwardAt(model, feedforward, w);
    const [fr, fi] = multiplied(kr, ki, tr, ti);
    [real[n], imaginary[n]] = divided(or + fr, oi + fi, 1 + or, oi);
  });
  return { frequencies, real, imaginary };
}

/** Of the demand: shares of its speed, and of the torque that its acceleration takes with the inertia that the drive believes in. */
export interface Feedforward {
  readonly velocity: number;
  readonly acceleration: number;
  /** kg·m² */
  readonly believedInertia: number;
  /** s, of the demanded acceleration */
  readonly accelerationFilterTime: number;
}

function feedforwardAt(model: LoopModel, feedforward: Feedforward, w: number): Complex {
  const { speedGain, speedIntegralTime } = model;
  const [vr, vi] = divided(
    0,
    feedforward.acceleration * feedforward.believedInertia * w,
    speedGain,
    speedIntegralTime > 0 ? -speedGain / (speedIntegralTime * w) : 0,
  );
  const [ar, ai] = divided(vr, vi, 1, w * feedforward.accelerationFilterTime);
  return [feedforward.velocity + ar, ai];
}

function set(response: Response, n: number, real: number, imaginary: number): void {
  response.real[n] = real;
  response.imaginary[n] = imaginary;
}

type Complex = [real: number, imaginary: number];
const multiplied = (a: number, b: number, c: number, d: number): Complex => [a * c - b * d, a * d + b * c];
function divided(a: number, b: number, c: number, d: number): Complex {
  const size = c * c + d * d;
  return [(a * c + b * d) / size, (b * c - a * d) / size];
}

/** dB of each point. */
export const decibels = ({ real, imaginary }: Response): Float64Array =>
  real.map((re, k) => 20 * Math.log10(Math.hypot(re, imaginary[k] ?? 0)));

/** Degrees of each point, going on without jumps. */
export function phases({ real, imaginary }: Response): Float64Array {
  let last = 0;
  return real.map((re, k) => {
    const angle = (Math.atan2(imaginary[k] ?? 0, re) * 180) / Math.PI;
    last = k === 0 ? angle : angle + 360 * Math.round((last - angle) / 360);
    return last;
  });
}
