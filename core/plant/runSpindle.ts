import { voltsAt, type VoltsPerHertz } from '../spindle/index.ts';

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

/** What happens during a run test. */
export type SpindleEvent =
  | { readonly at: number; readonly kind: 'speed'; readonly hertz: number }
  | { readonly at: number; readonly kind: 'load'; readonly torque: number }
  | { readonly at: number; readonly kind: 'supply'; readonly isOn: boolean };

export type SpindleTrip = 'overcurrent' | 'overvoltage' | 'undervoltage';

export interface SpindleRecording {
  /** s */
  readonly period: number;
  readonly hertz: Float64Array;
  /** rpm of the motor */
  readonly speed: Float64Array;
  readonly current: Float64Array;
  readonly torque: Float64Array;
  readonly busVolts: Float64Array;
}

/** J since the start; what comes in is what is stored, done and lost. */
export interface SpindleLedger {
  readonly fromSupply: number;
  readonly kinetic: number;
  readonly capacitors: number;
  readonly loadWork: number;
  readonly rotorHeat: number;
  readonly statorHeat: number;
  readonly idle: number;
  readonly resistor: number;
}

export interface SpindleRun {
  readonly recording: SpindleRecording;
  readonly trip: { readonly kind: SpindleTrip; readonly at: number } | undefined;
  readonly ledger: SpindleLedger;
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
  'inertia',
  'rampUp',
  'rampDown',
  'capacitance',
  'supplyVolts',
] as const;

/** Flux over rated flux at which iron is full, and how steeply the magnetising current rises beyond (common practice). */
const fullIron = 1.25;
const overflow = 12;

/**
 * Runs a spindle through its events, in order of their times. Torque by Kloss’ formula over the slip frequency, scaled by the
 * square of the flux; current from magnetising and rotor current at right angles. A trip lets the spindle coast.
 * @throws RangeError for a value outside its range
 */
export function runSpindle(
  definition: SpindleDefinition,
  events: readonly SpindleEvent[],
  duration: number,
  recordPeriod = 0.01,
): SpindleRun {
  for (const name of positive)
    if (!(definition[name] > 0)) throw new RangeError(`The spindle needs ${name} above 0, not ${definition[name]}.`);
  const d = definition;
  const dt = 1 / d.stepRate;
  const every = Math.max(1, Math.round(recordPeriod * d.stepRate));
  const steps = Math.ceil(duration * d.stepRate);
  const size = Math.floor(steps / every) + 1;
  const recording: SpindleRecording = {
    period: every * dt,
    hertz: new Float64Array(size),
    speed: new Float64Array(size),
    current: new Float64Array(size),
    torque: new Float64Array(size),
    busVolts: new Float64Array(size),
  };
  const radPerHertz = (4 * Math.PI) / d.poles;
  // Kloss: T = 2·Tb / (f/fb + fb/f), with the breakdown slip that puts rated torque at rated slip.
  const slipHertz = d.ratedSlip * d.ratedHertz;
  const breakdownHertz = slipHertz * (d.breakdown + Math.sqrt(Math.max(0, d.breakdown ** 2 - 1)));
  const breakdownTorque = d.ratedTorque * d.breakdown;
  const rotorRated = Math.sqrt(Math.max(0, d.ratedCurrent ** 2 - d.noLoadCurrent ** 2));
  const rotorShare = slipHertz / Math.hypot(slipHertz, breakdownHertz);
  // What the magnetising current loses in the windings makes no flux; boost is there to make up for it.
  const drop = Math.sqrt(3) * d.statorResistance * d.noLoadCurrent;
  const ratedFlux = (d.ratedVolts - drop) / d.ratedHertz;
  const up = (d.curve.highestHertz / d.rampUp) * dt;
  const down = (d.curve.highestHertz / d.rampDown) * dt;
  let [hertz, target, speed, bus, load] = [0, 0, 0, d.supplyVolts, 0];
  let [current, next, supplyOn] = [0, 0, true];
  let trip: SpindleRun['trip'];
  const ledger = {
    fromSupply: 0,
    kinetic: 0,
    capacitors: 0,
    loadWork: 0,
    rotorHeat: 0,
    statorHeat: 0,
    idle: 0,
    resistor: 0,
  };
  for (let step = 0, at = 0; at < size; step++) {
    const time = step * dt;
    for (let event = events[next]; event && time >= event.at; event = events[next]) {
      if (event.kind === 'speed') target = Math.min(event.hertz, d.curve.highestHertz);
      else if (event.kind === 'load') load = event.torque;
      else supplyOn = event.isOn;
      next++;
    }
    // Ramp; where the current is too high, the drive goes back towards what the motor really does.
    if (current > d.holdCurrent) hertz = Math.max(0, hertz + (hertz > speed / radPerHertz ? -up : down));
    else hertz = target > hertz ? Math.min(target, hertz + up) : Math.max(target, hertz - down);
    const isLive = trip === undefined && hertz > 0;
    // No more volts than the bus gives.
    const volts = isLive ? Math.min(voltsAt(d.curve, hertz), bus / Math.SQRT2) : 0;
    const flux = isLive ? Math.max(0, volts - drop) / hertz / ratedFlux : 0;
    // Iron that is full carries a quarter more flux at most, and what is more becomes current, as far as the windings let it.
    const full = Math.min(flux, fullIron);
    const magnetising = Math.min(
      d.noLoadCurrent * (full + overflow * (flux - full)),
      volts / (Math.sqrt(3) * d.statorResistance),
    );
    const iron = Math.min(full, magnetising / d.noLoadCurrent);
    const slip = hertz - speed / radPerHertz;
    const torque =
      isLive && slip !== 0 ? ((2 * breakdownTorque) / (slip / breakdownHertz + breakdownHertz / slip)) * iron ** 2 : 0;
    const rotor = isLive ? (rotorRated * iron * (Math.abs(slip) / Math.hypot(slip, breakdownHertz))) / rotorShare : 0;
    current = isLive ? Math.hypot(magnetising, rotor) : 0;
    // What turns: friction holds a spindle that stands.
    const drag =
      speed > 0 ? d.friction + load + d.windage * speed ** 2 : Math.min(Math.max(0, torque), d.friction + load);
    const before = speed;
    speed = Math.max(0, before + ((torque - drag) / d.inertia) * dt);
    const mean = 0.5 * (before + speed);
    const accelerating = (d.inertia * (speed - before)) / dt;
    // At the last step to rest the drag is what stops it there.
    const realDrag = torque - accelerating;
    const shaft = torque * mean;
    const airGap = torque * hertz * radPerHertz;
    const copper = isLive ? 3 * d.statorResistance * current ** 2 : 0;
    const drawn = airGap + copper;
    // The bus: the supply fills it up to its own volts; a chopper empties it above its threshold.
    const chopped = d.resistor && bus > d.resistor.volts ? bus ** 2 / d.resistor.ohms : 0;
    const stored = 0.5 * d.capacitance * bus ** 2;
    const wanted = stored - (drawn + d.idlePower + chopped) * dt;
    const filled = 0.5 * d.capacitance * d.supplyVolts ** 2;
    const supplied = supplyOn && wanted < filled ? filled - wanted : 0;
    const left = Math.max(0, wanted + supplied);
    bus = Math.sqrt((2 * left) / d.capacitance);
    ledger.fromSupply += supplied + (left - wanted - supplied);
    ledger.capacitors += left - stored;
    ledger.kinetic += 0.5 * d.inertia * (speed ** 2 - before ** 2);
    ledger.loadWork += realDrag * mean * dt;
    ledger.rotorHeat += (airGap - shaft) * dt;
    ledger.statorHeat += copper * dt;
    ledger.idle += d.idlePower * dt;
    ledger.resistor += chopped * dt;
    if (trip === undefined) {
      const kind: SpindleTrip | undefined =
        current > d.tripCurrent
          ? 'overcurrent'
          : bus > d.tripVolts
            ? 'overvoltage'
            : bus < d.leastVolts
              ? 'undervoltage'
              : undefined;
      if (kind) trip = { kind, at: time };
    }
    if (step % every === 0) {
      recording.hertz[at] = trip ? 0 : hertz;
      recording.speed[at] = (speed * 30) / Math.PI;
      recording.current[at] = current;
      recording.torque[at] = torque;
      recording.busVolts[at] = bus;
      at++;
    }
  }
  return { recording, trip, ledger };
}
