import { statusBit, statusBits, type DeviceState } from '@kavrid/core/drive';
import { Cia402Drive } from '../cia402Drive.ts';
import { countedForms, PulseInput } from '../pulseInput.ts';
import { keptCells, RegisterCells, type DeviceMemory, type PlainCell } from '../registerCells.ts';
import { mapPath, readRegisterMap } from '../registerMap.ts';
import { ServoMechanics, type AxisWorld } from './servoMechanics.ts';
import { ServoModes } from './servoModes.ts';
import { ServoTerminals } from './servoTerminals.ts';

/** CiA 402 error codes, object 0x603F. */
export const errorCode = { none: 0, heartbeat: 0x8130, followingError: 0x8611, homing: 0xff01 } as const;

const stepRate = 8000;
/** Option codes of CiA 402, as far as this drive has them: objects 0x605A, 0x605B and 0x605C, 0x6007. */
const quickStopOption = { coast: 0, profileRamp: 1, quickStopRamp: 2 } as const;
const switchOffOption = { coast: 0, profileRamp: 1 } as const;
const lostLinkOption = { nothing: 0, coast: 2, quickStop: 3 } as const;
const commandSource = { pulseInput: 0, fieldBus: 1 } as const;

/** Steps between two looks at the inputs: 1 ms. */
const scanSteps = 8;

/** Scans without any request after which inputs are free again: 1 s. */
const forcedFor = 1000;

/** What unlocks its parameters; anything else locks them. */
const unlockCode = 0x2517;

/** A servo drive with its axis, commanded by its pulse input and terminals, or by the bus. */
export class ServoDevice extends Cia402Drive {
  readonly mechanics: ServoMechanics;
  readonly terminals: ServoTerminals;
  readonly pulses = new PulseInput();
  readonly #modes: ServoModes;
  /** Its parameters are locked when power comes, and can be locked now. */
  locksAtPowerOn = false;
  isLocked = false;
  #sinceHeartbeat = 0;
  /** Scans since any request. */
  #sinceHeard = 0;
  /** Where it goes when the ramp has ended. */
  #afterRamp: DeviceState = 'switch on disabled';

  constructor(world: AxisWorld, { kept }: DeviceMemory) {
    super(readRegisterMap(mapPath('servo')).parameters, kept, { stepRate, traceSteps: scanSteps });
    const { parameters } = this;
    this.mechanics = new ServoMechanics(world, parameters, stepRate);
    this.terminals = new ServoTerminals(this.mechanics, parameters);
    this.#modes = new ServoModes(this.mechanics, this.terminals, parameters, () => this.trace.mark());
  }

  get isRunning(): boolean {
    return this.current === 'operation enabled';
  }
  get homed(): boolean {
    return this.#modes.homed;
  }
  get #isPowered(): boolean {
    return this.isRunning || this.current === 'quick stop active';
  }
  get #fromPulses(): boolean {
    return this.parameters.value('commandSource') === commandSource.pulseInput;
  }
  get statusword(): number {
    const limited = this.isRunning && this.terminals.limits !== 0 ? statusBit.limitActive : 0;
    return statusBits(this.current) | limited | 0x0200 | this.#modes.statusBits;
  }

  /** Ready, alarm contact, brake release, in position, homed. */
  get #outputs(): number {
    const isAlarm = this.current === 'fault' || this.current === 'fault reaction active';
    const isInPosition = this.isRunning && (this.#modes.statusBits & statusBit.targetReached) !== 0;
    const isReleased = Boolean(this.mechanics.servo.enabled);
    const states = [!isAlarm && this.terminals.hasTorque, !isAlarm, isReleased, isInPosition, this.homed];
    return states.reduce<number>((sum, isOn, bit) => sum | (isOn ? 1 << bit : 0), 0);
  }

  parametersChanged(): void {
    this.mechanics.changed();
  }

  mayWrite(key: string): boolean {
    return !this.isLocked && (key !== 'commandSource' || !this.isRunning);
  }

  /** A motor that follows pulses is enabled by its terminals alone. */
  protected get mayRun(): boolean {
    return !this.#fromPulses && this.terminals.permitsMotor;
  }

  protected clearFault(): void {
    this.mechanics.servo.tripped = 0;
  }

  protected goTo(next: DeviceState): void {
    switch (next) {
      case 'operation enabled':
        return this.#switchOn();
      case 'quick stop active':
        return this.#quickStop();
      case 'ready to switch on':
      case 'switched on':
        if (this.isRunning) return this.#leave(next);
        this.current = next;
        return;
      default:
        return this.#switchOff(next);
    }
  }

  protected commanded(word: number, before: number): void {
    if (!this.isRunning || this.#fromPulses) return;
    this.#modes.command(word, before);
    this.#noteFailure();
  }

  #noteFailure(): void {
    if (this.#modes.hasFailed) this.error = errorCode.homing;
  }

  #switchOn(): void {
    this.current = 'operation enabled';
    this.#sinceHeartbeat = 0;
    this.mechanics.holdHere();
    this.#modes.generator.freeze();
  }

  #switchOff(state: DeviceState): void {
    this.current = state;
    this.mechanics.servo.enabled = 0;
    this.#modes.freeze();
  }

  /** By the controlword from operation enabled to a state without torque: along the profile ramp, or coasting. */
  #leave(next: 'ready to switch on' | 'switched on'): void {
    const option = this.parameters.value(next === 'switched on' ? 'disableOption' : 'shutdownOption');
    if (option === switchOffOption.coast) return this.#switchOff(next);
    this.#brake(this.#modes.target.deceleration, next);
  }

  /** Brakes the way the quick stop option says, then switches off. */
  #quickStop(): void {
    if (this.current === 'quick stop active') return;
    if (!this.isRunning) return this.#switchOff('switch on disabled');
    const option = this.parameters.value('quickStopOption');
    if (option === quickStopOption.coast) return this.#switchOff('switch on disabled');
    const { deceleration, quickStop } = this.#modes.target;
    this.#brake(option === quickStopOption.profileRamp ? deceleration : quickStop, 'switch on disabled');
  }

  #brake(deceleration: number, afterwards: DeviceState): void {
    this.current = 'quick stop active';
    this.#afterRamp = afterwards;
    this.#modes.brake(deceleration);
  }

  /** No heartbeat came in time. */
  #linkLost(): void {
    const option = this.parameters.value('lostLinkOption');
    if (option === lostLinkOption.nothing) return;
    this.error = errorCode.heartbeat;
    if (option === lostLinkOption.coast) this.#switchOff('switch on disabled');
    else this.#quickStop();
  }

  /** The terminals alone enable, disable and reset a drive that follows pulses; safe torque off works always. */
  #heedTerminals(): void {
    const { terminals } = this;
    const wasReset = terminals.inputs.isActive('alarm reset');
    terminals.scan();
    if (this.#isPowered && !terminals.hasTorque) return this.#switchOff('switch on disabled');
    if (!this.#fromPulses) return;
    if (this.current === 'fault') {
      if (wasReset || !terminals.inputs.isActive('alarm reset')) return;
      this.error = errorCode.none;
      this.clearFault();
      this.current = 'switch on disabled';
      return;
    }
    const isWanted = terminals.inputs.isActive('servo on') && terminals.permitsMotor;
    if (isWanted && !this.#isPowered) this.#switchOn();
    else if (!isWanted && this.isRunning) this.#switchOff('switch on disabled');
  }

  /** Heartbeats and modes belong to the bus. */
  #heedBus(isScan: boolean): void {
    this.#sinceHeartbeat += 1 / stepRate;
    const watchdog = this.parameters.value('watchdogTime') / 1000;
    if (watchdog > 0 && this.#sinceHeartbeat > watchdog) return this.#linkLost();
    if (!isScan) return;
    this.#modes.scan();
    this.#noteFailure();
  }

  /** Pulses into a limit that is active are not followed. */
  #pulseIncrements(): number {
    const increments = this.pulses.take(countedForms[this.parameters.value('pulseForm')] ?? 'step and direction');
    if (increments !== 0 && this.isRunning) this.trace.mark();
    return this.isRunning && this.#fromPulses && !this.terminals.blocks(increments) ? increments : 0;
  }

  heard(): void {
    this.#sinceHeard = 0;
  }

  /** Inputs are forced by somebody who is there to see it. */
  #endForcing(): void {
    if (this.#sinceHeard++ > forcedFor && this.terminals.inputs.forced !== 0) this.terminals.inputs.force(0, 0);
  }

  protected restarted(): void {
    this.isLocked = this.locksAtPowerOn;
    this.#modes.restarted();
    this.terminals.inputs.force(0, 0);
    this.mechanics.zeroCounts = this.mechanics.servo.actualCounts;
    this.pulses.discard();
    this.pulses.counted = 0;
  }

  protected step(step: number): void {
    const { mechanics } = this;
    const isScan = step % scanSteps === 0;
    if (isScan) this.#endForcing();
    if (isScan) this.#heedTerminals();
    if (this.isRunning && !this.#fromPulses) this.#heedBus(isScan);
    const pulses = this.#pulseIncrements();
    const own = mechanics.servo.enabled && !this.#fromPulses ? this.#modes.generator.advance(1 / stepRate) : 0;
    mechanics.step(mechanics.sense * (own + pulses));
    if (mechanics.servo.tripped && this.current !== 'fault') {
      this.error = errorCode.followingError;
      this.#switchOff('fault');
    }
    if (this.current === 'quick stop active' && !this.#modes.generator.moving) this.#switchOff(this.#afterRamp);
  }

  protected sample(): readonly number[] {
    const { mechanics } = this;
    return [
      mechanics.demandCounts,
      mechanics.positionCounts,
      mechanics.demandVelocityCounts,
      mechanics.velocityCounts,
      mechanics.followingErrorCounts,
      mechanics.torque,
      this.terminals.digitalInputs,
      this.statusword,
    ];
  }

  cells(): Readonly<Record<string, PlainCell>> {
    const { mechanics, terminals, pulses } = this;
    const { inputs } = terminals;
    const { target } = this.#modes;
    const kept = keptCells();
    const set = (key: string, name: keyof typeof target) => kept(key, (value) => void (target[name] = value));
    const positive = (name: 'speed' | 'acceleration' | 'deceleration' | 'quickStop') =>
      kept(name, (value) => (value > 0 ? void (target[name] = value) : false));
    return {
      ...this.driveCells(),
      modeOfOperation: kept('modeOfOperation', (mode) => this.#modes.setMode(mode, this.isRunning)),
      targetPosition: set('targetPosition', 'position'),
      targetVelocity: kept('targetVelocity', (velocity) => {
        target.velocity = velocity;
        if (this.isRunning && !this.#fromPulses) this.#modes.run(velocity);
        return true;
      }),
      profileVelocity: positive('speed'),
      profileAcceleration: positive('acceleration'),
      profileDeceleration: positive('deceleration'),
      profileJerk: set('jerk', 'jerk'),
      quickStopDeceleration: positive('quickStop'),
      heartbeat: kept('heartbeat', () => void (this.#sinceHeartbeat = 0)),
      modeDisplay: { read: () => this.#modes.mode },
      positionCounts: { read: () => mechanics.positionCounts },
      positionIncrements: { read: () => mechanics.positionIncrements },
      velocityCounts: { read: () => mechanics.velocityCounts },
      followingErrorCounts: { read: () => mechanics.followingErrorCounts },
      torque: { read: () => mechanics.torque },
      inputs: { read: () => terminals.digitalInputs },
      inputLevels: { read: () => inputs.levels },
      inputStates: { read: () => inputs.active },
      locked: { read: () => (this.isLocked ? 1 : 0) },
      unlock: kept('unlock', (code) => void (this.isLocked = code !== unlockCode)),
      outputStates: { read: () => this.#outputs },
      inputForceStates: kept('inputForceStates', (states) => void (terminals.forcedStates = states)),
      inputForceMask: {
        read: () => inputs.forced,
        write: (mask) => {
          if (this.#isPowered) return false;
          inputs.force(mask, terminals.forcedStates);
          return true;
        },
      },
      pulsesCounted: { read: () => pulses.counted },
      homed: { read: () => (this.homed ? 1 : 0) },
      encoderIncrements: { read: () => mechanics.world.countsPerRevolution },
      motorRatedTorque: { read: () => Math.round(1000 * mechanics.world.ratedTorque) },
      motorPeakTorque: { read: () => Math.round(1000 * mechanics.world.peakTorque) },
    };
  }
}

/** The servo drive behind its registers. */
export const makeServo = (world: AxisWorld, memory: DeviceMemory = {}): RegisterCells<ServoDevice> =>
  new RegisterCells({
    device: new ServoDevice(world, memory),
    map: readRegisterMap(mapPath('servo')),
    memory,
    identity: { kind: 0x5301, firmware: 0x00010002 },
  });
