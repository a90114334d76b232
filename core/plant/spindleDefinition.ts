import type { VoltsPerHertz } from '../spindle/index.ts';

/**
 * An induction motor on a variable-frequency drive, quasi-static: the electrical part is always settled, what turns and what
 * the DC bus stores takes time. SI units; torque at the motor shaft.
 */
export interface SpindleDefinition {
  /** Steps a second; 2000 by default. */
  readonly stepRate: number;
  readonly poles: number;
  /** V, Hz, A, N·m at full load, and the share of the field’s speed that is missing there. */
  readonly ratedVolts: number;
  readonly ratedHertz: number;
  readonly ratedCurrent: number;
  readonly ratedTorque: number;
  readonly ratedSlip: number;
  /** A without load */
  readonly noLoadCurrent: number;
  /** Largest torque over rated torque, at full flux. */
  readonly breakdown: number;
  /** Ω of a winding, star equivalent */
  readonly statorResistance: number;
  readonly curve: VoltsPerHertz;
  /** kg·m² of all that turns; N·m that friction takes; N·m·s² of air */
  readonly inertia: number;
  readonly friction: number;
  readonly windage: number;
  /** s from rest to the highest hertz, and back */
  readonly rampUp: number;
  readonly rampDown: number;
  /** A above which the drive leaves its ramp until the motor has followed */
  readonly holdCurrent: number;
  /** A of the motor’s protection, which trips after a minute at one and a half times this */
  readonly protectionCurrent: number;
  /** A, V, V at which it trips */
  readonly tripCurrent: number;
  readonly tripVolts: number;
  readonly leastVolts: number;
  /** F; V of the rectified supply; W of the drive itself */
  readonly capacitance: number;
  readonly supplyVolts: number;
  readonly idlePower: number;
  /** The brake resistor in Ω and the V at which its chopper works; undefined: none */
  readonly resistor: { readonly ohms: number; readonly volts: number } | undefined;
}

const positive = [
  'stepRate',
  'poles',
  'ratedVolts',
  'ratedHertz',
  'ratedCurrent',
  'ratedTorque',
  'ratedSlip',
  'noLoadCurrent',
  'statorResistance',
  'protectionCurrent',
  'inertia',
  'rampUp',
  'rampDown',
  'capacitance',
  'supplyVolts',
] as const;

/** What a step needs of a definition, worked out once. */
export interface SpindleCoefficients {
  readonly definition: SpindleDefinition;
  readonly dt: number;
  readonly radPerHertz: number;
  /** Kloss: T = 2·Tb / (f/fb + fb/f), with the breakdown slip that puts rated torque at rated slip. */
  readonly breakdownHertz: number;
  readonly breakdownTorque: number;
  readonly rotorRated: number;
  readonly rotorShare: number;
  /** V that the magnetising current loses in the windings; they make no flux, and boost is there to make up for them. */
  readonly drop: number;
  readonly ratedFlux: number;
  /** Hz a step of the ramps */
  readonly up: number;
  readonly down: number;
}

/** @throws RangeError for a value outside its range */
export function spindleCoefficients(definition: SpindleDefinition): SpindleCoefficients {
  for (const name of positive)
    if (!(definition[name] > 0)) throw new RangeError(`The spindle needs ${name} above 0, not ${definition[name]}.`);
  const d = definition;
  const dt = 1 / d.stepRate;
  const slipHertz = d.ratedSlip * d.ratedHertz;
  const breakdownHertz = slipHertz * (d.breakdown + Math.sqrt(Math.max(0, d.breakdown ** 2 - 1)));
  const drop = Math.sqrt(3) * d.statorResistance * d.noLoadCurrent;
  return {
    definition,
    dt,
    radPerHertz: (4 * Math.PI) / d.poles,
    breakdownHertz,
    breakdownTorque: d.ratedTorque * d.breakdown,
    rotorRated: Math.sqrt(Math.max(0, d.ratedCurrent ** 2 - d.noLoadCurrent ** 2)),
    rotorShare: slipHertz / Math.hypot(slipHertz, breakdownHertz),
    drop,
    ratedFlux: (d.ratedVolts - drop) / d.ratedHertz,
    up: (d.curve.highestHertz / d.rampUp) * dt,
    down: (d.curve.highestHertz / d.rampDown) * dt,
  };
}
