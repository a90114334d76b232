/** A point of a V/f curve. */
export interface CurvePoint {
  readonly hertz: number;
  readonly volts: number;
}

/** How a drive sets its volts by its frequency. */
export interface VoltsPerHertz {
  /** Hz and V at which the constant-power region begins */
  readonly base: CurvePoint;
  /** V at standstill */
  readonly boost: number;
  /** Up to three points in between, in order of their hertz. */
  readonly points: readonly CurvePoint[];
  readonly highestHertz: number;
}

/** V at a frequency: straight between the points, constant above the base. */
export function voltsAt({ base, boost, points }: VoltsPerHertz, hertz: number): number {
  const curve = [{ hertz: 0, volts: boost }, ...points, base];
  if (hertz >= base.hertz) return base.volts;
  const next = curve.findIndex((point) => point.hertz > hertz);
  const [from, to] = [curve[next - 1], curve[next]];
  if (!from || !to) return boost;
  return from.volts + ((to.volts - from.volts) * (hertz - from.hertz)) / (to.hertz - from.hertz);
}

/** What a motor can give at a frequency, against its plate. */
export interface Region {
  /** Flux over that of the plate: 1 is right, above it the iron saturates. */
  readonly flux: number;
  /** Share of rated torque and power that rated current gives, continuously. */
  readonly torque: number;
  readonly power: number;
  readonly kind: 'constant torque' | 'constant power';
}

/** Torque and power at a frequency for a motor of the plate’s volts and hertz. @param hertz above 0 */
export function regionAt(curve: VoltsPerHertz, plate: CurvePoint, hertz: number): Region {
  const flux = voltsAt(curve, hertz) / hertz / (plate.volts / plate.hertz);
  // Rated current gives torque by flux; iron that is full gives no more.
  const torque = Math.min(1, flux);
  return {
    flux,
    torque,
    power: (torque * hertz) / plate.hertz,
    kind: hertz > curve.base.hertz ? 'constant power' : 'constant torque',
  };
}

/** Flux above which a motor is being ruined: its iron is full and the current has nothing against it but resistance and leakage. */
export const ruinousFlux = 1.2;

/** Winding resistance and leakage, as shares of the rated impedance (common practice for small motors). */
export const resistanceShare = 0.04;
const leakageShare = 0.2;

/**
 * Current over rated current that an over-fluxed motor would draw, once its iron is full: V / |R + jωLσ|.
 * @param current A of the plate
 */
export function saturatedCurrent(curve: VoltsPerHertz, plate: CurvePoint, hertz: number): number {
  const volts = voltsAt(curve, hertz) / plate.volts;
  const impedance = Math.hypot(resistanceShare, (leakageShare * hertz) / plate.hertz);
  return volts / impedance;
}

/** The classic ruin: a high-frequency spindle on a drive that is still set to a base of 50 or 60 Hz. */
export interface Ruin {
  readonly flux: number;
  /** Hz at which it is worst, within the range of the drive */
  readonly hertz: number;
  /** Current over rated current there */
  readonly current: number;
}

/** Where the flux is highest within the range of the drive: at a corner of the curve; boost at standstill is meant and left out. */
export function worstFluxHertz(curve: VoltsPerHertz, plate: CurvePoint): number {
  const { points, base, highestHertz } = curve;
  const corners = [...points.map(({ hertz }) => hertz), base.hertz].filter((hertz) => hertz < highestHertz);
  const flux = (hertz: number) => regionAt(curve, plate, hertz).flux;
  return corners.reduce((worst, each) => (flux(each) > flux(worst) ? each : worst), highestHertz);
}

/** @returns undefined where the flux stays bearable over the whole range. */
export function ruinOf(curve: VoltsPerHertz, plate: CurvePoint): Ruin | undefined {
  const hertz = worstFluxHertz(curve, plate);
  const { flux } = regionAt(curve, plate, hertz);
  return flux > ruinousFlux ? { hertz, flux, current: saturatedCurrent(curve, plate, hertz) } : undefined;
}
