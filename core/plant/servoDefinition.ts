import { accelerationStretches, type Sense, type StageLoss } from '../motion/index.ts';
import { noNotch, notchStep, type Notch, type NotchStep } from './notch.ts';

/**
 * A servo drive with its axis, for stepping in time. Everything is at the motor shaft; SI units, angles in rad,
 * positions in encoder counts.
 */
export interface ServoDefinition {
  /**
   * What the drive is commanded by; position by default. Increments are then speeds in rad/s, the drive closing its speed loop
   * only, or torques in N·m, within its torque limit.
   */
  readonly commandedBy?: 'position' | 'speed' | 'torque';
  /** Steps a second; 8000 by default. */
  readonly stepRate: number;
  readonly countsPerRevolution: number;
  readonly gearNumerator: number;
  readonly gearDenominator: number;
  readonly rotorInertia: number;
  /** All but the rotor, with the stages. */
  readonly loadInertia: number;
  /** What the mechanics lose, from the load to the motor, with inertias that are part of `loadInertia`; absent: nothing. */
  readonly stages?: readonly StageLoss[];
  /** N·m/rad between motor and load; 0 for a rigid axis. */
  readonly stiffness: number;
  /** N·m·s/rad between motor and load. */
  readonly damping: number;
  /** At the load, brought to the motor without losses. */
  readonly coulombFriction: number;
  readonly viscousFriction: number;
  /** Torque needed to hold the load; positive when plus is up. */
  readonly gravityTorque: number;
  readonly ratedTorque: number;
  readonly peakTorque: number;
  /** Fraction of rated torque. */
  readonly torqueLimit: number;
  /** s, of the current loop */
  readonly torqueTimeConstant: number;
  /** 1/s */
  readonly positionGain: number;
  /** rad/s, bandwidth of the speed loop for the inertia that the drive believes in */
  readonly speedBandwidth: number;
  /** s; 0 turns the integral off */
  readonly speedIntegralTime: number;
  /** Load over rotor inertia, as keyed into the drive. */
  readonly assumedInertiaRatio: number;
  /** 0 … 1 of the demanded speed */
  readonly velocityFeedforward: number;
  /** 0 … 2 of the torque that the demanded acceleration takes by the inertia that the drive believes in; absent: none */
  readonly accelerationFeedforward?: number;
  /** s, first-order filter of the measured and of the demanded speed */
  readonly velocityFilterTime: number;
  /** s, first-order filter of the torque command, and a notch in it; absent: none */
  readonly torqueFilterTime?: number;
  readonly notch?: Notch | undefined;
  /** Counts; the drive trips beyond it. */
  readonly followingErrorWindow: number;
  /** Counts at the load where the limit switches close, seen from zero. */
  readonly minusLimit: number;
  readonly plusLimit: number;
  /** Counts after each whole revolution at which the index pulse comes. */
  readonly indexOffset: number;
  /** −1 where two phases of the motor are exchanged, so that a torque turns it the other way. */
  readonly torqueSense?: 1 | -1;
  /** −1 where the channels of the encoder are exchanged, so that it counts backwards. */
  readonly encoderSense?: 1 | -1;
}

/** What a step needs, worked out once. */
export interface ServoCoefficients {
  readonly dt: number;
  readonly gearNumerator: number;
  readonly gearDenominator: number;
  readonly countsPerRevolution: number;
  readonly countsPerRadian: number;
  readonly radiansPerCount: number;
  /** rad/s for one count a step */
  readonly speedPerCount: number;
  readonly elastic: boolean;
  readonly speedCommanded: boolean;
  readonly torqueCommanded: boolean;
  readonly torqueSense: number;
  readonly encoderSense: number;
  readonly motorStep: number;
  readonly motorInertia: number;
  readonly loadInertia: number;
  readonly stiffness: number;
  readonly damping: number;
  /** Torque at which each stretch ends, its offset and dt over its inertia, in turn; see {@link accelerationStretches}. */
  readonly towardsPlus: Float64Array;
  readonly towardsMinus: Float64Array;
  readonly viscousFriction: number;
  readonly gravityTorque: number;
  readonly torqueLimit: number;
  readonly torqueShare: number;
  /** rad/s of demand a count of following error */
  readonly speedGainPerCount: number;
  readonly speedGain: number;
  readonly integralStep: number;
  readonly velocityFeedforward: number;
  /** N·m of feedforward for 1 rad/s² of demand, with its own filter; 0: none */
  readonly accelerationGain: number;
  readonly accelerationShare: number;
  /** Whether the torque command passes a notch and a filter. */
  readonly torqueFiltered: boolean;
  readonly torqueFilterShare: number;
  readonly notch: NotchStep;
  readonly filterShare: number;
  readonly followingErrorWindow: number;
  readonly minusLimit: number;
  readonly plusLimit: number;
  readonly indexOffset: number;
}

const positive = [
  'stepRate',
  'countsPerRevolution',
  'gearNumerator',
  'gearDenominator',
  'rotorInertia',
  'ratedTorque',
  'peakTorque',
] as const;
const notNegative = [
  'loadInertia',
  'stiffness',
  'damping',
  'coulombFriction',
  'viscousFriction',
  'torqueLimit',
  'torqueTimeConstant',
] as const;

/** s: the demanded acceleration comes from counts and is filtered more than the speed */
export const accelerationFilterTime = 0.002;

/**
 * @throws RangeError for a value outside its range, and for a resonance too fast for the step: semi-implicit Euler is
 * stable below ω·dt = 2 and accurate well below it, so ω·dt above 0.5 is refused.
 */
export function servoCoefficients(definition: ServoDefinition): ServoCoefficients {
  for (const name of positive) {
    if (!(definition[name] > 0)) throw new RangeError(`The plant needs ${name} above 0, not ${definition[name]}.`);
  }
  for (const name of notNegative) {
    if (!(definition[name] >= 0))
      throw new RangeError(`The plant needs ${name} of 0 or more, not ${definition[name]}.`);
  }
  const dt = 1 / definition.stepRate;
  const elastic = definition.stiffness > 0 && definition.loadInertia > 0;
  const whole = definition.rotorInertia + definition.loadInertia;
  const motorInertia = elastic ? definition.rotorInertia : whole;
  const loadInertia = elastic ? definition.loadInertia : whole;
  if (elastic) {
    const resonance = Math.sqrt(definition.stiffness * (1 / motorInertia + 1 / loadInertia));
    if (resonance * dt > 0.5) {
      throw new RangeError(
        `The resonance at ${(resonance / 2 / Math.PI).toFixed(0)} Hz is too fast for steps at ${definition.stepRate} Hz; make the axis rigid or the steps shorter.`,
      );
    }
  }
  const radiansPerCount = (2 * Math.PI) / definition.countsPerRevolution;
  const stages = definition.stages ?? [];
  const train = {
    inertia: elastic ? 0 : definition.rotorInertia,
    loadInertia: Math.max(0, definition.loadInertia - stages.reduce((sum, { inertia }) => sum + inertia, 0)),
    friction: definition.coulombFriction,
    gravity: definition.gravityTorque,
    stages,
  };
  const stretches = (sense: Sense) => {
    const all = accelerationStretches(train, sense);
    return Float64Array.from(
      all.flatMap(({ offset, inertia }, k) => [all[k + 1]?.from ?? Infinity, offset, dt / inertia]),
    );
  };
  const believedInertia = definition.rotorInertia * (1 + definition.assumedInertiaRatio);
  const speedGain = definition.speedBandwidth * believedInertia;
  return {
    dt,
    gearNumerator: definition.gearNumerator,
    gearDenominator: definition.gearDenominator,
    countsPerRevolution: definition.countsPerRevolution,
    countsPerRadian: 1 / radiansPerCount,
    radiansPerCount,
    speedPerCount: radiansPerCount / dt,
    elastic,
    speedCommanded: definition.commandedBy === 'speed',
    torqueCommanded: definition.commandedBy === 'torque',
    torqueSense: definition.torqueSense ?? 1,
    encoderSense: definition.encoderSense ?? 1,
    motorStep: dt / motorInertia,
    motorInertia,
    loadInertia,
    stiffness: definition.stiffness,
    damping: definition.damping,
    towardsPlus: stretches(1),
    towardsMinus: stretches(-1),
    viscousFriction: definition.viscousFriction,
    gravityTorque: definition.gravityTorque,
    torqueLimit: Math.min(definition.peakTorque, definition.torqueLimit * definition.ratedTorque),
    torqueShare: 1 - Math.exp(-dt / Math.max(definition.torqueTimeConstant, 1e-9)),
    speedGainPerCount: definition.positionGain * radiansPerCount,
    speedGain,
    integralStep: definition.speedIntegralTime > 0 ? (speedGain * dt) / definition.speedIntegralTime : 0,
    velocityFeedforward: definition.commandedBy === 'speed' ? 1 : definition.velocityFeedforward,
    accelerationGain:
      definition.commandedBy === 'speed' ? 0 : (definition.accelerationFeedforward ?? 0) * believedInertia,
    accelerationShare: 1 - Math.exp(-dt / accelerationFilterTime),
    torqueFiltered: definition.notch !== undefined || (definition.torqueFilterTime ?? 0) > 0,
    torqueFilterShare: 1 - Math.exp(-dt / Math.max(definition.torqueFilterTime ?? 0, 1e-9)),
    notch: definition.notch ? notchStep(definition.notch, dt) : noNotch,
    filterShare: 1 - Math.exp(-dt / Math.max(definition.velocityFilterTime, 1e-9)),
    followingErrorWindow: definition.followingErrorWindow,
    minusLimit: definition.minusLimit,
    plusLimit: definition.plusLimit,
    indexOffset: definition.indexOffset,
  };
}
