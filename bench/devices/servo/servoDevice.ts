import { controlBit, operationMode, statusBit, statusBits, type DeviceState } from '@kavrid/core/drive';
import { startHoming, stepHoming, type HomingMethod, type HomingState } from '@kavrid/core/homing';
import { Wiring, type Wire } from '../../world/wiring.ts';
import { Cia402Drive } from '../cia402Drive.ts';
import { DigitalInputs } from '../digitalInputs.ts';
import { countedForms, PulseInput } from '../pulseInput.ts';
import { keptCells, RegisterCells, type DeviceMemory, type PlainCell } from '../registerCells.ts';
import { mapPath, readRegisterMap } from '../registerMap.ts';
import { MotionGenerator } from './motionGenerator.ts';
import { ServoMechanics, type AxisWorld } from './servoMechanics.ts';

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
/** Option codes of CiA 402, as far as this drive has them: objects 0x605A, 0x605B and 0x605C, 0x6007. */
const quickStopOption = { coast: 0, profileRamp: 1, quickStopRamp: 2 } as const;
const switchOffOption = { coast: 0, profileRamp: 1 } as const;
const lostLinkOption = { nothing: 0, coast: 2, quickStop: 3 } as const;
const commandSource = { pulseInput: 0, fieldBus: 1 } as const;

/** Steps between two looks at the inputs: 1 ms. */
const scanSteps = 8;

/**
 * How the terminals of the drive are wired where nobody has changed it: normally closed limits, a normally open home flag, both
 * channels of safe torque off and the permit through the machine's relays, servo on and alarm reset from the controller.
 */
export const servoWires: readonly Wire[] = [
  { terminal: 'minus limit', source: 'minus limit switch' },
  { terminal: 'plus limit', source: 'plus limit switch' },
  { terminal: 'home', source: 'home switch' },
  { terminal: 'permit', source: 'permit relay' },
  { terminal: 'servo on', source: 'controller: servo on' },
  { terminal: 'alarm reset', source: 'controller: alarm reset' },
  { terminal: 'safe torque off 1', source: 'stop relay' },
  { terminal: 'safe torque off 2', source: 'stop relay' },
];

/** A servo drive with its axis. */
export class ServoDevice extends Cia402Drive {
  readonly mechanics: ServoMechanics;
  readonly wiring: Wiring;
  readonly inputs: DigitalInputs;
  readonly pulses = new PulseInput();
  /** What the controller drives, by source; it is off where there is none. */
  readonly outputs = new Map<string, boolean>();
  /** Switches that a hand, or a metal tool, holds tripped; by source. */
  readonly tripped = new Set<string>();
  readonly #generator = new MotionGenerator();
  #mode: number = operationMode.none;
  #homing: HomingState | undefined;
  #sinceHeartbeat = 0;
  /** Where it goes when the ramp has ended. */
  #afterRamp: DeviceState = 'switch on disabled';
  #acknowledged = false;
  /** What inputs are forced to, once they are. */
  #forcedStates = 0;
  readonly #target: MotionTarget = {
    position: 0,
    velocity: 0,
    speed: 1,
    acceleration: 1,
    deceleration: 1,
    jerk: 0,
    quickStop: 1e6,
  };
  homed = false;

  constructor(world: AxisWorld, { kept }: DeviceMemory) {
    super(readRegisterMap(mapPath('servo')).parameters, kept, { stepRate, traceSteps: scanSteps });
    const { parameters } = this;
    this.mechanics = new ServoMechanics(world, parameters, stepRate);
    this.wiring = new Wiring(servoWires, (source) => this.drives(source));
    const byLevel = (key: string) => () => (parameters.value(key) === 1 ? 1 : -1);
    const high = () => 1 as const;
    const debounce = () => parameters.value('inputDebounce');
    this.inputs = new DigitalInputs([
      { name: 'minus limit', polarity: byLevel('limitActiveLevel'), debounce },
      { name: 'plus limit', polarity: byLevel('limitActiveLevel'), debounce },
      { name: 'home', polarity: high, debounce },
      { name: 'permit', polarity: byLevel('enableActiveLevel') },
      { name: 'servo on', polarity: high },
      { name: 'alarm reset', polarity: high },
      { name: 'safe torque off 1', polarity: high },
      { name: 'safe torque off 2', polarity: high },
    ]);
    this.#scan();
  }

  /** What is at the other end of a wire: closed contacts and outputs that are on carry current. */
  drives(source: string): boolean {
    const { servo, isOnHomeFlag } = this.mechanics;
    switch (source) {
      case 'minus limit switch':
        return servo.minusLimitOn === 0 && !this.tripped.has(source);
      case 'plus limit switch':
        return servo.plusLimitOn === 0 && !this.tripped.has(source);
      case 'home switch':
        return isOnHomeFlag || this.tripped.has(source);
      case 'drive: no alarm':
        return this.current !== 'fault' && !this.restarting;
      case 'permit relay':
      case 'stop relay':
        return true;
      default:
        return this.outputs.get(source) ?? false;
    }
  }

  #scan(): void {
    this.inputs.scan((terminal) => this.wiring.level(terminal));
  }

  get isRunning(): boolean {
    return this.current === 'operation enabled';
  }
  get mode(): number {
    return this.#mode;
  }
  get #fromPulses(): boolean {
    return this.parameters.value('commandSource') === commandSource.pulseInput;
  }
  get #hasTorque(): boolean {
    return this.inputs.isActive('safe torque off 1') && this.inputs.isActive('safe torque off 2');
  }
  get #limits(): number {
    return (this.inputs.isActive('minus limit') ? 1 : 0) | (this.inputs.isActive('plus limit') ? 2 : 0);
  }
  get statusword(): number {
    const limited = this.isRunning && this.#limits !== 0 ? statusBit.limitActive : 0;
    return statusBits(this.current) | limited | 0x0200 | this.#modeBits();
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

  parametersChanged(): void {
    this.mechanics.changed();
  }

  mayWrite(key: string): boolean {
    return key !== 'commandSource' || !this.isRunning;
  }

  set mode(mode: number) {
    if (this.isRunning && this.#generator.moving) this.#halt();
    this.#mode = mode;
    this.#acknowledged = false;
  }

  setTarget(target: Partial<MotionTarget>): void {
    Object.assign(this.#target, target);
    if (target.velocity === undefined || this.#mode !== operationMode.profileVelocity) return;
    if (!this.isRunning || this.#fromPulses) return;
    this.trace.mark();
    this.#generator.run(target.velocity, this.#target.acceleration);
  }

  heartbeat(): void {
    this.#sinceHeartbeat = 0;
  }

  /** A motor that follows pulses is enabled by its terminals alone. */
  protected get mayRun(): boolean {
    return !this.#fromPulses && this.inputs.isActive('permit') && this.#hasTorque && this.inputs.forced === 0;
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
    const rising = (bit: number) => (word & bit) !== 0 && (before & bit) === 0;
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
    const { countsPerIncrement, demandCounts } = this.mechanics;
    const target = this.#target.position * countsPerIncrement;
    const inside =
      target >= this.parameters.value('minusSoftLimit') && target <= this.parameters.value('plusSoftLimit');
    if (this.homed && !inside) return;
    const offset = this.#generator.position - demandCounts / countsPerIncrement;
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
    this.current = 'operation enabled';
    this.#sinceHeartbeat = 0;
    this.mechanics.holdHere();
    this.#generator.freeze();
  }

  #switchOff(state: DeviceState): void {
    this.current = state;
    this.mechanics.servo.enabled = 0;
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
    if (this.current === 'quick stop active') return;
    if (!this.isRunning) return this.#switchOff('switch on disabled');
    const option = this.parameters.value('quickStopOption');
    if (option === quickStopOption.coast) return this.#switchOff('switch on disabled');
    const { deceleration, quickStop } = this.#target;
    this.#brake(option === quickStopOption.profileRamp ? deceleration : quickStop, 'switch on disabled');
  }

  #brake(deceleration: number, afterwards: DeviceState): void {
    this.current = 'quick stop active';
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
    const perCount = 1 / this.mechanics.countsPerIncrement;
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
    const { sense, servo } = this.mechanics;
    return {
      minusLimit: this.inputs.isActive('minus limit'),
      plusLimit: this.inputs.isActive('plus limit'),
      homeSwitch: this.inputs.isActive('home'),
      position: sense * servo.actualCounts,
      standsStill: !this.#generator.moving,
      indexPulses: servo.indexPulses,
      indexPosition: sense * servo.indexCounts,
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
    this.mechanics.zeroCounts = this.mechanics.sense * (this.#homing.latched - this.parameters.value('homeOffset'));
    this.homed = true;
  }

  /** A jog slows down in time before a soft limit, and any motion into a limit switch is stopped quickly. */
  #guard(): void {
    if (this.#homing && this.#homing.phase !== 'done' && this.#homing.phase !== 'failed') return;
    const { speed } = this.#generator;
    if ((speed < 0 && this.inputs.isActive('minus limit')) || (speed > 0 && this.inputs.isActive('plus limit'))) {
      this.#generator.run(0, this.#target.quickStop);
      return;
    }
    if (!this.homed || this.#mode !== operationMode.profileVelocity || speed === 0) return;
    // The demand is what is braked; the axis follows it with its lag.
    const { countsPerIncrement, demandCounts } = this.mechanics;
    const stop = demandCounts + Math.sign(speed) * (speed ** 2 / (2 * this.#target.deceleration)) * countsPerIncrement;
    if (stop < this.parameters.value('minusSoftLimit') || stop > this.parameters.value('plusSoftLimit')) this.#halt();
  }

  /** The terminals alone enable, disable and reset a drive that follows pulses; safe torque off works always. */
  #heedTerminals(): void {
    const wasReset = this.inputs.isActive('alarm reset');
    this.#scan();
    const isPowered = this.isRunning || this.current === 'quick stop active';
    if (isPowered && !this.#hasTorque) return this.#switchOff('switch on disabled');
    if (!this.#fromPulses) return;
    if (this.current === 'fault') {
      if (!wasReset && this.inputs.isActive('alarm reset')) {
        this.error = errorCode.none;
        this.clearFault();
        this.current = 'switch on disabled';
      }
      return;
    }
    const isWanted =
      this.inputs.isActive('servo on') && this.inputs.isActive('permit') && this.#hasTorque && this.inputs.forced === 0;
    if (isWanted && !isPowered) this.#switchOn();
    else if (!isWanted && this.isRunning) this.#switchOff('switch on disabled');
  }

  /** Pulses into a limit that is active are not followed. */
  #pulseIncrements(): number {
    const increments = this.pulses.take(countedForms[this.parameters.value('pulseForm')] ?? 'step and direction');
    const isBlocked =
      (increments < 0 && this.inputs.isActive('minus limit')) || (increments > 0 && this.inputs.isActive('plus limit'));
    if (increments !== 0 && this.isRunning) this.trace.mark();
    return this.isRunning && this.#fromPulses && !isBlocked ? increments : 0;
  }

  /** Forced inputs and motion exclude each other. */
  #force(mask: number): boolean {
    if (this.isRunning || this.current === 'quick stop active') return false;
    this.inputs.force(mask, this.#forcedStates);
    return true;
  }

  protected restarted(): void {
    this.homed = false;
    this.inputs.force(0, 0);
    this.#mode = operationMode.none;
    this.mechanics.zeroCounts = this.mechanics.servo.actualCounts;
    this.pulses.discard();
    this.pulses.counted = 0;
  }

  protected step(step: number): void {
    const { mechanics } = this;
    const isScan = step % scanSteps === 0;
    if (isScan) this.#heedTerminals();
    if (this.isRunning && !this.#fromPulses) {
      this.#sinceHeartbeat += 1 / stepRate;
      const watchdog = this.parameters.value('watchdogTime') / 1000;
      if (watchdog > 0 && this.#sinceHeartbeat > watchdog) {
        this.#linkLost();
      } else if (isScan) {
        this.#scanHoming();
        this.#guard();
      }
    }
    const pulses = this.#pulseIncrements();
    const own = mechanics.servo.enabled && !this.#fromPulses ? this.#generator.advance(1 / stepRate) : 0;
    mechanics.step(mechanics.sense * (own + pulses));
    if (mechanics.servo.tripped && this.current !== 'fault') {
      this.error = errorCode.followingError;
      this.#switchOff('fault');
    }
    if (this.current === 'quick stop active' && !this.#generator.moving) this.#switchOff(this.#afterRamp);
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
      this.#inputs,
      this.statusword,
    ];
  }

  /** Object 0x60FD: bit 0 minus limit, bit 1 plus limit, bit 2 home switch. */
  get #inputs(): number {
    return this.#limits | (this.inputs.isActive('home') ? 4 : 0);
  }

  cells(): Readonly<Record<string, PlainCell>> {
    const { mechanics, inputs, pulses } = this;
    const kept = keptCells();
    const positive = (name: 'speed' | 'acceleration' | 'deceleration' | 'quickStop') =>
      kept(name, (value) => (value > 0 ? void this.setTarget({ [name]: value }) : false));
    return {
      ...this.driveCells(),
      modeOfOperation: kept('modeOfOperation', (mode) => {
        if (![0, 1, 3, 6].includes(mode)) return false;
        this.mode = mode;
        return true;
      }),
      targetPosition: kept('targetPosition', (position) => void this.setTarget({ position })),
      targetVelocity: kept('targetVelocity', (velocity) => void this.setTarget({ velocity })),
      profileVelocity: positive('speed'),
      profileAcceleration: positive('acceleration'),
      profileDeceleration: positive('deceleration'),
      profileJerk: kept('jerk', (jerk) => void this.setTarget({ jerk })),
      quickStopDeceleration: positive('quickStop'),
      heartbeat: kept('heartbeat', () => void this.heartbeat()),
      modeDisplay: { read: () => this.mode },
      positionCounts: { read: () => mechanics.positionCounts },
      positionIncrements: { read: () => mechanics.positionIncrements },
      velocityCounts: { read: () => mechanics.velocityCounts },
      followingErrorCounts: { read: () => mechanics.followingErrorCounts },
      torque: { read: () => mechanics.torque },
      inputs: { read: () => this.#inputs },
      inputLevels: { read: () => inputs.levels },
      inputStates: { read: () => inputs.active },
      inputForceStates: kept('inputForceStates', (states) => void (this.#forcedStates = states)),
      inputForceMask: { read: () => inputs.forced, write: (mask) => this.#force(mask) },
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
