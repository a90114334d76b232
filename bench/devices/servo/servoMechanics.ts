import {
  servoCoefficients,
  servoState,
  stepServo,
  type ServoCoefficients,
  type ServoDefinition,
} from '@kavrid/core/plant';
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
  /** Counts between which the home switch is on. */
  readonly homeSwitch: { readonly from: number; readonly to: number };
};

/** What can be wrong with the mechanics and their supply: times the friction, and times the torque that can be had. */
export interface AxisTrouble {
  friction: number;
  torque: number;
}

/** The axis of a servo: the plant, seen through its rotation sense and its zero. */
export class ServoMechanics {
  readonly world: AxisWorld;
  readonly servo;
  readonly trouble: AxisTrouble = { friction: 1, torque: 1 };
  readonly #parameters: ParameterStore;
  readonly #stepRate: number;
  #coefficients: ServoCoefficients;
  /** Where the position reads 0. */
  zeroCounts: number;

  constructor(world: AxisWorld, parameters: ParameterStore, stepRate: number) {
    this.world = world;
    this.#parameters = parameters;
    this.#stepRate = stepRate;
    this.servo = servoState(world.startCounts, world.countsPerRevolution);
    this.servo.enabled = 0;
    this.zeroCounts = world.startCounts;
    this.#coefficients = this.#coefficientsNow();
  }

  #coefficientsNow(): ServoCoefficients {
    const value = (key: string) => this.#parameters.value(key);
    const { coulombFriction, peakTorque } = this.world;
    return servoCoefficients({
      ...this.world,
      coulombFriction: coulombFriction * this.trouble.friction,
      peakTorque: peakTorque * this.trouble.torque,
      stepRate: this.#stepRate,
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

  /** Parameters or the mechanics have changed; what works at once works now. */
  changed(): void {
    this.#coefficients = this.#coefficientsNow();
  }

  step(increments: number): void {
    stepServo(this.#coefficients, this.servo, increments);
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
    return this.#coefficients.gearNumerator / this.#coefficients.gearDenominator;
  }
  get positionCounts(): number {
    return this.sense * (this.servo.actualCounts - this.zeroCounts);
  }
  get positionIncrements(): number {
    return Math.round(this.positionCounts / this.countsPerIncrement);
  }
  get demandCounts(): number {
    return this.sense * (this.servo.demandCounts - this.zeroCounts);
  }
  get velocityCounts(): number {
    return Math.round(this.sense * this.servo.actualSpeed * this.#coefficients.countsPerRadian);
  }
  get demandVelocityCounts(): number {
    return Math.round(this.sense * this.servo.demandSpeed * this.#coefficients.countsPerRadian);
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
    return this.servo.loadAngle * this.#coefficients.countsPerRadian;
  }
  /** Normally open: its flag is short. */
  get isOnHomeFlag(): boolean {
    const { from, to } = this.world.homeSwitch;
    return this.loadCounts >= from && this.loadCounts <= to;
  }
}
