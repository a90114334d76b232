import { moveSample, planMove, sampleMove, type MoveProfile } from '@kavrid/core/motion';
import { ParameterStore } from '../devices/parameterStore.ts';
import type { DeviceState } from '@kavrid/core/drive';
import { countedForms, type PulseInput } from '../devices/pulseInput.ts';
import {
  keptCells,
  RegisterCells,
  type BenchDevice,
  type DeviceMemory,
  type PlainCell,
} from '../devices/registerCells.ts';
import { readRegisterMap } from '../devices/registerMap.ts';
import { DigitalInputs } from '../devices/digitalInputs.ts';
import { Wiring, type Wire } from '../world/wiring.ts';
import { TraceMemory } from '../devices/traceMemory.ts';
import { PulseLine } from '../world/pulseLine.ts';
import { PulseOutput } from './pulseOutput.ts';

export const hostMapPath = new URL('./host.csv', import.meta.url);

const stepRate = 8000;
const dt = 1 / stepRate;
const sample = moveSample();

/** How the host's inputs are wired where nobody has changed it: the same limit switches, and a contact that opens on alarm. */
export const hostWires: readonly Wire[] = [
  { terminal: 'minus limit', source: 'minus limit switch' },
  { terminal: 'plus limit', source: 'plus limit switch' },
  { terminal: 'alarm', source: 'drive: no alarm' },
];

/** Steps between two looks at its inputs: 1 ms. */
const scanSteps = 8;

/** A drive as its host knows it: a pulse input and terminals. */
export interface HostedDrive {
  readonly pulses: PulseInput;
  readonly state: DeviceState;
  readonly restarting: boolean;
  readonly terminals: { readonly outputs: Map<string, boolean>; drives(source: string): boolean };
}

/** What the host is sending. */
type Motion =
  | { readonly kind: 'move'; readonly profile: MoveProfile; readonly from: number; readonly to: number; time: number }
  | { readonly kind: 'jog'; readonly speed: number }
  | { readonly kind: 'burst'; readonly rate: number; left: number };

/**
 * A small machine controller with one axis: it has steps per unit, speeds and accelerations of its own, sends pulses, and switches
 * servo on. It knows nothing of the drive but what comes back over wires.
 */
export class Host implements BenchDevice {
  readonly parameters: ParameterStore;
  readonly trace = new TraceMemory();
  readonly restarting = false;
  readonly line = new PulseLine();
  readonly wiring: Wiring;
  readonly inputs: DigitalInputs;
  readonly #drive: HostedDrive;
  readonly #output = new PulseOutput();
  #motion: Motion | undefined;
  #burstRate = 1000;
  /** Where it believes the axis to be: steps, and the part of a step that is still owed. */
  #position = 0;
  #exact = 0;
  #speed = 0;
  #isRateLimited = false;
  #step = 0;
  /** Its command at the last look at the inputs. */
  #scanned = 0;

  constructor(drive: HostedDrive, { kept }: DeviceMemory) {
    this.parameters = new ParameterStore(readRegisterMap(hostMapPath).parameters, kept);
    this.#drive = drive;
    this.wiring = new Wiring(hostWires, (source) => this.#arrives(source));
    // Normally closed throughout: active while no current flows.
    const polarity = () => -1 as const;
    this.inputs = new DigitalInputs(hostWires.map(({ terminal }) => ({ name: terminal, polarity })));
  }

  /** The drive opens its alarm contact when it trips, and without power. */
  #arrives(source: string): boolean {
    if (source === 'drive: no alarm') return this.#drive.state !== 'fault' && !this.#drive.restarting;
    return this.#drive.terminals.drives(source);
  }

  get isRunning(): boolean {
    return this.#motion !== undefined;
  }
  /** Steps that it has sent, plus less minus, by its own idea of plus. */
  get position(): number {
    return this.#position;
  }
  get sent(): number {
    return this.#output.sent;
  }
  get isRateLimited(): boolean {
    return this.#isRateLimited;
  }
  get #stepsPerUnit(): number {
    return this.parameters.value('stepsPerUnit');
  }
  /** Steps/s that its output can send at most, of a speed that is wanted. */
  #possible(steps: number): number {
    const most = this.parameters.value('maximumRate');
    this.#isRateLimited = Math.abs(steps) > most;
    return Math.sign(steps) * Math.min(Math.abs(steps), most);
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

  /** @returns false while it moves, or without a speed. */
  moveTo(units: number): boolean {
    const speed = this.#possible(this.parameters.value('speed') * this.#stepsPerUnit);
    const acceleration = this.parameters.value('acceleration') * this.#stepsPerUnit;
    if (this.isRunning || !(speed > 0 && acceleration > 0)) return false;
    const to = Math.round(units * this.#stepsPerUnit);
    const profile = planMove(to - this.#position, { speed, acceleration, jerk: undefined });
    this.#motion = { kind: 'move', profile, from: this.#position, to, time: 0 };
    return true;
  }

  moveBy(units: number): boolean {
    return this.moveTo(this.#position / this.#stepsPerUnit + units);
  }

  /** @param units a second; 0 slows down to rest */
  jog(units: number): boolean {
    if (this.#motion && this.#motion.kind !== 'jog') return units === 0 && this.stop();
    this.#motion = { kind: 'jog', speed: this.#possible(units * this.#stepsPerUnit) };
    return true;
  }

  /** Sends so many pulses at one rate, without ramps. */
  burst(increments: number): boolean {
    if (this.isRunning || increments === 0) return false;
    this.#motion = { kind: 'burst', rate: Math.abs(this.#possible(this.#burstRate)), left: increments };
    return true;
  }

  /** Ends what it sends: a jog by its ramp, all else at once. */
  stop(): boolean {
    this.#motion = this.#motion?.kind === 'jog' ? { kind: 'jog', speed: 0 } : undefined;
    if (!this.#motion) this.#speed = 0;
    return true;
  }

  advance(seconds: number): void {
    for (let steps = Math.round(seconds * stepRate); steps > 0; steps--) this.#stepOnce();
  }

  /** What its inputs end: everything on alarm, and motion into a limit. */
  #heedInputs(): void {
    this.inputs.scan((terminal) => this.wiring.level(terminal));
    const way = this.#exact - this.#scanned;
    this.#scanned = this.#exact;
    const isEnded =
      this.inputs.isActive('alarm') ||
      (way < 0 && this.inputs.isActive('minus limit')) ||
      (way > 0 && this.inputs.isActive('plus limit'));
    if (!isEnded || !this.#motion) return;
    this.#motion = undefined;
    this.#speed = 0;
  }

  #stepOnce(): void {
    if (++this.#step % scanSteps === 0) this.#heedInputs();
    this.#exact = this.#next();
    const whole = Math.round(this.#exact);
    const increments = whole - this.#position;
    this.#position = whole;
    const form = countedForms[this.parameters.value('pulseForm')] ?? 'step and direction';
    const sense = this.parameters.value('directionInverted') === 1 ? -1 : 1;
    this.#drive.pulses.arrive(this.line.carry(this.#output.send(form, sense * increments)));
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
        const change = this.parameters.value('acceleration') * this.#stepsPerUnit * dt;
        const missing = motion.speed - this.#speed;
        this.#speed = Math.abs(missing) <= change ? motion.speed : this.#speed + Math.sign(missing) * change;
        if (this.#speed === 0 && motion.speed === 0) this.#motion = undefined;
        return this.#exact + this.#speed * dt;
      }
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

  cells(): Readonly<Record<string, PlainCell>> {
    const kept = keptCells();
    const output = (key: string, source: string) =>
      kept(key, (value) => {
        if (value !== 0 && value !== 1) return false;
        this.#drive.terminals.outputs.set(source, value === 1);
        return true;
      });
    return {
      servoOn: output('servoOn', 'controller: servo on'),
      alarmReset: output('alarmReset', 'controller: alarm reset'),
      moveBy: kept('moveBy', (thousandths) => this.moveBy(thousandths / 1000)),
      moveTo: kept('moveTo', (thousandths) => this.moveTo(thousandths / 1000)),
      jog: kept('jog', (thousandths) => this.jog(thousandths / 1000)),
      burst: kept('burst', (increments) => this.burst(increments)),
      burstRate: kept('burstRate', (rate) => (rate > 0 ? void (this.#burstRate = rate) : false)),
      stop: kept('stop', (value) => value === 1 && this.stop()),
      hostPosition: { read: () => this.position },
      incrementsSent: { read: () => this.sent },
      moving: { read: () => (this.isRunning ? 1 : 0) },
      inputStates: { read: () => this.inputs.active },
      rateLimited: { read: () => (this.isRateLimited ? 1 : 0) },
    };
  }
}

/** The host behind its registers, wired to the pulse input of a drive. */
export const makeHost = (drive: HostedDrive, memory: DeviceMemory = {}): RegisterCells<Host> =>
  new RegisterCells({
    device: new Host(drive, memory),
    map: readRegisterMap(hostMapPath),
    memory,
    identity: { kind: 0x4801, firmware: 0x00010000 },
  });
