import type { AxisUnit } from '@kavrid/core/chain';
import { exact, type Exact, type QuantityRule } from '@kavrid/core/quantity';

interface Rule {
  /** `{u}` stands for the unit of the axis. */
  readonly unit: string;
  readonly whole?: boolean;
  readonly above?: Exact;
  readonly atLeast?: Exact;
  readonly atMost?: Exact;
}

const million = exact(1000000);
const positive = { above: exact(0) };
const count = (least: number, most: number): Rule => ({
  unit: '',
  whole: true,
  atLeast: exact(least),
  atMost: exact(most),
});
const share: Rule = { unit: '', above: exact(0), atMost: exact(1) };
const notNegative = (unit: string, most = exact(1000000)): Rule => ({ unit, atLeast: exact(0), atMost: most });
const upTo = (unit: string, most = exact(1000000)): Rule => ({ unit, ...positive, atMost: most });

/** What every field of an axis takes, in one place for the schema, the sheet and the screen. */
export const rules = {
  encoderLines: count(1, 100000000),
  encoderBits: count(1, 32),
  gearRegister: { unit: '', whole: true, atLeast: exact(1), atMost: exact(2n ** 62n) },
  ratioBound: upTo('', exact(10n ** 9n)),
  gearboxRatio: { unit: '', atLeast: exact(1, 1000), atMost: exact(100000) },
  teeth: count(1, 10000),
  starts: count(1, 100),
  beltPitch: { unit: 'mm', atLeast: exact(1, 10), atMost: exact(1000) },
  module: { unit: 'mm', atLeast: exact(1, 100), atMost: exact(100) },
  helixAngle: { unit: 'deg', atLeast: exact(0), atMost: exact(60) },
  diameter: { unit: 'mm', atLeast: exact(1, 100), atMost: exact(100000) },
  lead: { unit: 'mm', atLeast: exact(1, 1000), atMost: exact(10000) },
  outputPerTurn: { unit: 'mL', atLeast: exact(1, million.ratio.numerator), atMost: million },
  travel: upTo('{u}', exact(10000000)),
  resolution: { unit: '{u}', atLeast: exact(1n, 10n ** 9n), atMost: million },
  speed: upTo('{u}/s', exact(10n ** 7n)),
  acceleration: upTo('{u}/s²', exact(10n ** 9n)),
  jerk: upTo('{u}/s³', exact(10n ** 12n)),
  position: { unit: '{u}', atLeast: exact(-(10n ** 7n)), atMost: exact(10n ** 7n) },
  distance: { unit: '{u}', ...positive, atMost: exact(10n ** 7n) },
  pulseRate: upTo('Hz', exact(10n ** 9n)),
  motorSpeed: upTo('rpm', exact(200000)),
  torque: upTo('N·m'),
  inertia: notNegative('kg·m²'),
  rotorInertia: upTo('kg·m²'),
  efficiency: share,
  backDriveEfficiency: { unit: '', atLeast: exact(-10), atMost: exact(1) },
  mass: notNegative('kg'),
  friction: notNegative('N'),
  frictionTorque: notNegative('N·m'),
  incline: { unit: 'deg', atLeast: exact(-90), atMost: exact(90) },
  counterBits: count(8, 64),
  gain: upTo('1/s', exact(10000)),
  bandwidth: upTo('rad/s', exact(10000)),
  integralTime: notNegative('ms', exact(10000)),
  percent: { unit: '%', atLeast: exact(0), atMost: exact(500) },
  integralGain: notNegative('1/s²', exact(10n ** 6n)),
  /** 0: off */
  notchFrequency: notNegative('Hz', exact(3000)),
  notchWidth: { unit: '%', ...positive, atMost: exact(400) },
  notchDepth: { unit: 'dB', ...positive, atMost: exact(60) },
  filterTime: notNegative('ms', exact(1000)),
  inertiaRatio: notNegative('', exact(1000)),
  force: upTo('N', exact(10n ** 7n)),
  linearSpeed: upTo('mm/s', exact(10n ** 6n)),
  countsPerMillimetre: upTo('', exact(10n ** 7n)),
  pulseWidth: notNegative('s', exact(1)),
  motorAngle: { unit: 'deg', ...positive, atMost: exact(10n ** 6n) },
  backlashAngle: notNegative('deg', exact(360)),
  backlashTravel: notNegative('{u}', exact(1000)),
  pull: upTo('N', exact(10n ** 9n)),
  length: upTo('mm', exact(100000)),
  resistance: notNegative('Ω', exact(10n ** 7n)),
  current: upTo('A', exact(10000)),
  cableLength: notNegative('m', exact(10000)),
  voltageConstant: upTo('V', exact(10000)),
  capacitance: upTo('µF', exact(10n ** 7n)),
  pulses: { unit: '', whole: true, atLeast: exact(1), atMost: exact(10n ** 12n) },
  time: upTo('s', exact(86400)),
  otherCurrent: notNegative('A', exact(10000)),
  drives: count(1, 64),
  gearSets: count(1, 16),
  scale: upTo('', exact(10n ** 9n)),
  bit: count(1, 64),
  voltage: notNegative('V', exact(2000)),
  outputs: { unit: '', whole: true, atLeast: exact(0), atMost: exact(64) },
  converterBits: count(4, 32),
  analogVolts: { unit: 'V', atLeast: exact(-12), atMost: exact(12) },
  analogMilliamps: { unit: 'mA', atLeast: exact(0), atMost: exact(24) },
  duty: { unit: '%', atLeast: exact(0), atMost: exact(100) },
  scaleSpeed: { unit: 'rpm', atLeast: exact(-200000), atMost: exact(200000) },
  scaleLinearSpeed: { unit: 'mm/s', atLeast: exact(-1000000), atMost: exact(1000000) },
  scaleTorque: { unit: '%', atLeast: exact(-500), atMost: exact(500) },
  anySignal: { unit: '', atLeast: exact(-100), atMost: exact(100) },
  anyTime: { unit: 's', atLeast: exact(-(10n ** 6n)), atMost: exact(10n ** 6n) },
  anyValue: { unit: '', atLeast: exact(-(10n ** 7n)), atMost: exact(10n ** 7n) },
  anySpeed: { unit: '{u}/s', atLeast: exact(-(10n ** 7n)), atMost: exact(10n ** 7n) },
  creep: { unit: 'rpm', atLeast: exact(-1000), atMost: exact(1000) },
  linearCreep: { unit: 'mm/s', atLeast: exact(-1000), atMost: exact(1000) },
  trimStep: upTo('', exact(10)),
  signalDeadband: notNegative('', exact(10)),
  loopPeriod: upTo('s', exact(1)),
  potResistance: upTo('Ω', exact(10n ** 7n)),
  deadEnd: { unit: '%', atLeast: exact(0), atMost: exact(20) },
  referenceVoltage: upTo('V', exact(24)),
  rawFullScale: count(2, 4294967296),
  outputPulses: count(1, 100000000),
  storedMoves: count(1, 256),
  turns: { unit: 'rev', atLeast: exact(-10000), atMost: exact(10000) },
  countedCounts: { unit: '', whole: true, atLeast: exact(-(2n ** 62n)), atMost: exact(2n ** 62n) },
  travelCorrection: { unit: '', atLeast: exact(9, 10), atMost: exact(11, 10) },
  power: upTo('W', exact(10n ** 7n)),
  powerOrNone: notNegative('W', exact(100000)),
  hertz: upTo('Hz', exact(4000)),
  hertzOrNone: notNegative('Hz', exact(4000)),
  plateVolts: upTo('V', exact(2000)),
  poles: count(2, 48),
  overload: { unit: '', atLeast: exact(1), atMost: exact(5) },
  minutes: notNegative('min', exact(120)),
  rampTime: upTo('s', exact(3600)),
  runTime: upTo('s', exact(600)),
  beltRatio: { unit: '', atLeast: exact(1, 100), atMost: exact(100) },
  rimSpeed: upTo('m/s', exact(500)),
  toolSpeed: notNegative('rpm', exact(200000)),
  register: { unit: '', whole: true, atLeast: exact(0), atMost: exact(65535) },
  registerCount: count(1, 123),
  baud: { unit: '', whole: true, atLeast: exact(300), atMost: exact(4000000) },
  busAddress: count(1, 247),
  tcpPort: count(1, 65535),
  serialAddress: count(1, 247),
  unitAddress: { unit: '', whole: true, atLeast: exact(0), atMost: exact(255) },
  steps: count(2, 4294967296),
  countValue: upTo('', exact(1000)),
  fullScale: count(2, 4294967295),
  spindleSignal: notNegative('', exact(10n ** 7n)),
  signalHertz: notNegative('Hz', exact(4000)),
  speedCorrection: { unit: '', atLeast: exact(8, 10), atMost: exact(12, 10) },
  dwell: notNegative('s', exact(3600)),
  repeats: count(1, 1000),
  countOrNone: { unit: '', whole: true, atLeast: exact(0), atMost: exact(10n ** 9n) },
  resonance: upTo('Hz', exact(5000)),
  indexPulse: count(1, 100),
  /** Motor turns that an absolute encoder tells apart, and the one that it reads at home. */
  encoderTurns: count(1, 2 ** 31),
  turnsRead: { unit: '', atLeast: exact(-(2n ** 31n)), atMost: exact(2n ** 31n) },
} as const satisfies Readonly<Record<string, Rule>>;

export type RuleName = keyof typeof rules;

const bareUnits: ReadonlySet<string> = new Set(['%', '1/s', '1/s²', 'dB']);

/** The rule of a field for an axis in that unit. Percent, dB, 1/s and 1/s² have no place among units, so their fields take bare numbers. */
export function ruleFor(name: RuleName, axisUnit: AxisUnit): QuantityRule & { readonly shownUnit: string } {
  const rule: Rule = rules[name];
  const shownUnit = rule.unit.replace('{u}', axisUnit);
  return { ...rule, unit: bareUnits.has(shownUnit) ? '' : shownUnit, shownUnit };
}
