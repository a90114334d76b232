import { commandedState, statusBit, statusBits, type DeviceState } from '@kavrid/core/drive';
import {
  spindleAtRest,
  spindleCoefficients,
  stepSpindle,
  type SpindleCoefficients,
  type SpindleDefinition,
  type SpindleState,
  type SpindleTrip,
} from '@kavrid/core/plant';
import { ParameterStore, type StoredCopy } from './parameterStore.ts';
import type { DeviceParameter } from './registerMap.ts';
import { TraceMemory } from './traceMemory.ts';

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

export const spindleStepRate = 2000;
const dt = 1 / spindleStepRate;
/** What its output holds and trips at, over the current it gives for a minute; at speed within so many Hz. */
const tripShare = 4 / 3;
const atSpeedBand = 0.5;
const ways = { ramp: 0, coast: 1 } as const;
const lossWays = { goesOn: 0, ramps: 1, coasts: 2 } as const;

/** A variable-frequency drive with its spindle. Time passes only by {@link advance}; nothing here knows of registers or sockets. */
export class SpindleDevice {
  readonly parameters: ParameterStore;
  readonly trace = new TraceMemory();
  readonly #world: SpindleWorld;
  readonly #spindle: SpindleState;
  #coefficients: SpindleCoefficients;
  #state: DeviceState = 'switch on disabled';
  #control = 0;
  #reference = 0;
  #isReverse = false;
  /** The direction that the output has now. */
  #turnsReverse = false;
  /** What is done when it stands. */
  #afterRamp: DeviceState | undefined;
  #sinceRequest = 0;
  #restartIn = 0;
  #step = 0;
  error: number = spindleError.none;
  /** N·m put on the tool from outside, at the motor. */
  load = 0;
  /** Steps of the trace period. */
  traceSteps = 40;

  constructor(parameters: readonly DeviceParameter[], world: SpindleWorld, kept?: StoredCopy) {
    this.#world = world;
    this.parameters = new ParameterStore(parameters, kept);
    this.#coefficients = this.#coefficientsNow();
    this.#spindle = spindleAtRest(this.#coefficients.definition);
  }

  get restarting(): boolean {
    return this.#restartIn > 0;
  }
  get state(): DeviceState {
    return this.#state;
  }
  /** Whether its output is live or its spindle is on a ramp. */
  get isRunning(): boolean {
    return this.#state === 'operation enabled' || this.#state === 'quick stop active' || this.#afterRamp !== undefined;
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
  get current(): number {
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
    return this.#state === 'operation enabled' && hertz > 0 && Math.abs(hertz - this.#target) < atSpeedBand;
  }
  get statusword(): number {
    return statusBits(this.#state) | 0x0200 | (this.isAtSpeed ? statusBit.targetReached : 0);
  }

  /** Hz that the reference means, within the limits that are set. */
  get #target(): number {
    if (this.#state !== 'operation enabled') return 0;
    if (this.parameters.value('speedSource') !== 3) return 0;
    // Before it turns the other way it has to stand.
    if (this.#isReverse !== this.#turnsReverse) return 0;
    const hertz = this.#reference / 100;
    const lowest = hertz > 0 ? this.parameters.value('lowestHertz') : 0;
    return Math.min(Math.max(hertz, lowest), this.parameters.value('highestHertz'));
  }

  #coefficientsNow(): SpindleCoefficients {
    const value = (key: string) => this.parameters.value(key);
    const { driveCurrent, resistor, ...world } = this.#world;
    const base = { hertz: value('baseHertz'), volts: value('baseVolts') };
    const point = { hertz: value('point1Hertz'), volts: value('point1Volts') };
    return spindleCoefficients({
      ...world,
      stepRate: spindleStepRate,
      resistor: value('brakeResistor') === 1 ? resistor : undefined,
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
    if (this.#state === 'operation enabled') this.trace.mark();
  }

  /** The controlword of CiA 402; bit 11 turns it the other way round. */
  control(word: number): void {
    const before = this.#control;
    this.#control = word;
    this.#isReverse = (word & 0x0800) !== 0;
    const now = this.#state;
    const mayRun = this.parameters.value('runSource') === 2;
    const next = commandedState(now, word, before, mayRun);
    if (next === now) return;
    if (now === 'fault') {
      this.error = spindleError.none;
      this.#spindle.heat = 0;
      this.#spindle.trip = undefined;
      this.#state = next;
      return;
    }
    if (now !== 'operation enabled' || next === 'switch on disabled') return this.#go(next);
    // Running: it stops the way that is set, and a quick stop always on the ramp.
    if (next === 'quick stop active') return this.#ramp(next, 'switch on disabled');
    if (this.parameters.value('stopWay') === ways.coast) return this.#go(next);
    this.#ramp(next, next);
  }

  #go(state: DeviceState): void {
    this.#state = state;
    this.#afterRamp = undefined;
    if (state !== 'operation enabled') return;
    this.#sinceRequest = 0;
    this.#turnsReverse = this.#isReverse;
    this.trace.mark();
  }

  #ramp(meanwhile: DeviceState, afterwards: DeviceState): void {
    this.#state = meanwhile;
    this.#afterRamp = afterwards;
  }

  /** @returns false while running. */
  restart(): boolean {
    if (this.isRunning) return false;
    this.#restartIn = 0.8;
    return true;
  }

  advance(seconds: number): void {
    if (this.#restartIn > 0) {
      this.#restartIn -= seconds;
      if (this.#restartIn <= 0) this.#finishRestart();
      return;
    }
    for (let steps = Math.round(seconds * spindleStepRate); steps > 0; steps--) this.#stepOnce();
  }

  #finishRestart(): void {
    this.#restartIn = 0;
    this.parameters.restart();
    this.parametersChanged();
    this.#state = 'switch on disabled';
    this.error = spindleError.none;
    this.#spindle.trip = undefined;
  }

  #stepOnce(): void {
    this.#step++;
    this.#watchLink();
    const s = this.#spindle;
    s.target = this.#target;
    s.load = this.load;
    s.isCoasting = !this.isRunning;
    stepSpindle(this.#coefficients, s);
    if (s.trip !== undefined && this.#state !== 'fault') this.#fault(tripError[s.trip]);
    if (s.hertz === 0) {
      if (this.#state === 'operation enabled') this.#turnsReverse = this.#isReverse;
      else if (this.#afterRamp !== undefined) this.#go(this.#afterRamp);
    }
    if (this.trace.running && this.#step % this.traceSteps === 0) this.#recordSample();
  }

  #fault(code: number): void {
    this.error = code;
    this.#state = 'fault';
    this.#afterRamp = undefined;
  }

  #watchLink(): void {
    if (this.#state !== 'operation enabled') return;
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

  #recordSample(): void {
    this.trace.record([
      this.outputHertz,
      this.speed,
      this.current,
      this.torque,
      this.busVolts,
      Math.round(this.#target * 100),
      this.error,
      this.statusword,
    ]);
  }
}
