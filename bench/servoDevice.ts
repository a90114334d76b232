import { commandedState, controlBit, operationMode, statusBit, statusBits, type DeviceState } from '@kavrid/core/drive';
import { startHoming, stepHoming, type HomingMethod, type HomingState } from '@kavrid/core/homing';
import {
  servoCoefficients,
  servoState,
  stepServo,
  type ServoCoefficients,
  type ServoDefinition,
} from '@kavrid/core/plant';
import { MotionGenerator } from './motionGenerator.ts';
import { ParameterStore, type StoredCopy } from './parameterStore.ts';
import type { DeviceParameter } from './registerMap.ts';
import { TraceMemory } from './traceMemory.ts';

/** The mechanics the simulated drive is bolted to; what no parameter can change. SI at the motor shaft, counts. */
export type World = Pick<
  ServoDefinition,
  | 'countsPerRevolution'
  | 'rotorInertia'
  | 'loadInertia'
  | 'stages'
  | 'coulombFriction'
  | 'viscousFriction'
  | 'gravityTorque'
  | 'ratedTorque'
  | 'peakTorque'
  | 'minusLimit'
  | 'plusLimit'
  | 'indexOffset'
> & {
  readonly startCounts: number;
  /** Counts between which the home switch is on. */
  readonly homeSwitch: { readonly from: number; readonly to: number };
};

/** What the motion registers hold; increments and seconds. */
interface MotionTarget {
  position: number;
  velocity: number;
  speed: number;
  acceleration: number;
  deceleration: number;
  jerk: number;
  quickStop: number;
}

/** CiA 402 error codes, object 0x603F. */
export const errorCode = { none: 0, heartbeat: 0x8130, followingError: 0x8611, homing: 0xff01 } as const;

const stepRate = 8000;
const dt = 1 / stepRate;
/** Option codes of CiA 402, as far as this drive has them: objects 0x605A, 0x605B and 0x605C, 0x6007. */
const quickStopOption = { coast: 0, profileRamp: 1, quickStopRamp: 2 } as const;
const switchOffOption = { coast: 0, profileRamp: 1 } as const;
const lostLinkOption = { nothing: 0, coast: 2, quickStop: 3 } as const;

/** Steps between two looks of the homing at its inputs: 1 ms. */
const scanSteps = 8;

/** A servo drive with its axis. Time passes only by {@link advance}; nothing here knows of registers or sockets. */
export class ServoDevice {
  readonly parameters: ParameterStore;
  readonly trace = new TraceMemory();
  readonly #world: World;
  readonly #servo;
  readonly #generator = new MotionGenerator();
  #coefficients: ServoCoefficients;
  #state: DeviceState = 'switch on disabled';
  #mode: number = operationMode.none;
  #control = 0;
  #homing: HomingState | undefined;
  #zeroCounts = 0;
  #sinceHeartbeat = 0;
  #restartIn = 0;
  #step = 0;
  /** Where it goes when the ramp has ended. */
  #afterRamp: DeviceState = 'switch on disabled';
  #acknowledged = false;
  #target: MotionTarget = {
    position: 0,
    velocity: 0,
    speed: 1,
    acceleration: 1,
    deceleration: 1,
    jerk: 0,
    quickStop: 1e6,
  };
  error: number = errorCode.none;
  homed = false;
  /** Steps of the trace period. */
  traceSteps = scanSteps;

  /** What it knows of its motor. */
  get motor(): Pick<World, 'countsPerRevolution' | 'ratedTorque' | 'peakTorque'> {
    return this.#world;
  }

  constructor(parameters: readonly DeviceParameter[], world: World, kept?: StoredCopy) {
    this.#world = world;
    this.parameters = new ParameterStore(parameters, kept);
    this.#servo = servoState(world.startCounts, world.countsPerRevolution);
    this.#servo.enabled = 0;
    this.#zeroCounts = world.startCounts;
    this.#coefficients = this.#coefficientsNow();
  }

  /** Restarting devices do not answer. */
  get restarting(): boolean {
    return this.#restartIn > 0;
  }
  get state(): DeviceState {
    return this.#state;
  }
  get mode(): number {
    return this.#mode;
  }
  get positionCounts(): number {
    return this.#sense * (this.#servo.actualCounts - this.#zeroCounts);
  }
  /** +1 or −1: which way plus turns the shaft. */
  get #sense(): number {
    return this.parameters.value('rotationSense') === 1 ? -1 : 1;
  }
  get positionIncrements(): number {
    return Math.round((this.positionCounts * this.#coefficients.gearDenominator) / this.#coefficients.gearNumerator);
  }
  get velocityCounts(): number {
    return Math.round(this.#sense * this.#servo.actualSpeed * this.#coefficients.countsPerRadian);
  }
  get followingErrorCounts(): number {
    return this.#sense * (this.#servo.demandCounts - this.#servo.actualCounts);
  }
  /** 0.1 % of rated torque */
  get torque(): number {
    return Math.round(((this.#sense * this.#servo.torque) / this.#world.ratedTorque) * 1000);
  }
  get inputs(): number {
    return this.#limits | (this.#homeSwitchOn ? 4 : 0);
  }
  get #limits(): number {
    return (this.#limitOn('minus') ? 1 : 0) | (this.#limitOn('plus') ? 2 : 0);
  }
  /** Normally open: its flag is short. */
  get #homeSwitchOn(): boolean {
    const { from, to } = this.#world.homeSwitch;
    return this.loadCounts >= from && this.loadCounts <= to;
  }
  /** Where the load is in the world, whatever the drive makes of it. */
  get loadCounts(): number {
    return this.#servo.loadAngle * this.#coefficients.countsPerRadian;
  }
  get statusword(): number {
    const limited = this.#state === 'operation enabled' && this.#limits !== 0 ? statusBit.limitActive : 0;
    return statusBits(this.#state) | limited | 0x0200 | this.#modeBits();
  }

  #modeBits(): number {
    const standing =
      this.#generator.atTarget || (!this.#generator.moving && this.#mode === operationMode.profileVelocity);
    switch (this.#mode) {
      case operationMode.homing:
        return (
          (this.homed && this.#homing?.phase === 'done' ? statusBit.acknowledged : 0) |
          (this.#generator.moving ? 0 : statusBit.targetReached) |
          (this.#homing?.phase === 'failed' ? statusBit.homingError : 0)
        );
      case operationMode.profilePosition:
        return (standing ? statusBit.targetReached : 0) | (this.#acknowledged ? statusBit.acknowledged : 0);
      default:
        return standing ? statusBit.targetReached : 0;
    }
  }

  /** Normally closed switches: the terminal is high until the switch is pressed. Polarity is applied here, once. */
  #limitOn(end: 'minus' | 'plus'): boolean {
    const terminalHigh = (end === 'minus' ? this.#servo.minusLimitOn : this.#servo.plusLimitOn) === 0;
    return terminalHigh === (this.parameters.value('limitActiveLevel') === 1);
  }

  /** The enable terminal is held high by the machine's relay. */
  get #enableInput(): boolean {
    return this.parameters.value('enableActiveLevel') === 1;
  }

  #coefficientsNow(): ServoCoefficients {
    const value = (key: string) => this.parameters.value(key);
    return servoCoefficients({
      ...this.#world,
      stepRate,
      gearNumerator: value('gearNumerator'),
      gearDenominator: value('gearDenominator'),
      stiffness: 0,
      damping: 0,
      torqueLimit: value('torqueLimit') / 100,
      torqueTimeConstant: 0.0005,
      positionGain: value('positionGain'),
      speedBandwidth: value('speedBandwidth'),
      speedIntegralTime: value('speedIntegralTime') / 1000,
      assumedInertiaRatio: value('inertiaRatio'),
      velocityFeedforward: value('velocityFeedforward') / 100,
      velocityFilterTime: 0.0003,
      followingErrorWindow: value('followingErrorWindow'),
    });
  }

  /** Parameters have changed; those that work at once work now. */
  parametersChanged(): void {
    this.#coefficients = this.#coefficientsNow();
  }

  set mode(mode: number) {
    if (this.#state === 'operation enabled' && this.#generator.moving) this.#halt();
    this.#mode = mode;
    this.#acknowledged = false;
  }

  setTarget(target: Partial<MotionTarget>): void {
    Object.assign(this.#target, target);
    const fromBus = this.parameters.value('commandSource') === 1;
    if (
      target.velocity !== undefined &&
      this.#mode === operationMode.profileVelocity &&
      this.#state === 'operation enabled' &&
      fromBus
    ) {
      this.trace.mark();
      this.#generator.run(target.velocity, this.#target.acceleration);
    }
  }

  heartbeat(): void {
    this.#sinceHeartbeat = 0;
  }

  /** @returns false while enabled: a restart with a turning motor is refused. */
  restart(): boolean {
    if (this.#state === 'operation enabled' || this.#state === 'quick stop active') return false;
    this.#restartIn = 0.8;
    return true;
  }

  /** The controlword: state transitions of CiA 402, and the mode's own bits. */
  control(word: number): void {
    const before = this.#control;
    this.#control = word;
    const now = this.#state;
    const next = commandedState(now, word, before, this.#enableInput);
    if (next === now) {
      if (now === 'operation enabled') this.#modeCommand(word, (bit) => (word & bit) !== 0 && (before & bit) === 0);
      return;
    }
    if (now === 'fault') {
      this.error = errorCode.none;
      this.#servo.tripped = 0;
      this.#state = next;
      return;
    }
    switch (next) {
      case 'operation enabled':
        return this.#switchOn();
      case 'quick stop active':
        return this.#quickStop();
      case 'ready to switch on':
      case 'switched on':
        if (now === 'operation enabled') return this.#leave(next);
        this.#state = next;
        return;
      default:
        return this.#switchOff(next);
    }
  }

  #modeCommand(word: number, rising: (bit: number) => boolean): void {
    if (this.parameters.value('commandSource') !== 1) return;
    if (word & controlBit.halt) return this.#halt();
    if (this.#mode === operationMode.profilePosition) {
      if (rising(controlBit.newSetPoint)) this.#startMove();
      if ((word & controlBit.newSetPoint) === 0) this.#acknowledged = false;
    } else if (this.#mode === operationMode.homing && rising(controlBit.startHoming)) {
      this.homed = false;
      this.trace.mark();
      this.#homing = startHoming(this.#homingDefinition(), this.#homingInputs());
      this.#finishHoming();
    }
  }

  #startMove(): void {
    const { gearNumerator, gearDenominator } = this.#coefficients;
    const toCounts = gearNumerator / gearDenominator;
    const target = this.#target.position * toCounts;
    const inside =
      target >= this.parameters.value('minusSoftLimit') && target <= this.parameters.value('plusSoftLimit');
    if (this.homed && !inside) return;
    const offset = this.#generator.position - (this.#sense * (this.#servo.demandCounts - this.#zeroCounts)) / toCounts;
    const { speed, acceleration, jerk } = this.#target;
    this.#acknowledged = this.#generator.moveTo(offset + this.#target.position, {
      speed,
      acceleration,
      jerk: jerk || undefined,
    });
    if (this.#acknowledged) this.trace.mark();
  }

  #halt(): void {
    const { deceleration, quickStop } = this.#target;
    this.#generator.run(0, this.parameters.value('haltOption') === 2 ? quickStop : deceleration);
  }

  #switchOn(): void {
    this.#state = 'operation enabled';
    this.#sinceHeartbeat = 0;
    this.#servo.demandCounts = this.#servo.actualCounts;
    this.#servo.gearRemainder = 0;
    this.#servo.enabled = 1;
    this.#generator.freeze();
  }

  #switchOff(state: DeviceState): void {
    this.#state = state;
    this.#servo.enabled = 0;
    this.#homing = undefined;
    this.#generator.freeze();
  }

  /** By the controlword from operation enabled to a state without torque: along the profile ramp, or coasting. */
  #leave(next: 'ready to switch on' | 'switched on'): void {
    const option = this.parameters.value(next === 'switched on' ? 'disableOption' : 'shutdownOption');
    if (option === switchOffOption.coast) return this.#switchOff(next);
    this.#brake(this.#target.deceleration, next);
  }

  /** Brakes the way the quick stop option says, then switches off. */
  #quickStop(): void {
    if (this.#state === 'quick stop active') return;
    if (this.#state !== 'operation enabled') return this.#switchOff('switch on disabled');
    const option = this.parameters.value('quickStopOption');
    if (option === quickStopOption.coast) return this.#switchOff('switch on disabled');
    const { deceleration, quickStop } = this.#target;
    this.#brake(option === quickStopOption.profileRamp ? deceleration : quickStop, 'switch on disabled');
  }

  #brake(deceleration: number, afterwards: DeviceState): void {
    this.#state = 'quick stop active';
    this.#afterRamp = afterwards;
    this.#homing = undefined;
    this.#generator.run(0, Math.max(deceleration, 1));
  }

  /** No heartbeat came in time. */
  #linkLost(): void {
    const option = this.parameters.value('lostLinkOption');
    if (option === lostLinkOption.nothing) return;
    this.error = errorCode.heartbeat;
    if (option === lostLinkOption.coast) this.#switchOff('switch on disabled');
    else this.#quickStop();
  }

  #homingDefinition() {
    const { gearNumerator, gearDenominator } = this.#coefficients;
    const perCount = gearDenominator / gearNumerator;
    const value = (key: string) => this.parameters.value(key);
    return {
      method: value('homingMethod') as HomingMethod,
      searchSpeed: value('homingSearchSpeed') * perCount,
      creepSpeed: value('homingCreepSpeed') * perCount,
      acceleration: value('homingAcceleration') * perCount,
      homeOffset: value('homeOffset'),
    };
  }

  #homingInputs() {
    return {
      minusLimit: this.#limitOn('minus'),
      plusLimit: this.#limitOn('plus'),
      homeSwitch: this.#homeSwitchOn,
      position: this.#sense * this.#servo.actualCounts,
      standsStill: !this.#generator.moving,
      indexPulses: this.#servo.indexPulses,
      indexPosition: this.#sense * this.#servo.indexCounts,
    };
  }

  #scanHoming(): void {
    if (!this.#homing || this.#homing.phase === 'done' || this.#homing.phase === 'failed') return;
    const definition = this.#homingDefinition();
    const { state, speed } = stepHoming(definition, this.#homing, this.#homingInputs());
    this.#homing = state;
    this.#generator.run(speed, definition.acceleration);
    this.#finishHoming();
  }

  #finishHoming(): void {
    if (this.#homing?.phase === 'failed') this.error = errorCode.homing;
    if (this.#homing?.phase !== 'done' || this.#homing.latched === undefined) return;
    this.#zeroCounts = this.#sense * (this.#homing.latched - this.parameters.value('homeOffset'));
    this.homed = true;
  }

  /** A jog slows down in time before a soft limit, and any motion into a limit switch is stopped quickly. */
  #guard(): void {
    if (this.#homing && this.#homing.phase !== 'done' && this.#homing.phase !== 'failed') return;
    const { speed } = this.#generator;
    if ((speed < 0 && this.#limitOn('minus')) || (speed > 0 && this.#limitOn('plus'))) {
      this.#generator.run(0, this.#target.quickStop);
      return;
    }
    if (!this.homed || this.#mode !== operationMode.profileVelocity || speed === 0) return;
    const toCounts = this.#coefficients.gearNumerator / this.#coefficients.gearDenominator;
    // The demand is what is braked; the axis follows it with its lag.
    const demanded = this.#sense * (this.#servo.demandCounts - this.#zeroCounts);
    const stop = demanded + Math.sign(speed) * (speed ** 2 / (2 * this.#target.deceleration)) * toCounts;
    if (stop < this.parameters.value('minusSoftLimit') || stop > this.parameters.value('plusSoftLimit')) this.#halt();
  }

  /** Lets time pass. @param seconds at most a fraction of a second a call */
  advance(seconds: number): void {
    if (this.#restartIn > 0) {
      this.#restartIn -= seconds;
      if (this.#restartIn <= 0) this.#finishRestart();
      return;
    }
    for (let steps = Math.round(seconds * stepRate); steps > 0; steps--) this.#stepOnce();
  }

  #finishRestart(): void {
    this.#restartIn = 0;
    this.parameters.restart();
    this.parametersChanged();
    this.#state = 'switch on disabled';
    this.error = errorCode.none;
    this.homed = false;
    this.#mode = operationMode.none;
    this.#zeroCounts = this.#servo.actualCounts;
  }

  #stepOnce(): void {
    this.#step++;
    const scan = this.#step % scanSteps === 0;
    if (this.#state === 'operation enabled') {
      this.#sinceHeartbeat += dt;
      const watchdog = this.parameters.value('watchdogTime') / 1000;
      if (watchdog > 0 && this.#sinceHeartbeat > watchdog) {
        this.#linkLost();
      } else if (scan) {
        this.#scanHoming();
        this.#guard();
      }
    }
    const increments = this.#servo.enabled ? this.#sense * this.#generator.advance(dt) : 0;
    stepServo(this.#coefficients, this.#servo, increments);
    if (this.#servo.tripped && this.#state !== 'fault') {
      this.error = errorCode.followingError;
      this.#switchOff('fault');
    }
    if (this.#state === 'quick stop active' && !this.#generator.moving) this.#switchOff(this.#afterRamp);
    if (this.trace.running && this.#step % this.traceSteps === 0) this.#recordSample();
  }

  #recordSample(): void {
    const s = this.#servo;
    const { countsPerRadian } = this.#coefficients;
    this.trace.record([
      this.#sense * (s.demandCounts - this.#zeroCounts),
      this.positionCounts,
      Math.round(this.#sense * s.demandSpeed * countsPerRadian),
      this.velocityCounts,
      this.followingErrorCounts,
      this.torque,
      this.inputs,
      this.statusword,
    ]);
  }
}
