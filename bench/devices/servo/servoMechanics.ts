import type { ServoDefinition } from '@kavrid/core/plant';
import { corePlant, type AxisPlant, type MakePlant } from '../../world/axisPlant.ts';
import { HoldingBrake, type BrakeWorld } from '../../world/holdingBrake.ts';
import type { ParameterStore } from '../parameterStore.ts';

/** The mechanics a simulated servo is bolted to; what no parameter can change. SI at the motor shaft, counts. */
export type AxisWorld = Pick<
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
  /** Counts between which the home switch is on; on an endless axis it comes again after so many. */
  readonly homeSwitch: { readonly from: number; readonly to: number; readonly every?: number };
  readonly brake?: BrakeWorld;
  /** Built in mirrored: its shaft turns the other way for the same motion of the load. */
  readonly isMirrored?: boolean;
  /** Counts beyond which the load cannot go. */
  readonly minusStop?: number;
  readonly plusStop?: number;
};

/** What can be wrong with the mechanics, their motor and their supply. */
export interface AxisTrouble {
  /** Times the friction, and times the torque that can be had. */
  friction: number;
  torque: number;
  /** −1: the channels of the encoder, or two phases of the motor, are exchanged. */
  encoder: 1 | -1;
  phases: 1 | -1;
  /** Travel for a turn of the motor, times what it should be: a wrong pulley, a gearbox of another ratio. */
  travel: number;
  /** The coupling slips above this share of the rated torque; infinite: never. */
  slipsAbove: number;
}

/** Share of the motion that gets through a coupling while it slips. */
const slippingShare = 0.5;

/** N·m that a hand turns a shaft against. */
const handTorque = 0.1;

/** What the drive hands to its motor: where it is to be, how fast, or with what torque. */
export type CommandedBy = NonNullable<ServoDefinition['commandedBy']>;

/** The axis of a servo: the plant, seen through its rotation sense and its zero. */
export class ServoMechanics {
  readonly world: AxisWorld;
  readonly #plant: AxisPlant;
  readonly trouble: AxisTrouble = { friction: 1, torque: 1, encoder: 1, phases: 1, travel: 1, slipsAbove: Infinity };
  readonly brake: HoldingBrake | undefined;
  /** rad/s at which a hand turns the shaft; it lets go of a motor that is on. */
  turnedByHand = 0;
  /** A hand at the shaft of a motor that is off: it turns it on by so many turns, half a turn a second towards plus, and then holds it. */
  hand: { turnsLeft: number } | undefined;
  /** Counts below which a prop lets a load without power not come; undefined: it is not propped. */
  proppedAt: number | undefined;
  readonly #parameters: ParameterStore;
  readonly #stepRate: number;
  readonly #countsPerRadian: number;
  /** Where the position reads 0. */
  zeroCounts: number;
  #commandedBy: CommandedBy = 'position';
  /** Share of rated torque that a stored move allows; infinite: only the parameter counts. */
  #moveTorque = Infinity;
  /** Where the load is in the world, in counts of a motor that is as it should be. */
  #load: number;

  constructor(world: AxisWorld, parameters: ParameterStore, stepRate: number, makePlant: MakePlant = corePlant) {
    this.world = world;
    this.#parameters = parameters;
    this.#stepRate = stepRate;
    this.zeroCounts = world.startCounts;
    this.#load = world.startCounts;
    this.brake = world.brake && new HoldingBrake(world.brake);
    this.#countsPerRadian = world.countsPerRevolution / (2 * Math.PI);
    this.#plant = makePlant(world.startCounts, this.#definition());
    this.servo.enabled = 0;
  }

  get servo(): AxisPlant['state'] {
    return this.#plant.state;
  }

  #definition(): ServoDefinition {
    const value = (key: string) => this.#parameters.value(key);
    const { coulombFriction, peakTorque } = this.world;
    return {
      ...this.world,
      commandedBy: this.#commandedBy,
      torqueSense: this.trouble.phases,
      encoderSense: this.trouble.encoder,
      // A brake that is shut holds, and slips where it is turned against its torque: that is what friction does.
      coulombFriction: coulombFriction * this.trouble.friction + (this.brake?.torque ?? 0),
      peakTorque: peakTorque * this.trouble.torque,
      stepRate: this.#stepRate,
      gearNumerator: value('gearNumerator'),
      gearDenominator: value('gearDenominator'),
      stiffness: 0,
      damping: 0,
      torqueLimit: Math.min(value('torqueLimit') / 100, this.#moveTorque),
      torqueTimeConstant: 0.0005,
      positionGain: value('positionGain'),
      speedBandwidth: value('speedBandwidth'),
      speedIntegralTime: value('speedIntegralTime') / 1000,
      assumedInertiaRatio: value('inertiaRatio'),
      velocityFeedforward: value('velocityFeedforward') / 100,
      accelerationFeedforward: value('accelerationFeedforward') / 100,
      torqueFilterTime: value('torqueFilter') / 1000,
      notch:
        value('notchFrequency') === 0
          ? undefined
          : {
              frequency: 2 * Math.PI * value('notchFrequency'),
              width: value('notchWidth') / 200,
              depth: 10 ** (-value('notchDepth') / 20),
            },
      velocityFilterTime: 0.0003,
      followingErrorWindow: value('followingErrorWindow'),
    };
  }

  /**
   * Power has come: the position reads 0, or what an absolute encoder tells. @param encoderTurns motor turns that it tells apart; 0: none,
   * or what it told is lost
   */
  powered(encoderTurns: number): void {
    const { actualCounts } = this.servo;
    const range = encoderTurns * this.world.countsPerRevolution;
    // Its turns count to both sides of where it was delivered.
    const read = (counts: number) => modulo(counts + range / 2, range);
    this.zeroCounts = range === 0 ? actualCounts : actualCounts - (read(actualCounts) - read(this.zeroCounts));
  }

  /** Parameters or the mechanics have changed; what works at once works now. */
  changed(): void {
    this.#plant.change(this.#definition());
  }

  /** @param share of rated torque; infinite: only the parameter counts */
  limitMove(share: number): void {
    if (share === this.#moveTorque) return;
    this.#moveTorque = share;
    this.changed();
  }

  commandBy(by: CommandedBy): void {
    if (by === this.#commandedBy) return;
    this.#commandedBy = by;
    this.changed();
  }

  /** Exchanges wires of the motor or its encoder; what the position reads stays. */
  exchange(part: 'encoder' | 'phases', sense: 1 | -1): void {
    const { positionCounts, servo, trouble } = this;
    trouble[part] = sense;
    this.changed();
    servo.actualCounts = Math.floor(trouble.encoder * servo.motorAngle * this.#countsPerRadian);
    this.zeroCounts = servo.actualCounts - this.sense * positionCounts;
  }

  /** @param demand increments, rad/s or N·m, as it is commanded @param isBrakeFed current flows in the coil of its brake */
  step(demand: number, isBrakeFed: boolean): void {
    const { servo, trouble } = this;
    if (this.brake?.advance(isBrakeFed, 1 / this.#stepRate)) this.changed();
    if (servo.enabled === 0 && (this.brake?.torque ?? 0) < handTorque) this.#turnByHand();
    const [before, shaft] = [servo.loadAngle, servo.motorAngle];
    this.#plant.step(demand);
    // A stiff shaft is turned as far as a free one; it takes longer.
    if (this.hand) this.hand.turnsLeft -= (servo.motorAngle - shaft) / (2 * Math.PI);
    const isSlipping = Math.abs(servo.torque) > trouble.slipsAbove * this.world.ratedTorque;
    if (servo.enabled === 0 && servo.motorSpeed < 0 && this.#load <= (this.proppedAt ?? -Infinity))
      [servo.motorSpeed, servo.loadSpeed] = [0, 0];
    const side = this.world.isMirrored ? -1 : 1;
    const moved = side * (servo.loadAngle - before) * this.#countsPerRadian;
    const next = this.#load + moved * trouble.travel * (isSlipping ? slippingShare : 1);
    if (!this.#isStopped(next, moved)) return void (this.#load = next);
    [servo.motorAngle, servo.loadAngle, servo.motorSpeed, servo.loadSpeed] = [shaft, before, 0, 0];
  }

  /** Something hard stands in the way. */
  #isStopped(load: number, moved: number): boolean {
    const { minusStop = -Infinity, plusStop = Infinity } = this.world;
    return (load < minusStop && moved < 0) || (load > plusStop && moved > 0);
  }

  #turnByHand(): void {
    const { servo, hand } = this;
    if (!hand && this.turnedByHand === 0) return;
    const speed = hand ? (hand.turnsLeft > 0 ? Math.PI : 0) : this.turnedByHand;
    servo.motorSpeed = speed;
    servo.loadSpeed = speed;
  }

  /** The demand begins where the axis is. */
  holdHere(): void {
    this.servo.demandCounts = this.servo.actualCounts;
    this.servo.gearRemainder = 0;
    this.servo.enabled = 1;
  }

  /** +1 or −1: which way plus turns the shaft. */
  get sense(): number {
    return this.#parameters.value('rotationSense') === 1 ? -1 : 1;
  }
  get countsPerIncrement(): number {
    return this.#parameters.value('gearNumerator') / this.#parameters.value('gearDenominator');
  }
  get positionCounts(): number {
    return this.sense * (this.servo.actualCounts - this.zeroCounts);
  }
  /** As the encoder counts, towards plus, in 32 bits. */
  get encoderCounts(): number {
    return (this.sense * this.servo.actualCounts) | 0;
  }
  get positionIncrements(): number {
    return Math.round(this.positionCounts / this.countsPerIncrement);
  }
  get demandCounts(): number {
    return this.sense * (this.servo.demandCounts - this.zeroCounts);
  }
  get velocityCounts(): number {
    return Math.round(this.sense * this.servo.actualSpeed * this.#countsPerRadian);
  }
  get demandVelocityCounts(): number {
    return Math.round(this.sense * this.servo.demandSpeed * this.#countsPerRadian);
  }
  get followingErrorCounts(): number {
    return this.sense * (this.servo.demandCounts - this.servo.actualCounts);
  }
  /** 0.1 % of rated torque */
  get torque(): number {
    return Math.round(((this.sense * this.servo.torque) / this.world.ratedTorque) * 1000);
  }
  /** Where the load is in the world, whatever the drive makes of it. */
  get loadCounts(): number {
    return this.#load;
  }
  get isAtMinusLimit(): boolean {
    return this.#load <= this.world.minusLimit;
  }
  get isAtPlusLimit(): boolean {
    return this.#load >= this.world.plusLimit;
  }
  /** Normally open: its flag is short. */
  get isOnHomeFlag(): boolean {
    const { from, to, every } = this.world.homeSwitch;
    const at = every === undefined ? this.#load : from + modulo(this.#load - from, every);
    return at >= from && at <= to;
  }
}

const modulo = (value: number, every: number): number => ((value % every) + every) % every;
