import { divide, exact, multiply, type Exact } from './exact.ts';

/** Exponents of the base units: mm, revolution, second, millilitre, gram, ampere, volt. */
export type Dimension = Readonly<
  Partial<Record<'length' | 'angle' | 'time' | 'volume' | 'mass' | 'current' | 'voltage', number>>
>;

/** A unit: what it measures and how many base units one of it is, exactly. */
export interface Unit {
  readonly symbol: string;
  readonly dimension: Dimension;
  readonly factor: Exact;
}

const define = (symbols: string, dimension: Dimension, factor: Exact): readonly [string, Unit][] =>
  symbols.split(' ').map((symbol) => [symbol, { symbol, dimension, factor }]);

const force: Dimension = { mass: 1, length: 1, time: -2 };
const energy: Dimension = { mass: 1, length: 2, time: -2 };
const power: Dimension = { mass: 1, length: 2, time: -3 };
const resistance: Dimension = { voltage: 1, current: -1 };
const capacitance: Dimension = { current: 1, time: 1, voltage: -1 };
const frequency: Dimension = { time: -1 };

/** Inch by international agreement of 1959: 25.4 mm exactly. Pound-force and ounce from the 0.453 592 37 kg pound and 9.806 65 m/s². */
const named: ReadonlyMap<string, Unit> = new Map([
  ...define('mm', { length: 1 }, exact(1)),
  ...define('um µm μm', { length: 1 }, exact(1, 1000)),
  ...define('cm', { length: 1 }, exact(10)),
  ...define('m', { length: 1 }, exact(1000)),
  ...define('in inch "', { length: 1 }, exact(254, 10)),
  ...define('mil', { length: 1 }, exact(254, 10000)),
  ...define('ft', { length: 1 }, exact(3048, 10)),
  ...define('rev turn turns', { angle: 1 }, exact(1)),
  ...define('deg °', { angle: 1 }, exact(1, 360)),
  ...define('arcmin', { angle: 1 }, exact(1, 21600)),
  ...define('arcsec', { angle: 1 }, exact(1, 1296000)),
  ...define('rad', { angle: 1 }, exact(1, 2, -1)),
  ...define('s sec', { time: 1 }, exact(1)),
  ...define('ms', { time: 1 }, exact(1, 1000)),
  ...define('us µs μs', { time: 1 }, exact(1, 1000000)),
  ...define('min', { time: 1 }, exact(60)),
  ...define('h', { time: 1 }, exact(3600)),
  ...define('mL ml', { volume: 1 }, exact(1)),
  ...define('uL µL μL ul', { volume: 1 }, exact(1, 1000)),
  ...define('L l', { volume: 1 }, exact(1000)),
  ...define('g', { mass: 1 }, exact(1)),
  ...define('kg', { mass: 1 }, exact(1000)),
  ...define('lb', { mass: 1 }, exact(45359237, 100000)),
  ...define('A', { current: 1 }, exact(1)),
  ...define('mA', { current: 1 }, exact(1, 1000)),
  ...define('V', { voltage: 1 }, exact(1)),
  ...define('mV', { voltage: 1 }, exact(1, 1000)),
  ...define('Ω ohm Ohm', resistance, exact(1)),
  ...define('kΩ kohm', resistance, exact(1000)),
  ...define('F', capacitance, exact(1)),
  ...define('mF', capacitance, exact(1, 1000)),
  ...define('µF μF uF', capacitance, exact(1, 1000000)),
  ...define('Hz pulse/s pulses/s', frequency, exact(1)),
  ...define('kHz', frequency, exact(1000)),
  ...define('MHz', frequency, exact(1000000)),
  ...define('rpm', { angle: 1, time: -1 }, exact(1, 60)),
  ...define('N', force, exact(1000000)),
  ...define('lbf', force, multiply(exact(45359237, 100000), exact(980665, 100))),
  ...define('Nm N·m N*m', energy, exact(1000000000)),
  ...define('mNm mN·m', energy, exact(1000000)),
  ...define('ozf·in', energy, multiply(exact(45359237, 1600000), exact(980665, 100), exact(254, 10))),
  ...define('lbf·in', energy, multiply(exact(45359237, 100000), exact(980665, 100), exact(254, 10))),
  ...define('W', power, exact(1000000000)),
  ...define('kW', power, exact(1000000000000)),
  ...define('kg·m² kg·m^2 kgm2 kg·m2', { mass: 1, length: 2 }, exact(1000000000)),
  ...define('kg·cm² kg·cm^2 kgcm2', { mass: 1, length: 2 }, exact(100000)),
  ...define('g·cm² g·cm^2', { mass: 1, length: 2 }, exact(100)),
]);

const combine = (a: Dimension, b: Dimension, sign: 1 | -1): Dimension => {
  const sum: Record<string, number> = { ...a };
  for (const [name, power] of Object.entries(b)) sum[name] = (sum[name] ?? 0) + sign * power;
  return Object.fromEntries(Object.entries(sum).filter(([, power]) => power !== 0));
};

export const sameDimension = (a: Dimension, b: Dimension): boolean => Object.keys(combine(a, b, -1)).length === 0;

const parsed = new Map<string, Unit | undefined>();

/**
 * Reads a unit: one of the known symbols, or such with `/` and powers, as `mm/s`, `m/min`, `mm/s²`, `deg/s^2`.
 * @returns undefined when a part is not known.
 */
export function parseUnit(text: string): Unit | undefined {
  const symbol = text.trim();
  if (!parsed.has(symbol)) parsed.set(symbol, readUnit(symbol));
  return parsed.get(symbol);
}

function readUnit(symbol: string): Unit | undefined {
  const direct = named.get(symbol);
  if (direct || symbol === '') return direct;
  let unit: Unit = { symbol, dimension: {}, factor: exact(1) };
  for (const [index, part] of symbol.split('/').entries()) {
    const match = /^(.*?)(?:\^([23])|(²)|(³))?$/u.exec(part.trim());
    const base = named.get(part.trim()) ?? (match?.[1] ? named.get(match[1]) : undefined);
    if (!base) return undefined;
    const power = named.has(part.trim()) ? 1 : Number(match?.[2] ?? (match?.[3] ? 2 : match?.[4] ? 3 : 1));
    for (let k = 0; k < power; k++) {
      unit = {
        symbol,
        dimension: combine(unit.dimension, base.dimension, index === 0 ? 1 : -1),
        factor: index === 0 ? multiply(unit.factor, base.factor) : divide(unit.factor, base.factor),
      };
    }
  }
  return unit;
}

/** The unit of that symbol. @throws RangeError for an unknown symbol: a mistake in our own code. */
export function unitOf(symbol: string): Unit {
  const unit = parseUnit(symbol);
  if (!unit) throw new RangeError(`There is no unit “${symbol}”.`);
  return unit;
}

/** How many `to` one `from` is, exactly. @throws RangeError when they measure different things. */
export function conversion(from: string, to: string): Exact {
  const [a, b] = [unitOf(from), unitOf(to)];
  if (!sameDimension(a.dimension, b.dimension)) throw new RangeError(`${from} cannot be given in ${to}.`);
  return divide(a.factor, b.factor);
}
