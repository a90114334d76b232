import { RegisterCells, type DeviceMemory, type PlainCell } from '../devices/registerCells.ts';
import { readRegisterMap } from '../devices/registerMap.ts';
import type { AnalogLine } from '../world/analogLine.ts';
import { AxisHost, scanSteps, type HostedDrive } from './axisHost.ts';

export const loopHostMapPath = new URL('./loopHost.csv', import.meta.url);

const fullVolts = 10;
const servoOn = 'controller: servo on';

/** A drive that takes a speed as a voltage and gives back the counts of its encoder. */
export interface AnalogDrive extends HostedDrive {
  readonly signals: { readonly analog: AnalogLine };
  readonly encoderOutput: number;
}

/** What can be wrong with the encoder wires between drive and controller. */
export interface FeedbackTrouble {
  isBroken: boolean;
  isSwapped: boolean;
}

/**
 * A host that closes the position loop itself: it commands a speed as a voltage and counts the encoder that comes back. P, I and
 * velocity feedforward, once a millisecond.
 */
export class LoopHost extends AxisHost {
  readonly feedback: FeedbackTrouble = { isBroken: false, isSwapped: false };
  readonly #drive: AnalogDrive;
  #arrived: number;
  #counted = 0;
  #integral = 0;
  #demand = 0;
  #error = 0;
  #sinceCorrection = 0;
  #hasTripped = false;
  #wasOn = false;

  constructor(drive: AnalogDrive, memory: DeviceMemory) {
    super(loopHostMapPath, [drive], memory);
    this.#drive = drive;
    this.#arrived = drive.encoderOutput;
  }

  protected get stepsPerUnit(): number {
    return this.parameters.value('countsPerUnit');
  }
  protected get counted(): number {
    return this.#counted;
  }
  get followingError(): number {
    return this.#error;
  }
  get hasTripped(): boolean {
    return this.#hasTripped;
  }
  get #isOn(): boolean {
    return this.#drive.terminals.outputs.get(servoOn) === true;
  }
  /** Steps/s at full voltage. */
  get #fullSpeed(): number {
    return this.parameters.value('fullSpeed') * this.stepsPerUnit;
  }

  protected possible(steps: number): number {
    return Math.sign(steps) * Math.min(Math.abs(steps), this.#fullSpeed);
  }

  protected shifted(steps: number): void {
    this.#counted += steps;
    this.#demand += steps;
  }

  protected send(_: number, exact: number): void {
    this.#count();
    if (++this.#sinceCorrection < scanSteps) return;
    this.#sinceCorrection = 0;
    if (this.#isOn && !this.#wasOn) this.#hasTripped = false;
    this.#wasOn = this.#isOn;
    if (this.#isOn && !this.inputs.isActive('alarm')) this.#correct(exact, scanSteps / 8000);
    else this.#rest();
  }

  /** The loop is open: the command stays where the axis is. */
  #rest(): void {
    this.#integral = 0;
    this.#error = 0;
    this.#drive.signals.analog.sent = 0;
    this.giveUp();
    this.commandIs(this.#counted);
    this.#demand = this.#counted;
  }

  #count(): void {
    const now = this.#drive.encoderOutput;
    const counts = (now - this.#arrived) * (this.feedback.isSwapped ? -1 : 1);
    this.#arrived = now;
    if (!this.feedback.isBroken) this.#counted += counts;
  }

  #correct(exact: number, period: number): void {
    const value = (key: string) => this.parameters.value(key);
    this.#error = exact - this.#counted;
    const limit = value('errorLimit') * this.stepsPerUnit;
    if (Math.abs(this.#error) > limit) return this.#trip();
    const demandSpeed = (exact - this.#demand) / period;
    this.#demand = exact;
    this.#integral += value('loopIntegral') * this.#error * period;
    const speed = value('loopGain') * this.#error + this.#integral + (value('velocityFeedforward') / 100) * demandSpeed;
    const sense = value('commandInverted') === 1 ? -1 : 1;
    this.#drive.signals.analog.sent = converted((sense * fullVolts * speed) / this.#fullSpeed + value('outputOffset'));
  }

  /** Its error limit takes servo on away; servo on has to be switched off and on again. */
  #trip(): void {
    this.#hasTripped = true;
    this.giveUp();
    this.#drive.signals.analog.sent = 0;
    this.#drive.terminals.outputs.set(servoOn, false);
  }

  cells(): Readonly<Record<string, PlainCell>> {
    return {
      ...this.hostCells(),
      counted: { read: () => Math.round(this.#counted) },
      followingError: { read: () => Math.round(this.#error) },
      volts: { read: () => Math.round(1000 * this.#drive.signals.analog.sent) },
      errorTripped: { read: () => (this.#hasTripped ? 1 : 0) },
    };
  }
}

/** What its converter of 16 bits can give. */
const converted = (volts: number): number => {
  const step = (2 * fullVolts) / 2 ** 16;
  return Math.max(-fullVolts, Math.min(fullVolts, Math.round(volts / step) * step));
};

/** The host behind its registers, wired to the analog input and the encoder output of a drive. */
export const makeLoopHost = (drive: AnalogDrive, memory: DeviceMemory = {}): RegisterCells<LoopHost> =>
  new RegisterCells({
    device: new LoopHost(drive, memory),
    map: readRegisterMap(loopHostMapPath),
    memory,
    identity: { kind: 0x4803, firmware: 0x00010000 },
  });
