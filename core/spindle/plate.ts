import { formatNumber } from '../quantity/index.ts';
import { all, known, unknown, type Outcome } from '../sheet/index.ts';

export type Connection = 'star' | 'delta';

/** V between two leads and A in a lead, as the plate gives them for a connection. */
export interface ConnectionPlate {
  readonly volts: number;
  readonly amps: number;
}

/** The nameplate of a three-phase spindle motor. */
export interface SpindlePlate {
  /** W at the shaft */
  readonly power: Outcome<number>;
  readonly hertz: Outcome<number>;
  /** rpm at full load */
  readonly speed: Outcome<number>;
  /** Even; unknown where the plate does not say: it follows from hertz and rpm. */
  readonly poles: Outcome<number>;
  readonly star: ConnectionPlate | undefined;
  readonly delta: ConnectionPlate | undefined;
  readonly powerFactor: Outcome<number>;
}

/** rpm = 120 · f / poles (IEC 60034-1, NEMA MG 1). */
export const synchronousSpeed = (hertz: number, poles: number): number => (120 * hertz) / poles;

/** The pole number whose synchronous speed lies nearest above the speed at full load. */
export function polesFor(hertz: number, speed: number): number {
  const most = Math.floor((120 * hertz) / speed / 2) * 2;
  return Math.max(2, most);
}

export interface PlateResult {
  readonly poles: number;
  /** rpm */
  readonly synchronousSpeed: number;
  /** Share of the synchronous speed that is missing at full load; 0 … 1 */
  readonly slip: number;
  /** Hz that the rotor sees at full load */
  readonly slipHertz: number;
}

/** More slip than this is no full load of an induction motor, and a motor never turns faster than its field (common practice). */
const largestSlip = 0.12;

/** Poles, synchronous speed and slip; the reason where hertz, rpm and poles cannot belong together. */
export function plateResult({ hertz, speed, poles }: SpindlePlate): Outcome<PlateResult> {
  const given = all<[number, number]>(hertz, speed);
  if (given.state === 'unknown') return given;
  const [frequency, rpm] = given.value;
  const count = poles.state === 'known' ? poles.value : polesFor(frequency, rpm);
  if (count % 2 !== 0)
    return unknown(
      `a motor has an even number of poles, not ${count}; ${polesFor(frequency, rpm)} is possible`,
      '/motor/poles',
    );
  const synchronous = synchronousSpeed(frequency, count);
  const slip = 1 - rpm / synchronous;
  if (slip < 0 || slip > largestSlip) {
    const fitting = polesFor(frequency, rpm);
    const wouldFit = 1 - rpm / synchronousSpeed(frequency, fitting);
    return unknown(
      `${count} poles at ${n(frequency)} Hz give a synchronous speed of ${n(synchronous)} rpm, and ${n(rpm)} rpm is ${slip < 0 ? 'above it' : 'too far below it'}` +
        (fitting !== count && wouldFit >= 0 && wouldFit <= largestSlip
          ? `; ${fitting} poles would match`
          : `; ${n((rpm * count) / 120)} Hz would match`),
      '/motor/poles',
    );
  }
  return known({ poles: count, synchronousSpeed: synchronous, slip, slipHertz: slip * frequency });
}

const n = (value: number) => formatNumber(value, 5);

/** Something on a plate that contradicts itself, with what it would take to be true. */
export interface PlateContradiction {
  readonly id: 'speed' | 'volts' | 'amps' | 'power';
  /** It cannot be; else it is only unlikely. */
  readonly isImpossible: boolean;
  readonly message: string;
}

/** √3: between star and delta (IEC 60034-1, from memory). */
const root3 = Math.sqrt(3);
const tolerance = 0.06;

/** Whether the plate agrees with itself: hertz with rpm and poles, star with delta, volts and amps with the power. */
export function contradictionsOf(plate: SpindlePlate): readonly PlateContradiction[] {
  const { star, delta, power, powerFactor } = plate;
  const found: PlateContradiction[] = [];
  const speed = plateResult(plate);
  if (speed.state === 'unknown' && plate.hertz.state === 'known' && plate.speed.state === 'known')
    found.push({ id: 'speed', isImpossible: true, message: speed.because });
  if (star && delta) {
    const [volts, amps] = [star.volts / delta.volts, delta.amps / star.amps];
    if (Math.abs(volts / root3 - 1) > tolerance)
      found.push({
        id: 'volts',
        isImpossible: true,
        message: `the star voltage is √3 times the delta voltage: ${n(delta.volts)} V in delta corresponds to ${n(delta.volts * root3)} V in star, not ${n(star.volts)} V`,
      });
    if (Math.abs(amps / root3 - 1) > tolerance)
      found.push({
        id: 'amps',
        isImpossible: false,
        message: `the delta current is √3 times the star current: ${n(star.amps)} A in star corresponds to ${n(star.amps * root3)} A in delta, not ${n(delta.amps)} A`,
      });
  }
  for (const [connection, each] of [
    ['star', star],
    ['delta', delta],
  ] as const) {
    if (!each || power.state === 'unknown') continue;
    const apparent = root3 * each.volts * each.amps;
    const factor = powerFactor.state === 'known' ? powerFactor.value : 1;
    const efficiency = power.value / (apparent * factor);
    if (efficiency > 1)
      found.push({
        id: 'power',
        isImpossible: true,
        message: `${n(each.volts)} V and ${n(each.amps)} A in ${connection} is an input of ${n((apparent * factor) / 1000)} kW${powerFactor.state === 'known' ? ` at a power factor of ${n(factor)}` : ''}, less than the ${n(power.value / 1000)} kW at the shaft`,
      });
    else if (powerFactor.state === 'known' && efficiency < 0.4)
      found.push({
        id: 'power',
        isImpossible: false,
        message: `${n(each.volts)} V and ${n(each.amps)} A in ${connection} is an input of ${n((apparent * factor) / 1000)} kW for ${n(power.value / 1000)} kW at the shaft: an efficiency of only ${n(100 * efficiency)} %`,
      });
  }
  return found;
}

/** The winding connection that suits the drive’s output voltage, and its rated volts. */
export interface ConnectionChoice {
  readonly connection: Connection;
  readonly volts: number;
}

/** A motor runs within ±10 % of its rated voltage (IEC 60034-1, zone B, from memory). */
const voltsBand = 0.1;

/**
 * The connection whose volts come nearest to the drive's output without being more than it can give.
 * @param output line-to-line output voltage of the drive at the plate's frequency, V
 */
export function connectionFor(plate: SpindlePlate, output: number): Outcome<ConnectionChoice> {
  const all = (['star', 'delta'] as const).flatMap((connection) => {
    const each = plate[connection];
    return each ? [{ connection, ...each }] : [];
  });
  const distance = ({ volts }: ConnectionPlate) => Math.abs(volts - output);
  const [nearest] = all
    .filter(({ volts }) => volts <= output * (1 + voltsBand))
    .sort((a, b) => distance(a) - distance(b));
  // The output voltage can be set below the supply voltage: base volts are set to those of the motor.
  if (!nearest) {
    const has = [plate.star && `star ${n(plate.star.volts)} V`, plate.delta && `delta ${n(plate.delta.volts)} V`];
    const words = has.filter(Boolean).join(', ');
    return unknown(
      words === ''
        ? 'the nameplate voltage has not been entered'
        : `no connection of this motor suits ${n(output)} V: it has ${words}`,
      '/motor',
    );
  }
  return known({ connection: nearest.connection, volts: nearest.volts });
}

/**
 * Share of the rated current that magnetises: sin φ less what the leakage takes (a fifth of the rated impedance; common practice).
 */
export const noLoadShare = (powerFactor: number): number => Math.max(0.15, Math.sqrt(1 - powerFactor ** 2) - 0.2);
