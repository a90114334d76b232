import type { SpindleDefinition } from './spindleDefinition.ts';

export type SpindleTrip = 'overcurrent' | 'overload' | 'overvoltage' | 'undervoltage';

/** J since the start; what comes in is what is stored, done and lost. */
export interface SpindleLedger {
  fromSupply: number;
  kinetic: number;
  capacitors: number;
  loadWork: number;
  rotorHeat: number;
  statorHeat: number;
  idle: number;
  resistor: number;
}

/** State of a spindle: command, motion, DC bus, and energy since the start. */
export interface SpindleState {
  /** Hz it is to go to, N·m on the motor’s shaft besides friction */
  target: number;
  load: number;
  isSupplied: boolean;
  /** The output is off: nothing drives and nothing brakes. */
  isCoasting: boolean;
  /** Hz of the output now, rad/s, A, N·m, V of the DC bus */
  hertz: number;
  speed: number;
  current: number;
  torque: number;
  bus: number;
  /** (I/I₀)² − 1 over time, s: what the protection has gathered; 0 or more */
  heat: number;
  /** s that the drive has held its ramp because of its current */
  held: number;
  trip: SpindleTrip | undefined;
  readonly ledger: SpindleLedger;
}

/** A spindle that stands, its DC bus full. */
export const spindleAtRest = ({ supplyVolts }: SpindleDefinition): SpindleState => ({
  target: 0,
  load: 0,
  isSupplied: true,
  isCoasting: false,
  hertz: 0,
  speed: 0,
  current: 0,
  torque: 0,
  bus: supplyVolts,
  heat: 0,
  held: 0,
  trip: undefined,
  ledger: {
    fromSupply: 0,
    kinetic: 0,
    capacitors: 0,
    loadWork: 0,
    rotorHeat: 0,
    statorHeat: 0,
    idle: 0,
    resistor: 0,
  },
});
