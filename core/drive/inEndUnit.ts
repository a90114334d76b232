import { conversion, parseUnit, sameDimension, toNumber } from '../quantity/index.ts';

/** How an axis turns its own units into those of an end's list; each in axis units, undefined while unknown. */
export interface EndUnits {
  readonly axisUnit: string;
  readonly perCount: number | undefined;
  readonly perPulse: number | undefined;
  /** Undefined at an end that knows the load only: its rpm are the load's. */
  readonly perMotorTurn: number | undefined;
}

/** Plain numbers and rates of a loop, which drives give in different ways; each as a multiple of the first. */
const kin: readonly Readonly<Record<string, number>>[] = [
  { '': 1, '%': 1 / 100, '‰': 1 / 1000 },
  // A bandwidth ω is 2π times its frequency. Where a drive gives a gain in Hz, its manual has to say which of the two it means.
  { 'rad/s': 1, Hz: 2 * Math.PI },
  { '1/s': 1, 'rad/s': 1, '1/min': 1 / 60 },
];

/**
 * A planned value in a unit of an end: by its dimension, as a share, as the frequency of a bandwidth, or as counts, pulses or motor
 * turns.
 * @returns undefined where it cannot be given so
 */
export function inEndUnit(value: number, from: string, to: string, units: EndUnits): number | undefined {
  if (from === to || to === '') return value;
  const alike = kin.find((each) => from in each && to in each);
  if (alike) return (value * (alike[from] ?? 1)) / (alike[to] ?? 1);
  const [[counted, over], [alsoCounted, otherOver]] = [split(from), split(to)];
  const { axisUnit, perCount, perPulse, perMotorTurn } = units;
  const per = { counts: perCount, pulses: perPulse, increments: perPulse, rev: perMotorTurn }[alsoCounted];
  if (per !== undefined && from === [axisUnit, otherOver].filter(Boolean).join('/')) return value / per;
  // A drive's turns are the motor's.
  if (to === 'rpm' && perMotorTurn !== undefined && from === `${axisUnit}/s`) return (60 * value) / perMotorTurn;
  const [a, b] = [parseUnit(from), parseUnit(to)];
  if (a && b && sameDimension(a.dimension, b.dimension)) return value * toNumber(conversion(from, to));
  // Pulses or counts for each unit of length or angle.
  if (counted !== alsoCounted || over === '' || otherOver === '') return undefined;
  const perOther = inEndUnit(1, otherOver, over, units);
  return perOther === undefined ? undefined : value * perOther;
}

/** `pulses/mm` as what is counted and over what. */
function split(unit: string): readonly [string, string] {
  const slash = unit.indexOf('/');
  return slash < 0 ? [unit, ''] : [unit.slice(0, slash), unit.slice(slash + 1)];
}
