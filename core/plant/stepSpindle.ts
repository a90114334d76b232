import { voltsAt } from '../spindle/index.ts';
import type { SpindleCoefficients } from './spindleDefinition.ts';
import type { SpindleState } from './spindleState.ts';

/** Flux over rated flux at which iron is full, and how steeply the magnetising current rises beyond (common practice). */
const fullIron = 1.25;
const overflow = 12;

/** (1.5² − 1) · 60 s: an overload relay trips after a minute at one and a half times its current (common practice). */
export const overloadHeat = 75;

/** At its limit the current swings by a few per cent around it. */
const nearHold = 0.95;

/**
 * One step of a spindle on its drive. Torque by Kloss’ formula over the slip frequency, scaled by the square of the flux;
 * current from magnetising and rotor current at right angles. A trip lets the spindle coast.
 */
export function stepSpindle(c: SpindleCoefficients, s: SpindleState): void {
  const { definition: d, dt, radPerHertz } = c;
  const { ledger } = s;
  // Ramp; where the current is too high, the drive goes back towards what the motor really does.
  if (s.trip !== undefined || s.isCoasting) s.hertz = 0;
  else if (s.current > d.holdCurrent) {
    s.hertz = Math.max(0, s.hertz + (s.hertz > s.speed / radPerHertz ? -c.up : c.down));
  } else s.hertz = s.target > s.hertz ? Math.min(s.target, s.hertz + c.up) : Math.max(s.target, s.hertz - c.down);
  const { hertz } = s;
  if (hertz !== s.target && s.current > nearHold * d.holdCurrent) s.held += dt;
  const isLive = hertz > 0;
  // No more volts than the bus gives.
  const volts = isLive ? Math.min(voltsAt(d.curve, hertz), s.bus / Math.SQRT2) : 0;
  const flux = isLive ? Math.max(0, volts - c.drop) / hertz / c.ratedFlux : 0;
  // Saturated iron carries at most a quarter more flux; any excess becomes current, limited by the windings.
  const full = Math.min(flux, fullIron);
  const magnetising = Math.min(
    d.noLoadCurrent * (full + overflow * (flux - full)),
    volts / (Math.sqrt(3) * d.statorResistance),
  );
  const iron = Math.min(full, magnetising / d.noLoadCurrent);
  const slip = hertz - s.speed / radPerHertz;
  const torque =
    isLive && slip !== 0
      ? ((2 * c.breakdownTorque) / (slip / c.breakdownHertz + c.breakdownHertz / slip)) * iron ** 2
      : 0;
  const rotor = isLive
    ? (c.rotorRated * iron * (Math.abs(slip) / Math.hypot(slip, c.breakdownHertz))) / c.rotorShare
    : 0;
  const current = isLive ? Math.hypot(magnetising, rotor) : 0;
  // What turns: friction holds a spindle that stands.
  const drag =
    s.speed > 0 ? d.friction + s.load + d.windage * s.speed ** 2 : Math.min(Math.max(0, torque), d.friction + s.load);
  const before = s.speed;
  const speed = Math.max(0, before + ((torque - drag) / d.inertia) * dt);
  const mean = 0.5 * (before + speed);
  // At the last step to rest the drag is what stops it there.
  const realDrag = torque - (d.inertia * (speed - before)) / dt;
  const airGap = torque * hertz * radPerHertz;
  const copper = isLive ? 3 * d.statorResistance * current ** 2 : 0;
  // The bus: the supply fills it up to its own volts; a chopper empties it above its threshold.
  const chopped = d.resistor && s.bus > d.resistor.volts ? s.bus ** 2 / d.resistor.ohms : 0;
  const stored = 0.5 * d.capacitance * s.bus ** 2;
  const wanted = stored - (airGap + copper + d.idlePower + chopped) * dt;
  const filled = 0.5 * d.capacitance * d.supplyVolts ** 2;
  const supplied = s.isSupplied && wanted < filled ? filled - wanted : 0;
  const left = Math.max(0, wanted + supplied);
  s.bus = Math.sqrt((2 * left) / d.capacitance);
  s.speed = speed;
  s.current = current;
  s.torque = torque;
  s.heat = Math.max(0, s.heat + ((current / d.protectionCurrent) ** 2 - 1) * dt);
  ledger.fromSupply += left - wanted;
  ledger.capacitors += left - stored;
  ledger.kinetic += 0.5 * d.inertia * (speed ** 2 - before ** 2);
  ledger.loadWork += realDrag * mean * dt;
  ledger.rotorHeat += (airGap - torque * mean) * dt;
  ledger.statorHeat += copper * dt;
  ledger.idle += d.idlePower * dt;
  ledger.resistor += chopped * dt;
  if (s.trip !== undefined) return;
  if (current > d.tripCurrent) s.trip = 'overcurrent';
  else if (s.heat > overloadHeat) s.trip = 'overload';
  else if (s.bus > d.tripVolts) s.trip = 'overvoltage';
  else if (s.bus < d.leastVolts) s.trip = 'undervoltage';
}
