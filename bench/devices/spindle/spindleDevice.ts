import { statusBit, statusBits, type DeviceState } from '@kavrid/core/drive';
import {
  spindleAtRest,
  spindleCoefficients,
  stepSpindle,
  type SpindleCoefficients,
  type SpindleDefinition,
  type SpindleState,
  type SpindleTrip,
} from '@kavrid/core/plant';
import { Cia402Drive } from '../cia402Drive.ts';
import { keptCells, RegisterCells, type DeviceMemory, type PlainCell } from '../registerCells.ts';
import { mapPath, readRegisterMap } from '../registerMap.ts';

/** Motor, supply and mechanics that the simulated drive is connected to; what no parameter can change. */
export type SpindleWorld = Omit<
  SpindleDefinition,
  'stepRate' | 'curve' | 'rampUp' | 'rampDown' | 'holdCurrent' | 'protectionCurrent' | 'tripCurrent'
> & {
  /** A that the drive gives for a minute, and at which it trips */
  readonly driveCurrent: number;
};

/** Error codes, object 0x603F (CiA 402, from memory). */
export const spindleError = {
  none: 0,
  overcurrent: 0x2310,
  overload: 0x2311,
  overvoltage: 0x3210,
  undervoltage: 0x3220,
  linkLost: 0x8130,
} as const;
const tripError: Readonly<Record<SpindleTrip, number>> = {
  overcurrent: spindleError.overcurrent,
  overload: spindleError.overload,
  overvoltage: spindleError.overvoltage,
  undervoltage: spindleError.undervoltage,
};

/** What can be wrong with its wires: the mains are low, the brake resistor is not connected. */
export type SpindleTrouble = 'supply' | 'resistor';

export const spindleStepRate = 2000;
const dt = 1 / spindleStepRate;
/** What its output holds and trips at, over the current it gives for a minute; at speed within so many Hz. */
const tripShare = 4 / 3;
const atSpeedBand = 0.5;
const ways = { ramp: 0, coast: 1 } as const;
const lossWays = { goesOn: 0, ramps: 1, coasts: 2 } as const;

/** Parameters that a running motor forbids to change. */
const lockedWhileRunning: ReadonlySet<string> = new Set(['runSource', 'speedSource', 'baseHertz', 'baseVolts']);

/** A variable-frequency drive with its spindle. */
export class SpindleDevice extends Cia402Drive {
  readonly #world: SpindleWorld;
  readonly #spindle: SpindleState;
  #coefficients: SpindleCoefficients;
  #reference = 0;
  #isReverse = false;
  /** The direction that the output has now. */
  #turnsReverse = false;
  /** The state it goes to when the ramp has reached zero speed. */
  #afterRamp: DeviceState | undefined;
  #sinceRequest = 0;
  /** N·m put on the tool from outside, at the motor. */
  load = 0;
  readonly #trouble = new Set<SpindleTrouble>();

  constructor(world: SpindleWorld, { kept }: DeviceMemory) {
    super(readRegisterMap(mapPath('spindle')).parameters, kept, { stepRate: spindleStepRate, traceSteps: 40 });
    this.#world = world;
    this.#coefficients = this.#coefficientsNow();
    this.#spindle = spindleAtRest(this.#coefficients.definition);
  }

  /** Whether its output is live or its spindle is on a ramp. */
  get isRunning(): boolean {
    return (
      this.current === 'operation enabled' || this.current === 'quick stop active' || this.#afterRamp !== undefined
    );
  }
  get #sign(): number {
    return this.#turnsReverse ? -1 : 1;
  }
  /** 0.01 Hz of the output, signed by its direction */
  get outputHertz(): number {
    return Math.round(this.#sign * this.#spindle.hertz * 100);
  }
  /** 0.1 rpm of the motor */
  get speed(): number {
    return Math.round(((this.#sign * this.#spindle.speed * 30) / Math.PI) * 10);
  }
  /** 0.01 A */
  get motorCurrent(): number {
    return Math.round(this.#spindle.current * 100);
  }
  /** 0.01 N·m of the motor */
  get torque(): number {
    return Math.round(this.#spindle.torque * 100);
  }
  /** 0.1 V */
  get busVolts(): number {
    return Math.round(this.#spindle.bus * 10);
  }
  get isAtSpeed(): boolean {
    const { hertz } = this.#spindle;
    return this.current === 'operation enabled' && hertz > 0 && Math.abs(hertz - this.#target) < atSpeedBand;
  }
  /** Fault relay, running, at speed. */
  get #outputs(): number {
    const isFault = this.current === 'fault' || this.current === 'fault reaction active';
    const isRunning = this.current === 'operation enabled' || this.current === 'quick stop active';
    return (isFault ? 0 : 1) | (isRunning ? 2 : 0) | (this.isAtSpeed ? 4 : 0);
  }

  get statusword(): number {
    return statusBits(this.current) | 0x0200 | (this.isAtSpeed ? statusBit.targetReached : 0);
  }

  /** Hz that the reference means, within the limits that are set. */
  get #target(): number {
    if (this.current !== 'operation enabled') return 0;
    if (this.parameters.value('speedSource') !== 3) return 0;
    // Before it turns the other way it has to stand.
    if (this.#isReverse !== this.#turnsReverse) return 0;
    const hertz = this.#reference / 100;
    const lowest = hertz > 0 ? this.parameters.value('lowestHertz') : 0;
    return Math.min(Math.max(hertz, lowest), this.parameters.value('highestHertz'));
  }

  trouble(what: SpindleTrouble, isThere: boolean): void {
    if (isThere) this.#trouble.add(what);
    else this.#trouble.delete(what);
    this.parametersChanged();
  }

  #coefficientsNow(): SpindleCoefficients {
    const value = (key: string) => this.parameters.value(key);
    const { driveCurrent, resistor, ...world } = this.#world;
    const base = { hertz: value('baseHertz'), volts: value('baseVolts') };
    const point = { hertz: value('point1Hertz'), volts: value('point1Volts') };
    return spindleCoefficients({
      ...world,
      supplyVolts: world.supplyVolts * (this.#trouble.has('supply') ? 0.6 : 1),
      stepRate: spindleStepRate,
      resistor: value('brakeResistor') === 1 && !this.#trouble.has('resistor') ? resistor : undefined,
      curve: {
        base,
        boost: value('boost'),
        points: point.hertz > 0 && point.hertz < base.hertz ? [point] : [],
        highestHertz: value('highestHertz'),
      },
      rampUp: value('rampUp'),
      rampDown: value('rampDown'),
      holdCurrent: driveCurrent,
      protectionCurrent: value('protectionCurrent'),
      tripCurrent: tripShare * driveCurrent,
    });
  }

  parametersChanged(): void {
    this.#coefficients = this.#coefficientsNow();
  }

  /** Any message that was understood: the link lives. */
  heard(): void {
    this.#sinceRequest = 0;
  }

  /** @param reference 0.01 Hz */
  setReference(reference: number): void {
    this.#reference = reference;
    if (this.current === 'operation enabled') this.trace.mark();
  }

  mayWrite(key: string): boolean {
    return !this.isRunning || !lockedWhileRunning.has(key);
  }

  protected get mayRun(): boolean {
    return this.parameters.value('runSource') === 2;
  }

  /** Bit 11 reverses the direction of rotation. */
  protected override wordArrived(word: number): void {
    this.#isReverse = (word & 0x0800) !== 0;
  }

  protected commanded(): void {
    // Its controlword has no bits of a mode.
  }

  protected clearFault(): void {
    this.#spindle.heat = 0;
    this.#spindle.trip = undefined;
  }

  protected goTo(next: DeviceState): void {
    if (this.current !== 'operation enabled' || next === 'switch on disabled') return this.#go(next);
    // Running: it stops the way that is set, and a quick stop always on the ramp.
    if (next === 'quick stop active') return this.#ramp(next, 'switch on disabled');
    if (this.parameters.value('stopWay') === ways.coast) return this.#go(next);
    this.#ramp(next, next);
  }

  #go(state: DeviceState): void {
    this.current = state;
    this.#afterRamp = undefined;
    if (state !== 'operation enabled') return;
    this.#sinceRequest = 0;
    this.#turnsReverse = this.#isReverse;
    this.trace.mark();
  }

  #ramp(duringRamp: DeviceState, afterRamp: DeviceState): void {
    this.current = duringRamp;
    this.#afterRamp = afterRamp;
  }

  protected restarted(): void {
    this.#spindle.trip = undefined;
  }

  protected step(): void {
    this.#watchLink();
    const s = this.#spindle;
    s.target = this.#target;
    s.load = this.load;
    s.isCoasting = !this.isRunning;
    stepSpindle(this.#coefficients, s);
    if (s.trip !== undefined && this.current !== 'fault') this.#fault(tripError[s.trip]);
    if (s.hertz === 0) {
      if (this.current === 'operation enabled') this.#turnsReverse = this.#isReverse;
      else if (this.#afterRamp !== undefined) this.#go(this.#afterRamp);
    }
  }

  #fault(code: number): void {
    this.error = code;
    this.current = 'fault';
    this.#afterRamp = undefined;
  }

  #watchLink(): void {
    if (this.current !== 'operation enabled') return;
    this.#sinceRequest += dt;
    const patience = this.parameters.value('busTimeOut');
    if (patience === 0 || this.#sinceRequest <= patience) return;
    switch (this.parameters.value('lostLink')) {
      case lossWays.ramps:
        this.error = spindleError.linkLost;
        return this.#ramp('quick stop active', 'fault');
      case lossWays.coasts:
        return this.#fault(spindleError.linkLost);
    }
  }

  protected sample(): readonly number[] {
    return [
      this.outputHertz,
      this.speed,
      this.motorCurrent,
      this.torque,
      this.busVolts,
      Math.round(this.#target * 100),
      this.error,
      this.statusword,
    ];
  }

  cells(): Readonly<Record<string, PlainCell>> {
    const kept = keptCells();
    return {
      ...this.driveCells(),
      speedReference: kept('speedReference', (counts) => void this.setReference(counts)),
      modeOfOperation: kept('modeOfOperation', (mode) => mode === 2),
      benchLoad: kept('benchLoad', (hundredths) => void (this.load = hundredths / 100)),
      outputStates: { read: () => this.#outputs },
      outputHertz: { read: () => this.outputHertz },
      actualMotorSpeed: { read: () => this.speed },
      motorCurrent: { read: () => this.motorCurrent },
      motorTorque: { read: () => this.torque },
      busVolts: { read: () => this.busVolts },
    };
  }
}

/** The spindle drive behind its registers. */
export const makeSpindle = (world: SpindleWorld, memory: DeviceMemory = {}): RegisterCells<SpindleDevice> =>
  new RegisterCells({
    device: new SpindleDevice(world, memory),
    map: readRegisterMap(mapPath('spindle')),
    memory,
    identity: { kind: 0x5601, firmware: 0x00010002 },
  });
