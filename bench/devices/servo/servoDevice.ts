import { controlword, statusBit, statusBits, type DeviceState } from '@kavrid/core/drive';
import type { MakePlant } from '../../world/axisPlant.ts';
import { Cia402Drive } from '../cia402Drive.ts';
import type { PulseInput } from '../pulseInput.ts';
import { homingFailureNumber } from '../homingNumbers.ts';
import { keptCells, RegisterCells, type DeviceMemory, type PlainCell } from '../registerCells.ts';
import { mapPath, readRegisterMap } from '../registerMap.ts';
import { ServoCommand } from './servoCommand.ts';
import { ServoMechanics, type AxisWorld } from './servoMechanics.ts';
import { ServoModes } from './servoModes.ts';
import { encoderOutput, monitorVolts } from './servoOutputs.ts';
import type { ServoSignals } from './servoSignals.ts';
import { ServoTerminals } from './servoTerminals.ts';
import { StoredMoves } from './storedMoves.ts';

/** CiA 402 error codes, object 0x603F. */
export const errorCode = {
  none: 0,
  heartbeat: 0x8130,
  followingError: 0x8611,
  homing: 0xff01,
  signalLost: 0x5300,
  undervoltage: 0x3220,
  encoderBattery: 0x7320,
} as const;

const stepRate = 8000;
/** Option codes of CiA 402, as far as this drive has them: objects 0x605A, 0x605B and 0x605C, 0x6007. */
const quickStopOption = { coast: 0, profileRamp: 1, quickStopRamp: 2 } as const;
const switchOffOption = { coast: 0, profileRamp: 1 } as const;
const lostLinkOption = { nothing: 0, coast: 2, quickStop: 3 } as const;

/** rad/s of the motor below which it counts as standing */
const standing = 0.5;

/** Steps between two looks at the inputs: 1 ms. */
const scanSteps = 8;

/** Scans without any request after which inputs are free again: 1 s. */
const forcedFor = 1000;

/** What unlocks its parameters; anything else locks them. */
const unlockCode = 0x2517;

/** A servo drive with its axis, commanded by one of its inputs and enabled by terminals, or commanded by the bus. */
export class ServoDevice extends Cia402Drive {
  readonly mechanics: ServoMechanics;
  readonly terminals: ServoTerminals;
  readonly command: ServoCommand;
  readonly #modes: ServoModes;
  readonly #stored: StoredMoves;
  /** s until the brake is open and the motor may move, and until the torque goes, the brake being shut. */
  #enablingFor = 0;
  #holdingFor = 0;
  /** Without it only its control is alive. */
  hasMainSupply = true;
  /** Without it nothing is alive. */
  hasControlSupply = true;
  /** Of its absolute encoder; without it the turns are lost with the power. */
  hasBattery = true;
  /** Its parameters are locked when power comes, and can be locked now. */
  locksAtPowerOn = false;
  isLocked = false;
  #sinceHeartbeat = 0;
  /** Scans since any request. */
  #sinceHeard = 0;
  /** Where it goes when the ramp has ended. */
  #afterRamp: DeviceState = 'switch on disabled';

  constructor(world: AxisWorld, { kept }: DeviceMemory, makePlant?: MakePlant) {
    super(readRegisterMap(mapPath('servo')).parameters, kept, { stepRate, traceSteps: scanSteps });
    const { parameters } = this;
    this.mechanics = new ServoMechanics(world, parameters, stepRate, makePlant);
    this.terminals = new ServoTerminals(this.mechanics, parameters);
    this.#modes = new ServoModes(this.mechanics, this.terminals, parameters, () => this.markMotion());
    this.command = new ServoCommand(this, this.#modes, () => this.markMotion());
    this.#stored = new StoredMoves(this.#modes, this.mechanics, this.terminals, parameters);
  }

  get isRunning(): boolean {
    return this.current === 'operation enabled';
  }
  get homed(): boolean {
    return this.#modes.homed;
  }
  /** The motor is on, or will be when its brake is open. */
  get #isPowered(): boolean {
    return this.isRunning || this.current === 'quick stop active' || this.#enablingFor > 0;
  }
  get pulses(): PulseInput {
    return this.command.pulses;
  }
  get signals(): ServoSignals {
    return this.command.signals;
  }
  get encoderOutput(): number {
    return encoderOutput(this.mechanics, this.parameters);
  }
  get indexPulses(): number {
    return this.mechanics.servo.indexPulses;
  }
  get statusword(): number {
    const limited = this.isRunning && this.terminals.limits !== 0 ? statusBit.limitActive : 0;
    return statusBits(this.current) | limited | 0x0200 | this.#modes.statusBits;
  }

  get isInPosition(): boolean {
    const isThere =
      this.command.source === 'stored moves'
        ? this.#stored.isInPosition
        : (this.#modes.statusBits & statusBit.targetReached) !== 0;
    return this.isRunning && isThere;
  }

  /** Ready, alarm contact, brake release, in position, homed. */
  get #outputs(): number {
    const isAlarm = this.current === 'fault' || this.current === 'fault reaction active';
    const isReleased = this.terminals.releasesBrake;
    const states = [!isAlarm && this.terminals.hasTorque, !isAlarm, isReleased, this.isInPosition, this.homed];
    return states.reduce<number>((sum, isOn, bit) => sum | (isOn ? 1 << bit : 0), 0);
  }

  parametersChanged(): void {
    this.mechanics.changed();
  }

  mayWrite(key: string): boolean {
    return !this.isLocked && (key !== 'commandSource' || !this.#isPowered);
  }

  /** A motor that follows its inputs is enabled by its terminals alone. */
  protected get mayRun(): boolean {
    return this.command.isByBus && this.terminals.permitsMotor && this.hasMainSupply;
  }

  protected clearFault(): void {
    this.mechanics.servo.tripped = 0;
  }

  protected goTo(next: DeviceState): void {
    switch (next) {
      case 'operation enabled':
        if (this.#enablingFor === 0) this.#switchOn();
        return;
      case 'quick stop active':
        return this.#quickStop();
      case 'ready to switch on':
      case 'switched on':
        if (this.isRunning) return this.#leave(next);
        if (this.#isPowered) return this.#switchOff(next);
        this.current = next;
        return;
      default:
        return this.#switchOff(next);
    }
  }

  protected commanded(word: number, before: number): void {
    if (this.#enablingFor > 0 && (word & 0x0f) !== controlword.enableOperation) return this.#switchOff('switched on');
    if (!this.isRunning || !this.command.isByBus) return;
    this.#modes.command(word, before);
    this.#noteFailure();
  }

  #noteFailure(): void {
    if (this.#modes.hasFailed) this.error = errorCode.homing;
  }

  /** Torque first, then the brake opens; only then may the motor move. */
  #switchOn(): void {
    this.mechanics.commandBy(this.command.commandedBy);
    this.mechanics.holdHere();
    this.#modes.generator.freeze();
    this.terminals.releasesBrake = true;
    this.#holdingFor = 0;
    this.#enablingFor = this.parameters.value('brakeReleaseDelay') / 1000;
    if (this.#enablingFor > 0) this.current = 'switched on';
    else this.#finishSwitchOn();
  }

  #finishSwitchOn(): void {
    this.#enablingFor = 0;
    this.#sinceHeartbeat = 0;
    this.current = 'operation enabled';
  }

  /** The brake shuts first while the motor stands and holds; the torque goes once it is shut. A trip takes the torque at once. */
  #switchOff(state: DeviceState): void {
    const { servo } = this.mechanics;
    const holds =
      state !== 'fault' && this.terminals.hasTorque && servo.enabled !== 0 && Math.abs(servo.motorSpeed) < standing;
    this.current = state;
    this.terminals.releasesBrake = false;
    this.#enablingFor = 0;
    this.#holdingFor = holds ? this.parameters.value('brakeEngageDelay') / 1000 : 0;
    if (this.#holdingFor === 0) servo.enabled = 0;
    this.#modes.freeze();
    this.#stored.leave();
  }

  #trip(code: number): void {
    this.error = code;
    this.#switchOff('fault');
  }

  #passBrakeDelays(): void {
    if (this.#enablingFor > 0 && (this.#enablingFor -= 1 / stepRate) <= 0) this.#finishSwitchOn();
    if (this.#holdingFor > 0 && (this.#holdingFor -= 1 / stepRate) <= 0) {
      this.#holdingFor = 0;
      this.mechanics.servo.enabled = 0;
    }
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

  /** The terminals alone enable, disable and reset a drive that follows its inputs; safe torque off works always. */
  #heedTerminals(): void {
    const { terminals } = this;
    const wasReset = terminals.inputs.isActive('alarm reset');
    terminals.scan();
    if (this.mechanics.servo.enabled !== 0 && !terminals.hasTorque)
      return this.#switchOff(this.#isPowered ? 'switch on disabled' : this.current);
    if (!this.hasControlSupply) return this.#isPowered ? this.#switchOff('switch on disabled') : undefined;
    if (!this.hasMainSupply && this.#isPowered) return this.#trip(errorCode.undervoltage);
    if (this.command.isByBus) return;
    if (this.current === 'fault') {
      if (wasReset || !terminals.inputs.isActive('alarm reset')) return;
      this.error = errorCode.none;
      this.clearFault();
      this.current = 'switch on disabled';
      return;
    }
    const isWanted = terminals.inputs.isActive('servo on') && terminals.permitsMotor && this.hasMainSupply;
    if (isWanted && !this.#isPowered) this.#switchOn();
    else if (!isWanted && this.#isPowered) this.#switchOff('switch on disabled');
    if (this.command.source === 'stored moves') this.#followChoice();
  }

  /** Its inputs pick stored moves. */
  #followChoice(): void {
    this.#stored.scan(this.isRunning);
    if (!this.isRunning) return;
    this.#modes.scan();
    this.#noteFailure();
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

  heard(): void {
    this.#sinceHeard = 0;
  }

  /** Inputs are forced by somebody who is there to see it. */
  #endForcing(): void {
    if (this.#sinceHeard++ > forcedFor && this.terminals.inputs.forced !== 0) this.terminals.inputs.force(0, 0);
  }

  protected restarted(): void {
    this.isLocked = this.locksAtPowerOn;
    this.#switchOff('switch on disabled');
    this.mechanics.servo.enabled = 0;
    this.#holdingFor = 0;
    const encoderTurns = this.parameters.value('encoderTurns');
    this.#modes.restarted(encoderTurns > 0 && this.hasBattery);
    this.terminals.inputs.force(0, 0);
    this.mechanics.powered(this.homed ? encoderTurns : 0);
    if (encoderTurns > 0 && !this.hasBattery) this.#trip(errorCode.encoderBattery);
    this.pulses.discard();
    this.pulses.counted = 0;
  }

  protected step(step: number): void {
    const { mechanics, terminals } = this;
    const isScan = step % scanSteps === 0;
    if (isScan) this.#endForcing();
    if (isScan) this.#heedTerminals();
    if (isScan && this.isRunning && this.command.isSignalLost) this.#trip(errorCode.signalLost);
    if (this.isRunning && this.command.isByBus) this.#heedBus(isScan);
    this.#passBrakeDelays();
    mechanics.step(this.command.demand(this.isRunning), terminals.isBrakeFed);
    if (mechanics.servo.tripped && this.current !== 'fault') this.#trip(errorCode.followingError);
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
      this.terminals.inputs.active,
      this.statusword,
    ];
  }

  /** A sweep is described first, and then started. */
  #sweepCells(): Readonly<Record<string, PlainCell>> {
    const kept = keptCells();
    const order = { from: 0, to: 0, seconds: 0, speed: 0, acceleration: 0, travel: 0 };
    const set = (key: string, name: keyof typeof order, scale = 1) =>
      kept(key, (value) => void (order[name] = value * scale));
    return {
      sweepFrom: set('sweepFrom', 'from', 0.1),
      sweepTo: set('sweepTo', 'to', 0.1),
      sweepTime: set('sweepTime', 'seconds', 0.01),
      sweepSpeed: set('sweepSpeed', 'speed'),
      sweepAcceleration: set('sweepAcceleration', 'acceleration'),
      sweepTravel: set('sweepTravel', 'travel'),
      sweepRun: {
        read: () => (this.#modes.generator.isSweeping ? 1 : 0),
        write: (value) => {
          if (value !== 1) this.#modes.run(0);
          return value !== 1 || (this.isRunning && this.command.isByBus && this.#modes.sweep({ ...order }));
        },
      },
    };
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
        if (this.isRunning && this.command.isByBus) this.#modes.run(velocity);
        return true;
      }),
      profileVelocity: positive('speed'),
      profileAcceleration: positive('acceleration'),
      profileDeceleration: positive('deceleration'),
      profileJerk: set('jerk', 'jerk'),
      quickStopDeceleration: positive('quickStop'),
      ...this.#sweepCells(),
      heartbeat: kept('heartbeat', () => void (this.#sinceHeartbeat = 0)),
      modeDisplay: { read: () => this.#modes.mode },
      // A counter of 32 bits starts over.
      positionCounts: { read: () => mechanics.positionCounts | 0 },
      positionIncrements: { read: () => mechanics.positionIncrements },
      encoderCounts: { read: () => mechanics.encoderCounts },
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
      analogInput: { read: () => Math.round(1000 * this.signals.volts) },
      choicePattern: { read: () => this.#stored.pattern },
      encoderOutput: { read: () => this.encoderOutput },
      analogMonitor: { read: () => Math.round(1000 * monitorVolts(mechanics, this.parameters)) },
      pulsesCounted: { read: () => pulses.counted },
      homingFailure: { read: () => homingFailureNumber(this.#modes.failure) },
      homed: { read: () => (this.homed ? 1 : 0) },
      encoderIncrements: { read: () => mechanics.world.countsPerRevolution },
      motorRatedTorque: { read: () => Math.round(1000 * mechanics.world.ratedTorque) },
      motorPeakTorque: { read: () => Math.round(1000 * mechanics.world.peakTorque) },
    };
  }
}

/** The servo drive behind its registers. @param makePlant its loops with motor and mechanics; that of the predictions by default */
export const makeServo = (
  world: AxisWorld,
  memory: DeviceMemory = {},
  makePlant?: MakePlant,
): RegisterCells<ServoDevice> =>
  new RegisterCells({
    device: new ServoDevice(world, memory, makePlant),
    map: readRegisterMap(mapPath('servo')),
    memory,
    identity: { kind: 0x5301, firmware: 0x00010002 },
  });
