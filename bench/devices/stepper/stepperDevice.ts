import { statusBit, statusBits, type DeviceState } from '@kavrid/core/drive';
import { Wiring } from '../../world/wiring.ts';
import { Cia402Drive } from '../cia402Drive.ts';
import { DigitalInputs } from '../digitalInputs.ts';
import { countedForms, PulseInput } from '../pulseInput.ts';
import { keptCells, RegisterCells, type DeviceMemory, type PlainCell } from '../registerCells.ts';
import { mapPath, readRegisterMap } from '../registerMap.ts';
import { StepperMechanics, type StepperWorld } from './stepperMechanics.ts';

const stepRate = 8000;
/** Steps between two looks at the input and at the window: 1 ms. */
const scanSteps = 8;
/** CiA 402 error code, object 0x603F. */
const followingError = 0x8611;
/** Counts within which it is in position. */
const inPosition = 4;

/** Pulses per revolution of each position of its switches. */
export const switchTable = [400, 800, 1600, 3200, 1000, 2000, 4000, 10000] as const;

/** What the controller of a stepper drive finds at its terminals. */
class StepperTerminals {
  readonly outputs = new Map<string, boolean>();
  readonly wiring: Wiring;
  readonly #mechanics: StepperMechanics;

  constructor(mechanics: StepperMechanics) {
    this.#mechanics = mechanics;
    this.wiring = new Wiring([{ terminal: 'enable', source: 'controller: servo on' }], (source) => this.drives(source));
  }

  /** What is at the other end of a wire: closed contacts and outputs that are on carry current. */
  drives(source: string): boolean {
    const { positionCounts, world } = this.#mechanics;
    switch (source) {
      case 'minus limit switch':
        return positionCounts > world.minusLimit;
      case 'plus limit switch':
        return positionCounts < world.plusLimit;
      case 'home switch': {
        const { from, to } = world.homeSwitch;
        return positionCounts >= from && positionCounts <= to;
      }
      default:
        return this.outputs.get(source) ?? false;
    }
  }
}

/**
 * A closed-loop stepper: commanded by pulses alone, enabled by its input alone, its pulses per revolution set by switches. Pushed
 * beyond its window it trips, and only power clears that.
 */
export class StepperDevice extends Cia402Drive {
  readonly mechanics: StepperMechanics;
  readonly terminals: StepperTerminals;
  readonly pulses = new PulseInput();
  readonly #inputs: DigitalInputs;
  /** Index pulses at its encoder output, one a turn, and the turn that it is in. */
  indexPulses = 0;
  #turn: number;
  /** What is left of a count when pulses have been turned into counts. */
  #remainder = 0;

  constructor(world: StepperWorld, { kept }: DeviceMemory) {
    super(readRegisterMap(mapPath('stepper')).parameters, kept, { stepRate, traceSteps: scanSteps });
    this.mechanics = new StepperMechanics(world, stepRate);
    this.#turn = this.#turnNow;
    this.terminals = new StepperTerminals(this.mechanics);
    const polarity = () => (this.parameters.value('enableActiveLevel') === 1 ? 1 : -1) as 1 | -1;
    this.#inputs = new DigitalInputs([{ name: 'enable', polarity }]);
    this.#scan();
    this.parametersChanged();
  }

  get #turnNow(): number {
    return Math.floor(this.mechanics.positionCounts / this.mechanics.world.countsPerRevolution);
  }

  get isRunning(): boolean {
    return this.current === 'operation enabled';
  }
  get pulsesPerRevolution(): number {
    return switchTable[this.parameters.value('switchPositions')] ?? switchTable[0];
  }
  get statusword(): number {
    return statusBits(this.current) | 0x0200 | (this.#isInPosition ? statusBit.targetReached : 0);
  }
  get #isInPosition(): boolean {
    return this.isRunning && Math.abs(this.mechanics.errorCounts) <= inPosition;
  }
  get #sense(): 1 | -1 {
    return this.parameters.value('rotationSense') === 1 ? -1 : 1;
  }

  parametersChanged(): void {
    this.mechanics.current = this.parameters.value('runningCurrent') / 100;
  }
  mayWrite(): boolean {
    return true;
  }
  /** The bus neither enables it nor clears its alarm. */
  protected get mayRun(): boolean {
    return false;
  }
  override control(): void {
    // Its terminals alone command it.
  }
  protected clearFault(): void {
    // Only power does.
  }
  protected goTo(next: DeviceState): void {
    this.current = next;
  }
  protected commanded(): void {
    // It takes no modes.
  }

  protected restarted(): void {
    this.mechanics.switchOff();
    this.pulses.discard();
    this.pulses.counted = 0;
    this.#remainder = 0;
  }

  #scan(): void {
    this.#inputs.scan((terminal) => this.terminals.wiring.level(terminal));
  }

  protected step(step: number): void {
    const { mechanics } = this;
    if (step % scanSteps === 0) this.#heed();
    mechanics.step(this.#sense * this.#counts());
    if (this.#turnNow !== this.#turn) {
      this.#turn = this.#turnNow;
      this.indexPulses++;
    }
  }

  /** Counts of the pulses of one step, the rest of a count kept: increments × counts per revolution / pulses per revolution. */
  #counts(): number {
    const form = countedForms[this.parameters.value('pulseForm')] ?? 'step and direction';
    const increments = this.pulses.take(form);
    if (!this.isRunning) return 0;
    const { countsPerRevolution } = this.mechanics.world;
    const all = increments * countsPerRevolution + this.#remainder;
    const counts = Math.trunc(all / this.pulsesPerRevolution);
    this.#remainder = all - counts * this.pulsesPerRevolution;
    return counts;
  }

  #heed(): void {
    this.#scan();
    const { mechanics } = this;
    if (this.current === 'fault') return;
    const isWanted = this.#inputs.isActive('enable');
    if (isWanted && !this.isRunning) {
      this.current = 'operation enabled';
      this.#remainder = 0;
      mechanics.switchOn();
    } else if (!isWanted && this.isRunning) {
      this.current = 'switch on disabled';
      mechanics.switchOff();
    }
    if (!this.isRunning || Math.abs(mechanics.errorCounts) <= this.parameters.value('followingErrorWindow')) return;
    this.error = followingError;
    this.current = 'fault';
    mechanics.switchOff();
  }

  protected sample(): readonly number[] {
    const { mechanics } = this;
    const { demandCounts, positionCounts, speedCounts, errorCounts } = mechanics;
    return [demandCounts, positionCounts, 0, speedCounts, errorCounts, this.#torque, 0, this.statusword].map(
      Math.round,
    );
  }

  /** 0.1 % of rated torque */
  get #torque(): number {
    return Math.round(((this.#sense * this.mechanics.torque) / this.mechanics.world.ratedTorque) * 1000);
  }

  cells(): Readonly<Record<string, PlainCell>> {
    const { mechanics, pulses } = this;
    const { world } = mechanics;
    const isAlarm = () => this.current === 'fault';
    const own = (counts: number) => Math.round(this.#sense * counts);
    return {
      ...this.driveCells(),
      modeOfOperation: keptCells()('modeOfOperation', () => undefined),
      positionCounts: { read: () => own(mechanics.positionCounts - world.startCounts) },
      velocityCounts: { read: () => own(mechanics.speedCounts) },
      followingErrorCounts: { read: () => own(mechanics.errorCounts) },
      torque: { read: () => this.#torque },
      inputLevels: { read: () => this.#inputs.levels },
      inputStates: { read: () => this.#inputs.active },
      outputStates: { read: () => (isAlarm() ? 0 : 3) | (this.#isInPosition ? 4 : 0) },
      pulsesCounted: { read: () => pulses.counted },
      encoderIncrements: { read: () => world.countsPerRevolution },
      pulsesPerTurn: { read: () => this.pulsesPerRevolution },
    };
  }
}

/** The stepper drive behind its registers. */
export const makeStepper = (world: StepperWorld, memory: DeviceMemory = {}): RegisterCells<StepperDevice> =>
  new RegisterCells({
    device: new StepperDevice(world, memory),
    map: readRegisterMap(mapPath('stepper')),
    memory,
    identity: { kind: 0x5401, firmware: 0x00010000 },
  });
