import type { DeviceState } from '@kavrid/core/drive';
import {
  homingMethodFacts,
  startHoming,
  stepHoming,
  type HomingDefinition,
  type HomingInputs,
  type HomingMethodFacts,
  type HomingState,
} from '@kavrid/core/homing';
import { moveSample, planMove, sampleMove, type MoveProfile } from '@kavrid/core/motion';
import { DigitalInputs } from '../devices/digitalInputs.ts';
import { homingMethodOf } from '../devices/homingNumbers.ts';
import { ParameterStore } from '../devices/parameterStore.ts';
import type { PulseInput } from '../devices/pulseInput.ts';
import { keptCells, type BenchDevice, type DeviceMemory, type PlainCell } from '../devices/registerCells.ts';
import { readRegisterMap } from '../devices/registerMap.ts';
import { TraceMemory } from '../devices/traceMemory.ts';
import { Wiring, type Wire } from '../world/wiring.ts';

const stepRate = 8000;
/** s */
export const hostStep = 1 / stepRate;
const dt = hostStep;
const sample = moveSample();

/** How the host's inputs are wired where nobody has changed it: the same switches, and a contact that opens on alarm. */
export const hostWires: readonly Wire[] = [
  { terminal: 'minus limit', source: 'minus limit switch' },
  { terminal: 'plus limit', source: 'plus limit switch' },
  { terminal: 'alarm', source: 'drive: no alarm' },
  { terminal: 'home', source: 'home switch' },
];
/** A home flag is short: its contact is normally open. All others are active while no current flows. */
const normallyOpen = 'home';

/** Steps between two looks at its inputs: 1 ms. */
export const scanSteps = 8;

/** s after which the axis stands where its command has stopped: it knows of no following error. */
const followTime = 0.1;

/** Limits of a homing; 0: none. */
const limitsOf = (travel: number, seconds: number): Pick<HomingDefinition, 'mostTravel' | 'mostSeconds'> => ({
  ...(travel > 0 ? { mostTravel: travel } : {}),
  ...(seconds > 0 ? { mostSeconds: seconds } : {}),
});

/** A drive as its host knows it: what it takes, and terminals. */
export interface HostedDrive {
  readonly pulses: PulseInput;
  readonly state: DeviceState;
  readonly restarting: boolean;
  readonly terminals: { readonly outputs: Map<string, boolean>; drives(source: string): boolean };
  /** Index pulses that have come at its encoder output; absent: it has none. */
  readonly indexPulses?: number;
}

/** What the host is doing. */
type Motion =
  | { readonly kind: 'move'; readonly profile: MoveProfile; readonly from: number; readonly to: number; time: number }
  | { readonly kind: 'jog'; readonly speed: number }
  | { readonly kind: 'burst'; readonly rate: number; left: number }
  | { readonly kind: 'home'; state: HomingState; speed: number; acceleration: number };

/**
 * A small machine controller with one axis: it has steps per unit, speeds, accelerations and a homing of its own, and switches servo
 * on. It knows nothing of the drive but what comes back over wires. How its command reaches the drive is for its kind to say.
 */
export abstract class AxisHost implements BenchDevice {
  readonly parameters: ParameterStore;
  readonly trace = new TraceMemory();
  readonly restarting = false;
  readonly wiring: Wiring;
  readonly inputs: DigitalInputs;
  /** The drives that it commands alike; the first is the one that it listens to. */
  protected readonly drives: readonly [HostedDrive, ...HostedDrive[]];
  #motion: Motion | undefined;
  #burstRate = 1000;
  /** Distance of the last move in units, and how often it is still to be made, back and forth. */
  #lastBy = 0;
  #repeats = 0;
  /** Where its command is, in steps, and the nearest whole one. */
  #exact = 0;
  #position = 0;
  #speed = 0;
  #isHomed = false;
  #step = 0;
  /** Its command at the last look at the inputs. */
  #scanned = 0;
  /** Where its command was when the last index pulse was seen. */
  #indexPosition = 0;
  #indexPulses = 0;
  /** s since a homing began, and for which its command has stood */
  #homingTime = 0;
  #restFor = 0;

  constructor(mapPath: URL, drives: readonly [HostedDrive, ...HostedDrive[]], { kept }: DeviceMemory) {
    this.parameters = new ParameterStore(readRegisterMap(mapPath).parameters, kept);
    this.drives = drives;
    this.wiring = new Wiring(hostWires, (source) => this.#arrives(source));
    this.inputs = new DigitalInputs(
      hostWires.map(({ terminal }) => ({ name: terminal, polarity: () => (terminal === normallyOpen ? 1 : -1) })),
    );
  }

  /** Steps in a unit of the axis. */
  protected abstract get stepsPerUnit(): number;
  /** Steps/s that it can command at most, of a speed that is wanted. */
  protected abstract possible(steps: number): number;
  /** Hands one step's command to the drive. @param increments whole steps; @param exact where the command is, in steps */
  protected abstract send(increments: number, exact: number): void;
  /** Its command is to read otherwise from now on. */
  protected abstract shifted(steps: number): void;
  /** Where the axis is by its own count, in steps. */
  protected abstract get counted(): number;

  /** Drives open their alarm contacts in series when they trip, and without power. */
  #arrives(source: string): boolean {
    if (source === 'drive: no alarm')
      return this.drives.every(({ state, restarting }) => state !== 'fault' && !restarting);
    return this.drives[0].terminals.drives(source);
  }

  get isRunning(): boolean {
    return this.#motion !== undefined || this.isSquaring;
  }
  /** A second side is being squared to the first. */
  protected get isSquaring(): boolean {
    return false;
  }
  /** The first side has homed. @param beyond steps that it stands beyond the latched edge @returns true where a second side follows */
  protected beginSquaring(_facts: HomingMethodFacts, _beyond: number): boolean {
    return false;
  }
  /** A look of the second side at its switch. @returns whether it is square; undefined: not yet */
  protected squareScan(): boolean | undefined {
    return undefined;
  }

  get isHomed(): boolean {
    return this.#isHomed;
  }
  /** Whole steps that it has commanded, by its own idea of plus. */
  get position(): number {
    return this.#position;
  }

  mayWrite(): boolean {
    return !this.isRunning;
  }
  parametersChanged(): void {
    // Everything is read when a motion begins.
  }
  restart(): boolean {
    return false;
  }

  #steps(key: string): number {
    return this.parameters.value(key) * this.stepsPerUnit;
  }

  /** @returns false while it moves, or without a speed. */
  moveTo(units: number): boolean {
    const speed = this.possible(this.#steps('speed'));
    const acceleration = this.#steps('acceleration');
    if (this.isRunning || !(speed > 0 && acceleration > 0)) return false;
    const to = Math.round(units * this.stepsPerUnit);
    const profile = planMove(to - this.#position, { speed, acceleration, jerk: undefined });
    this.#motion = { kind: 'move', profile, from: this.#position, to, time: 0 };
    return true;
  }

  moveBy(units: number): boolean {
    const isTaken = this.moveTo(this.#position / this.stepsPerUnit + units);
    if (isTaken) this.#lastBy = units;
    return isTaken;
  }

  /** Goes back and forth by the distance of the last move. @param times there and back @returns false while it moves, or before any move */
  repeat(times: number): boolean {
    if (this.isRunning || this.#lastBy === 0 || times < 1) return false;
    this.#repeats = 2 * times - 1;
    return this.moveBy(-this.#lastBy);
  }

  /** @param units a second; 0 slows down to rest */
  jog(units: number): boolean {
    if (this.#motion && this.#motion.kind !== 'jog') return units === 0 && this.stop();
    this.#motion = { kind: 'jog', speed: this.possible(units * this.stepsPerUnit) };
    return true;
  }

  /** Sends so many steps at one rate, without ramps. */
  burst(increments: number): boolean {
    if (this.isRunning || increments === 0) return false;
    this.#motion = { kind: 'burst', rate: Math.abs(this.possible(this.#burstRate)), left: increments };
    return true;
  }

  /** Homes by its own inputs. @returns false while it moves */
  home(): boolean {
    if (this.isRunning) return false;
    this.#isHomed = false;
    this.#homingTime = 0;
    this.#restFor = 0;
    const state = startHoming(this.#homingDefinition(), this.#homingInputs());
    this.#motion = { kind: 'home', state, speed: 0, acceleration: this.#steps('homingAcceleration') };
    return true;
  }

  /** Stops: a jog ramps down, anything else ends at once. */
  stop(): boolean {
    this.#repeats = 0;
    this.#motion = this.#motion?.kind === 'jog' ? { kind: 'jog', speed: 0 } : undefined;
    if (!this.#motion) this.#speed = 0;
    return true;
  }

  /** Its command is given up where it is. */
  protected giveUp(): void {
    this.#repeats = 0;
    this.#motion = undefined;
    this.#speed = 0;
  }

  /** The command goes to where the axis is, without a motion. */
  protected commandIs(steps: number): void {
    this.#exact = steps;
    this.#position = Math.round(steps);
    this.#scanned = steps;
  }

  advance(seconds: number): void {
    for (let steps = Math.round(seconds * stepRate); steps > 0; steps--) this.#stepOnce();
  }

  #homingDefinition(): HomingDefinition {
    return {
      method: homingMethodOf(this.parameters.value('homingMethod')),
      searchSpeed: this.possible(this.#steps('homingSearchSpeed')),
      creepSpeed: this.possible(this.#steps('homingCreepSpeed')),
      acceleration: this.#steps('homingAcceleration'),
      positionAtHome: 0,
      indexPulse: this.parameters.value('homingIndexPulse'),
      ...limitsOf(this.#steps('homingMostTravel'), this.parameters.value('homingTimeOut')),
    };
  }

  #homingInputs(): HomingInputs {
    return {
      minusLimit: this.inputs.isActive('minus limit'),
      plusLimit: this.inputs.isActive('plus limit'),
      homeSwitch: this.inputs.isActive('home'),
      position: this.counted,
      standsStill: this.#restFor >= followTime,
      indexPulses: this.#indexPulses,
      indexPosition: this.#indexPosition,
      // It does not know the torque of its drive.
      isBlocked: false,
      seconds: this.#homingTime,
    };
  }

  /** What its inputs end: everything on alarm, and motion into a limit; a homing looks for them. */
  #heedInputs(): void {
    this.inputs.scan((terminal) => this.wiring.level(terminal));
    const way = this.#exact - this.#scanned;
    this.#scanned = this.#exact;
    if (this.isSquaring) this.#isHomed = this.squareScan() ?? false;
    if (!this.#motion) return;
    if (this.inputs.isActive('alarm')) return this.giveUp();
    if (this.#motion.kind === 'home') return this.#heedHoming(this.#motion);
    const isAtLimit =
      (way < 0 && this.inputs.isActive('minus limit')) || (way > 0 && this.inputs.isActive('plus limit'));
    if (isAtLimit) this.giveUp();
  }

  #heedHoming(motion: Extract<Motion, { kind: 'home' }>): void {
    this.#homingTime += scanSteps * dt;
    this.#restFor = this.#speed === 0 ? this.#restFor + scanSteps * dt : 0;
    const { state, speed } = stepHoming(this.#homingDefinition(), motion.state, this.#homingInputs());
    motion.state = state;
    motion.speed = speed;
    if (state.phase === 'failed') return this.giveUp();
    if (state.phase !== 'done' || state.latched === undefined) return;
    this.giveUp();
    const shift = this.#steps('positionAtHome') - state.latched;
    this.commandIs(this.#exact + shift);
    this.shifted(shift);
    this.#isHomed = !this.beginSquaring(
      homingMethodFacts(this.#homingDefinition().method),
      this.#exact - this.#steps('positionAtHome'),
    );
  }

  #stepOnce(): void {
    const isScan = ++this.#step % scanSteps === 0;
    const index = this.drives[0].indexPulses ?? 0;
    if (index !== this.#indexPulses) this.#indexPosition = this.counted;
    this.#indexPulses = index;
    if (isScan) this.#heedInputs();
    this.#exact = this.#next();
    const whole = Math.round(this.#exact);
    const increments = whole - this.#position;
    this.#position = whole;
    this.send(increments, this.#exact);
    if (this.#motion || this.#repeats === 0) return;
    this.#repeats--;
    this.moveBy(-this.#lastBy);
  }

  /** Steps/s after one step towards a speed. */
  #towards(speed: number, acceleration: number): number {
    const missing = speed - this.#speed;
    const change = acceleration * dt;
    this.#speed = Math.abs(missing) <= change ? speed : this.#speed + Math.sign(missing) * change;
    return this.#speed;
  }

  /** Where the command is after this step, in steps. */
  #next(): number {
    const motion = this.#motion;
    if (!motion) return this.#position;
    switch (motion.kind) {
      case 'move': {
        motion.time += dt;
        sampleMove(motion.profile, motion.time, sample);
        if (motion.time < motion.profile.duration) return motion.from + sample.position;
        this.#motion = undefined;
        return motion.to;
      }
      case 'jog': {
        const speed = this.#towards(motion.speed, this.#steps('acceleration'));
        if (speed === 0 && motion.speed === 0) this.#motion = undefined;
        return this.#exact + speed * dt;
      }
      case 'home':
        return this.#exact + this.#towards(motion.speed, motion.acceleration) * dt;
      case 'burst': {
        const part = Math.min(Math.abs(motion.left), motion.rate * dt);
        const step = Math.sign(motion.left) * part;
        motion.left -= step;
        if (Math.abs(motion.left) < 1e-9) {
          this.#motion = undefined;
          return Math.round(this.#exact + step);
        }
        return this.#exact + step;
      }
    }
  }

  abstract cells(): Readonly<Record<string, PlainCell>>;

  /** Registers that every host has. */
  protected hostCells(): Readonly<Record<string, PlainCell>> {
    const kept = keptCells();
    const output = (source: string): PlainCell => ({
      read: () => (this.drives[0].terminals.outputs.get(source) ? 1 : 0),
      write: (value) => {
        if (value !== 0 && value !== 1) return false;
        for (const { terminals } of this.drives) terminals.outputs.set(source, value === 1);
        return true;
      },
    });
    return {
      servoOn: output('controller: servo on'),
      alarmReset: output('controller: alarm reset'),
      moveBy: kept('moveBy', (thousandths) => this.moveBy(thousandths / 1000)),
      moveTo: kept('moveTo', (thousandths) => this.moveTo(thousandths / 1000)),
      jog: kept('jog', (thousandths) => this.jog(thousandths / 1000)),
      burst: kept('burst', (increments) => this.burst(increments)),
      burstRate: kept('burstRate', (rate) => (rate > 0 ? void (this.#burstRate = rate) : false)),
      home: kept('home', (value) => value === 1 && this.home()),
      repeat: kept('repeat', (times) => this.repeat(times)),
      stop: kept('stop', (value) => value === 1 && this.stop()),
      hostPosition: { read: () => this.position },
      moving: { read: () => (this.isRunning ? 1 : 0) },
      homed: { read: () => (this.isHomed ? 1 : 0) },
      inputLevels: { read: () => this.inputs.levels },
      inputStates: { read: () => this.inputs.active },
    };
  }
}
