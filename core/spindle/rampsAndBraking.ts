/** What a spindle has to bring up to speed. Everything at the motor shaft; SI units, speeds in rad/s. */
export interface SpindleLoad {
  /** kg·m² of rotor, pulleys and tool together */
  readonly inertia: number;
  /** N·m that friction and air take at any speed */
  readonly torque: number;
}

/** What the motor can pull. */
export interface SpindlePull {
  /** N·m for acceleration, below the base speed; above it, it falls as 1/ω */
  readonly torque: number;
  readonly baseSpeed: number;
}

/**
 * s in which a motor reaches a speed, from rest: J·ω/(T − TL) up to the base speed, then ∫ J·ω/(T·ωb − TL·ω) dω.
 * Infinite where the load takes all the torque on the way.
 */
export function timeToSpeed({ inertia, torque: load }: SpindleLoad, pull: SpindlePull, speed: number): number {
  const { torque, baseSpeed } = pull;
  if (torque <= load) return Infinity;
  const low = Math.min(speed, baseSpeed);
  const first = (inertia * low) / (torque - load);
  if (speed <= baseSpeed) return first;
  const top = torque * baseSpeed;
  if (load * speed >= top) return Infinity;
  const at = (omega: number) => (omega ** 2 * logarithmicRest((load * omega) / top)) / top;
  return first + inertia * (at(speed) - at(baseSpeed));
}

/** (−ln(1 − x) − x) / x², which is 1/2 + x/3 + x²/4 + … : near 0 the difference would lose all its digits. */
function logarithmicRest(x: number): number {
  if (x > 0.05) return (-Math.log1p(-x) - x) / x ** 2;
  let [sum, power] = [0, 1];
  for (let k = 2; k < 16; k++, power *= x) sum += power / k;
  return sum;
}

/** J·ω/TL: the coasting time; infinite without friction. */
export const coastingTime = ({ inertia, torque }: SpindleLoad, speed: number): number =>
  torque > 0 ? (inertia * speed) / torque : Infinity;

/** Where the energy of a braked spindle can go. */
export interface BrakingSupply {
  /** F of the DC bus, V on it at rest, V at which the drive trips */
  readonly capacitance: number;
  readonly busVolts: number;
  readonly tripVolts: number;
  /** Share of the mechanical power that comes back through motor and drive; 0 … 1 */
  readonly efficiency: number;
  /** W that the drive itself always takes */
  readonly idlePower: number;
}

/** J that the capacitors take before the drive trips: ½·C·(Vtrip² − V²). */
export const capacitorEnergy = ({ capacitance, busVolts, tripVolts }: BrakingSupply): number =>
  0.5 * capacitance * (tripVolts ** 2 - busVolts ** 2);

/** What a straight ramp to rest gives back. */
export interface BrakingResult {
  /** J in the turning masses */
  readonly kinetic: number;
  /** J that arrive at the bus, less what the drive takes itself; 0 or more */
  readonly returned: number;
  /** W at the first moment, the highest */
  readonly peakPower: number;
  /** V on the bus at the end without a resistor */
  readonly busVolts: number;
  readonly trips: boolean;
}

/** Braking from a speed to rest in a time, without a resistor. @param time s, above 0 */
export function braking(load: SpindleLoad, supply: BrakingSupply, speed: number, time: number): BrakingResult {
  const kinetic = 0.5 * load.inertia * speed ** 2;
  const torque = (load.inertia * speed) / time - load.torque;
  // Friction helps: a ramp slower than coasting gives nothing back.
  const peakPower = Math.max(0, supply.efficiency * torque * speed - supply.idlePower);
  // The power falls in a straight line with the speed; only the part above zero is stored.
  const peak = supply.efficiency * torque * speed;
  const share = peak > 0 ? Math.max(0, 1 - supply.idlePower / peak) : 0;
  const returned = 0.5 * peakPower * share * time;
  const busVolts = Math.sqrt(supply.busVolts ** 2 + (2 * returned) / supply.capacitance);
  return { kinetic, returned, peakPower, busVolts, trips: busVolts > supply.tripVolts };
}

/**
 * The shortest straight ramp that needs no brake resistor, s; 0 where the capacitors take all, infinite where no ramp is slow
 * enough: nothing rubs, the drive takes nothing itself, and the capacitors cannot hold what comes back.
 */
export function shortestRamp(load: SpindleLoad, supply: BrakingSupply, speed: number): number {
  const { efficiency, idlePower } = supply;
  // Slower than either, nothing comes back at all.
  const takenByDrive = idlePower > 0 ? (efficiency * load.inertia * speed ** 2) / idlePower : Infinity;
  let [low, high] = [0, Math.min(coastingTime(load, speed), takenByDrive)];
  if (!braking(load, supply, speed, 1e-6).trips) return 0;
  if (high === Infinity) return Infinity;
  for (let k = 0; k < 80; k++) {
    const middle = (low + high) / 2;
    if (braking(load, supply, speed, middle).trips) low = middle;
    else high = middle;
  }
  return high;
}

/** A brake resistor for a ramp. */
export interface BrakeResistor {
  /** Ω that the drive's chopper can bear, and that take the peak power at the chopper’s volts */
  readonly least: number;
  readonly most: number;
  /** W at the first moment, and over a whole duty */
  readonly peakPower: number;
  readonly meanPower: number;
}

/**
 * The resistor that a ramp needs: no more than V²/P, no less than the drive allows.
 * @param chopperVolts V at which the chopper works
 * @param duty s from one stop to the next
 */
export function brakeResistor(
  result: Pick<BrakingResult, 'peakPower' | 'returned'>,
  chopperVolts: number,
  leastOhms: number,
  duty: number,
): BrakeResistor {
  return {
    least: leastOhms,
    most: result.peakPower > 0 ? chopperVolts ** 2 / result.peakPower : Infinity,
    peakPower: result.peakPower,
    meanPower: result.returned / duty,
  };
}

/**
 * V of the DC bus during a straight ramp to rest, from the energy that has come back; it stays where a resistor holds it, or
 * rises on even where the drive would have tripped.
 */
export function busVoltsDuring(
  load: SpindleLoad,
  supply: BrakingSupply,
  speed: number,
  time: number,
  resistor: { readonly ohms: number; readonly volts: number } | undefined,
  samples: number,
): readonly { readonly time: number; readonly volts: number }[] {
  const torque = (load.inertia * speed) / time - load.torque;
  const resting = supply.busVolts ** 2;
  const inner = 50;
  const dt = time / (samples * inner);
  const points = [{ time: 0, volts: supply.busVolts }];
  let squared = resting;
  for (let step = 1; step <= samples * inner; step++) {
    const power = supply.efficiency * torque * speed * (1 - (step - 0.5) / (samples * inner)) - supply.idlePower;
    const threshold = resistor ? resistor.volts ** 2 : Infinity;
    const chopped = resistor && squared > threshold ? squared / resistor.ohms : 0;
    const next = Math.max(resting, squared + (2 * (power - chopped) * dt) / supply.capacitance);
    // A resistor that can take the power holds the bus at the chopper’s volts.
    const isHeld = resistor && power < threshold / resistor.ohms && Math.max(next, squared) >= threshold && power > 0;
    squared = isHeld ? threshold : next;
    if (step % inner === 0) points.push({ time: step * dt, volts: Math.sqrt(squared) });
  }
  return points;
}
