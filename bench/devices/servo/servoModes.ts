import { controlBit, operationMode, statusBit } from '@kavrid/core/drive';
import {
  startHoming,
  stepHoming,
  type HomingDefinition,
  type HomingFailure,
  type HomingInputs,
  type HomingState,
} from '@kavrid/core/homing';
import { homingMethodOf } from '../homingNumbers.ts';
import type { ParameterStore } from '../parameterStore.ts';
import { MotionGenerator, type AxisAhead, type SweepOrder } from './motionGenerator.ts';
import type { ServoMechanics } from './servoMechanics.ts';
import type { ServoTerminals } from './servoTerminals.ts';

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

/** s between two looks at the inputs, and for which an axis must stand and push to be blocked. */
const scanTime = 0.001;
const blockedFor = 0.05;
/** Of the torque limit, and rad/s: what counts as pushing and standing. */
const pushShare = 0.9;
/** rad/s below which a leg of a homing has ended. */
const restSpeed = 0.05;
const standSpeed = 0.5;

/** Modes of operation that the drive has, object 0x6060. */
const modes: readonly number[] = [
  operationMode.none,
  operationMode.profilePosition,
  operationMode.profileVelocity,
  operationMode.homing,
];

/** The servo drive’s own motion: to a position, at a speed, and homing; commanded over the bus, or by stored moves. */
export class ServoModes {
  readonly generator = new MotionGenerator();
  readonly target: MotionTarget = {
    position: 0,
    velocity: 0,
    speed: 1,
    acceleration: 1,
    deceleration: 1,
    jerk: 0,
    quickStop: 1e6,
  };
  homed = false;
  /** Gear and sense that home was found with: another one makes what is kept of it wrong. */
  #homedWith = '';
  #mode: number = operationMode.none;
  #homing: HomingState | undefined;
  #acknowledged = false;
  /** s since a homing began, and for which the axis has stood against something. */
  #homingTime = 0;
  #blockedTime = 0;
  readonly #mechanics: ServoMechanics;
  readonly #terminals: ServoTerminals;
  readonly #parameters: ParameterStore;
  readonly #begins: () => void;

  /** @param begins called when a motion begins */
  constructor(mechanics: ServoMechanics, terminals: ServoTerminals, parameters: ParameterStore, begins: () => void) {
    this.#mechanics = mechanics;
    this.#terminals = terminals;
    this.#parameters = parameters;
    this.#begins = begins;
  }

  get mode(): number {
    return this.#mode;
  }
  get hasFailed(): boolean {
    return this.#homing?.phase === 'failed';
  }
  /** Why the last homing failed; undefined: it did not. */
  get failure(): HomingFailure | undefined {
    return this.#homing?.failure;
  }
  get #isHoming(): boolean {
    return this.#homing !== undefined && this.#homing.phase !== 'done' && this.#homing.phase !== 'failed';
  }

  /** @returns false for a mode that the drive does not have. */
  setMode(mode: number, isRunning: boolean): boolean {
    if (!modes.includes(mode)) return false;
    if (isRunning && this.generator.moving) this.halt();
    this.#mode = mode;
    this.#acknowledged = false;
    return true;
  }

  get statusBits(): number {
    const { generator } = this;
    const standing = generator.atTarget || (!generator.moving && this.#mode === operationMode.profileVelocity);
    switch (this.#mode) {
      case operationMode.homing:
        return (
          (this.homed && this.#homing?.phase === 'done' ? statusBit.acknowledged : 0) |
          (generator.moving ? 0 : statusBit.targetReached) |
          (this.hasFailed ? statusBit.homingError : 0)
        );
      case operationMode.profilePosition:
        return (standing ? statusBit.targetReached : 0) | (this.#acknowledged ? statusBit.acknowledged : 0);
      default:
        return standing ? statusBit.targetReached : 0;
    }
  }

  /** A new target velocity; it counts at once in its mode. */
  run(velocity: number): void {
    if (this.#mode === operationMode.profileVelocity) this.runAt(velocity);
  }

  /** @param velocity increments/s */
  runAt(velocity: number): void {
    this.#begins();
    this.generator.run(velocity, this.target.acceleration);
  }

  /** Excites the axis by a swept speed. @returns false in another mode than profile velocity, in motion, or where it makes no sense */
  sweep(order: SweepOrder): boolean {
    if (this.#mode !== operationMode.profileVelocity || !this.generator.sweep(order)) return false;
    this.#begins();
    return true;
  }

  /** @returns the increments of this step */
  advance(dt: number): number {
    return this.generator.advance(dt, this.#waitsFor());
  }

  /** A speed over the bus waits for an axis that is held; whatever else moves it does not. */
  #waitsFor(): AxisAhead | undefined {
    const [speedGap, positionGap] = [this.#parameters.value('waitSpeedGap'), this.#parameters.value('waitPositionGap')];
    if (this.#mode !== operationMode.profileVelocity || (speedGap === 0 && positionGap === 0)) return undefined;
    const { countsPerIncrement, velocityCounts, followingErrorCounts } = this.#mechanics;
    return {
      speedGap: speedGap === 0 ? Infinity : speedGap / countsPerIncrement,
      positionGap: positionGap === 0 ? Infinity : positionGap / countsPerIncrement,
      actualSpeed: velocityCounts / countsPerIncrement,
      lead: followingErrorCounts / countsPerIncrement,
    };
  }

  /** What the axis ran against holds it: the demand goes no further. */
  holdHere(): void {
    this.generator.freeze();
    this.#mechanics.holdHere();
  }

  /** The bits of a controlword that a mode has. */
  command(word: number, before: number): void {
    const rising = (bit: number) => (word & bit) !== 0 && (before & bit) === 0;
    if (word & controlBit.halt) return this.halt();
    if (this.#mode === operationMode.profilePosition) {
      if (rising(controlBit.newSetPoint)) this.#startMove();
      if ((word & controlBit.newSetPoint) === 0) this.#acknowledged = false;
    } else if (this.#mode === operationMode.homing && rising(controlBit.startHoming)) {
      this.home();
    }
  }

  home(): void {
    this.homed = false;
    this.#homingTime = 0;
    this.#blockedTime = 0;
    this.#begins();
    this.#mechanics.limitMove(this.#parameters.value('homingTorqueLimit') / 100);
    this.#homing = startHoming(this.#homingDefinition(), this.#homingInputs());
    this.#finishHoming();
  }

  #startMove(): void {
    const { position, acceleration } = this.target;
    this.#acknowledged = this.moveTo(position * this.#mechanics.countsPerIncrement, acceleration);
  }

  /** Moves by the motion registers to a position in counts. @returns false in motion, and outside the soft limits */
  moveTo(counts: number, deceleration = this.target.deceleration): boolean {
    const { countsPerIncrement, demandCounts } = this.#mechanics;
    const { speed, acceleration, jerk } = this.target;
    const inside =
      counts >= this.#parameters.value('minusSoftLimit') && counts <= this.#parameters.value('plusSoftLimit');
    if (this.homed && !inside) return false;
    const target = this.generator.position + (counts - demandCounts) / countsPerIncrement;
    const isTaken = this.generator.moveTo(target, { speed, acceleration, deceleration, jerk: jerk || undefined });
    if (isTaken) this.#begins();
    return isTaken;
  }

  halt(): void {
    const { deceleration, quickStop } = this.target;
    this.generator.run(0, this.#parameters.value('haltOption') === 2 ? quickStop : deceleration);
  }

  /** The ramp of a stop; a homing under way is given up. */
  brake(deceleration: number): void {
    this.#endHoming();
    this.generator.run(0, Math.max(deceleration, 1));
  }

  /** The motor is off. */
  freeze(): void {
    this.#endHoming();
    this.generator.freeze();
  }

  #endHoming(): void {
    if (this.#isHoming) this.#mechanics.limitMove(Infinity);
    this.#homing = undefined;
  }

  /** @param keepsHome an absolute encoder tells where it is */
  restarted(keepsHome: boolean): void {
    this.homed &&= keepsHome && this.#homedWith === this.#scaling;
    this.#mode = operationMode.none;
  }

  /** Looks at the inputs, once a millisecond. */
  scan(): void {
    if (this.#isHoming) return this.#scanHoming();
    this.#guard();
  }

  #homingDefinition(): HomingDefinition {
    const perCount = 1 / this.#mechanics.countsPerIncrement;
    const value = (key: string) => this.#parameters.value(key);
    return {
      method: homingMethodOf(value('homingMethod')),
      searchSpeed: value('homingSearchSpeed') * perCount,
      creepSpeed: value('homingCreepSpeed') * perCount,
      acceleration: value('homingAcceleration') * perCount,
      // By the text of object 0x607C.
      positionAtHome: -value('homeOffset'),
      indexPulse: value('homingIndexPulse'),
      ...(value('homingMostTravel') > 0 ? { mostTravel: value('homingMostTravel') } : {}),
    };
  }

  #homingInputs(): HomingInputs {
    const { sense, servo } = this.#mechanics;
    const { inputs } = this.#terminals;
    return {
      minusLimit: inputs.isActive('minus limit'),
      plusLimit: inputs.isActive('plus limit'),
      homeSwitch: inputs.isActive('home'),
      position: sense * servo.actualCounts,
      // The axis is behind its demand: where that has stopped, it may still run over an edge.
      standsStill: !this.generator.moving && Math.abs(servo.actualSpeed) < restSpeed,
      indexPulses: servo.indexPulses,
      indexPosition: sense * servo.indexCounts,
      isBlocked: this.#blockedTime >= blockedFor,
      seconds: this.#homingTime,
    };
  }

  #scanHoming(): void {
    if (!this.#homing) return;
    const definition = this.#homingDefinition();
    this.#homingTime += scanTime;
    this.#blockedTime = this.#isPushing ? this.#blockedTime + scanTime : 0;
    const { phase } = this.#homing;
    const { state, speed } = stepHoming(definition, this.#homing, this.#homingInputs());
    this.#homing = state;
    // What pushed against the stop is taken back.
    if (phase === 'push' && state.phase !== 'push') this.holdHere();
    this.generator.run(speed, definition.acceleration);
    this.#finishHoming();
  }

  /** It stands, and pushes with nearly all the torque that homing has. */
  get #isPushing(): boolean {
    const { servo, world } = this.#mechanics;
    const percent = Math.min(this.#parameters.value('homingTorqueLimit'), this.#parameters.value('torqueLimit'));
    const most = (percent / 100) * world.ratedTorque;
    return Math.abs(servo.torque) > pushShare * most && Math.abs(servo.actualSpeed) < standSpeed;
  }

  #finishHoming(): void {
    if (this.#homing && !this.#isHoming) this.#mechanics.limitMove(Infinity);
    if (this.#homing?.phase !== 'done' || this.#homing.latched === undefined) return;
    const { positionAtHome } = this.#homingDefinition();
    this.#mechanics.zeroCounts = this.#mechanics.sense * (this.#homing.latched - positionAtHome);
    this.homed = true;
    this.#homedWith = this.#scaling;
  }

  get #scaling(): string {
    return ['gearNumerator', 'gearDenominator', 'rotationSense'].map((key) => this.#parameters.value(key)).join(' ');
  }

  /** A jog slows down in time before a soft limit, and any motion into a limit switch is stopped quickly. */
  #guard(): void {
    const { speed } = this.generator;
    if (this.#terminals.blocks(speed)) return this.generator.run(0, this.target.quickStop);
    if (!this.homed || this.generator.isPlanned || speed === 0) return;
    // The demand is what is braked; the axis follows it with its lag.
    const { countsPerIncrement, demandCounts } = this.#mechanics;
    const stop = demandCounts + Math.sign(speed) * (speed ** 2 / (2 * this.target.deceleration)) * countsPerIncrement;
    const isBeyond =
      speed < 0 ? stop < this.#parameters.value('minusSoftLimit') : stop > this.#parameters.value('plusSoftLimit');
    if (isBeyond) this.halt();
  }
}
