import { statusBit, statusBits } from '@kavrid/core/drive';
import { AnalogLine } from '../../world/analogLine.ts';
import { PwmLine } from '../../world/pwmLine.ts';
import { Wiring } from '../../world/wiring.ts';
import { Cia402Drive } from '../cia402Drive.ts';
import { DigitalInputs } from '../digitalInputs.ts';
import { keptCells, RegisterCells, type DeviceMemory, type PlainCell } from '../registerCells.ts';
import { mapPath, readRegisterMap } from '../registerMap.ts';
import { scaledRaw } from '../scaledRaw.ts';

/** What a brushless motor turns, at its shaft; SI. */
export interface BrushlessWorld {
  readonly countsPerRevolution: number;
  readonly inertia: number;
  readonly coulombFriction: number;
  readonly viscousFriction: number;
  readonly ratedTorque: number;
}

const stepRate = 2000;
const dt = 1 / stepRate;
/** Steps between two looks at the inputs: 1 ms. */
const scanSteps = 2;
/** CiA 402 error code, object 0x603F: the command has gone. */
const signalLost = 0x5300;
/** V at the end of the analog input */
const fullVolts = 10;
/** rpm within which it is at speed */
const atSpeedBand = 20;
/** s in which the speed loop takes away an error that the torque allows */
const loopTime = 0.01;
const rpm = 30 / Math.PI;

/** A brushless motor on its controller: its speed follows a duty cycle or a voltage, its enable input alone switches it on. */
export class BrushlessDevice extends Cia402Drive {
  readonly line = new PwmLine();
  readonly analog = new AnalogLine();
  readonly outputs = new Map<string, boolean>();
  readonly wiring: Wiring;
  readonly world: BrushlessWorld;
  readonly #inputs: DigitalInputs;
  /** rad/s, and turns since power came */
  #speed = 0;
  #turns = 0;
  #torque = 0;
  /** Torque that the loop has learned to hold. */
  #held = 0;

  constructor(world: BrushlessWorld, { kept }: DeviceMemory) {
    super(readRegisterMap(mapPath('brushless')).parameters, kept, { stepRate, traceSteps: scanSteps });
    this.world = world;
    this.wiring = new Wiring(
      [{ terminal: 'enable', source: 'controller: enable' }],
      (source) => this.outputs.get(source) ?? false,
    );
    const polarity = () => (this.parameters.value('enableActiveLevel') === 1 ? 1 : -1) as 1 | -1;
    this.#inputs = new DigitalInputs([{ name: 'enable', polarity }]);
  }

  get isRunning(): boolean {
    return this.current === 'operation enabled';
  }
  get speedRpm(): number {
    return this.#sense * this.#speed * rpm;
  }
  /** Turns of the shaft towards plus since power came. */
  get turns(): number {
    return this.#sense * this.#turns;
  }
  get #sense(): 1 | -1 {
    return this.parameters.value('rotationSense') === 1 ? -1 : 1;
  }
  /** What the duty cycle is read as: whole steps of the full scale. */
  get pwmRaw(): number {
    return scaledRaw(this.line.duty ?? 0, this.parameters).raw;
  }
  /** rpm, within what it may turn; it turns one way only. */
  get speedCommand(): number {
    return Math.min(Math.max(this.#signalled, 0), this.parameters.value('highestSpeed'));
  }
  get #isAnalog(): boolean {
    return this.parameters.value('signalSource') === 1;
  }
  /** rpm as its signal says; nothing without a duty cycle. */
  get #signalled(): number {
    const value = (key: string) => this.parameters.value(key);
    if (this.#isAnalog) return ((this.analog.volts - value('signalOffset')) / fullVolts) * value('signalFullValue');
    return this.line.duty === undefined ? 0 : scaledRaw(this.line.duty, this.parameters).command;
  }
  get #isAtSpeed(): boolean {
    return this.isRunning && Math.abs(this.speedRpm - this.speedCommand) < atSpeedBand;
  }
  get statusword(): number {
    return statusBits(this.current) | 0x0200 | (this.#isAtSpeed ? statusBit.targetReached : 0);
  }

  parametersChanged(): void {
    // Everything is read as it is needed.
  }
  mayWrite(): boolean {
    return true;
  }
  /** The bus does not switch it on. */
  protected get mayRun(): boolean {
    return false;
  }
  protected clearFault(): void {
    this.#held = 0;
  }
  protected goTo(): void {
    // Its enable input alone switches it.
  }
  protected commanded(): void {
    // It takes no modes.
  }
  protected restarted(): void {
    this.#turns = 0;
    this.#held = 0;
  }

  protected step(step: number): void {
    if (step % scanSteps === 0) this.#heed();
    this.#move();
  }

  #heed(): void {
    this.#inputs.scan((terminal) => this.wiring.level(terminal));
    if (this.current === 'fault') return;
    const isWanted = this.#inputs.isActive('enable');
    if (isWanted !== this.isRunning) {
      this.current = isWanted ? 'operation enabled' : 'switch on disabled';
      this.#held = 0;
    }
    const isSignalLost = !this.#isAnalog && this.line.duty === undefined;
    if (!this.isRunning || !isSignalLost || this.parameters.value('signalLossTrips') !== 1) return;
    this.error = signalLost;
    this.current = 'fault';
  }

  /** A speed loop with a torque limit; friction takes away speed, and never turns it round. */
  #move(): void {
    const { inertia, coulombFriction, viscousFriction, ratedTorque, countsPerRevolution } = this.world;
    const most = (ratedTorque * this.parameters.value('torqueLimit')) / 100;
    if (this.isRunning) {
      const error = (this.#sense * this.speedCommand) / rpm - this.#speed;
      const wanted = (inertia / loopTime) * error;
      this.#held = clamp(this.#held + (wanted / loopTime) * dt * 0.25, most);
      this.#torque = clamp(wanted + this.#held, most);
    } else this.#torque = 0;
    const free = this.#speed + ((this.#torque - viscousFriction * this.#speed) / inertia) * dt;
    const brake = (coulombFriction / inertia) * dt;
    this.#speed = Math.abs(free) <= brake ? 0 : free - Math.sign(free) * brake;
    this.#turns += (this.#speed * dt) / (2 * Math.PI);
    // Counters of the drive are of 32 bits.
    this.#turns %= 2 ** 31 / countsPerRevolution;
  }

  protected sample(): readonly number[] {
    return [0, 0, 0, Math.round(this.speedRpm), 0, 0, 0, this.statusword];
  }

  cells(): Readonly<Record<string, PlainCell>> {
    const { countsPerRevolution, ratedTorque } = this.world;
    const counts = (turns: number) => Math.round(this.#sense * turns * countsPerRevolution);
    return {
      ...this.driveCells(),
      modeOfOperation: keptCells()('modeOfOperation', () => undefined),
      positionCounts: { read: () => counts(this.#turns) },
      velocityCounts: { read: () => counts(this.#speed / (2 * Math.PI)) },
      torque: { read: () => Math.round((this.#sense * this.#torque * 1000) / ratedTorque) },
      inputLevels: { read: () => this.#inputs.levels },
      inputStates: { read: () => this.#inputs.active },
      outputStates: {
        read: () => (this.current === 'fault' ? 0 : 1) | (this.isRunning ? 2 : 0) | (this.#isAtSpeed ? 4 : 0),
      },
      encoderIncrements: { read: () => countsPerRevolution },
      analogInput: { read: () => Math.round(1000 * this.analog.volts) },
      pwmRaw: { read: () => this.pwmRaw },
      speedCommand: { read: () => Math.round(10 * this.speedCommand) },
    };
  }
}

const clamp = (value: number, most: number): number => Math.min(most, Math.max(-most, value));

/** The brushless controller behind its registers. */
export const makeBrushless = (world: BrushlessWorld, memory: DeviceMemory = {}): RegisterCells<BrushlessDevice> =>
  new RegisterCells({
    device: new BrushlessDevice(world, memory),
    map: readRegisterMap(mapPath('brushless')),
    memory,
    identity: { kind: 0x5501, firmware: 0x00010000 },
  });
