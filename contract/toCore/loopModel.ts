import type { AxisValues } from '@kavrid/core/chain';
import { all, known, map, unknown, type Evaluation, type Outcome } from '@kavrid/core/sheet';
import { accelerationFilterTime, type HostLoop } from '@kavrid/core/plant';
import type { Feedforward, LoopModel } from '@kavrid/core/tuning';
import type { AxisDocument } from '../documents.ts';
import { holdsPosition } from './drivePlan.ts';
import { axisInputOf } from './axisInputOf.ts';
import { hostLoopOf, servoDefinition } from './servoDefinition.ts';

/** Samples of the drive that pass from a measured speed to a torque: one to read, half a one that it is held. Common practice. */
const deadSamples = 1.5;
/** Share of critical damping that a measured resonance is taken to have; an assumption, on the cautious side. */
const assumedDamping = 0.02;

/**
 * The loops of an axis as planned, linear, with the lowest resonance that was entered; unknown where a value is missing, or where nothing
 * closes a position loop.
 */
export function loopModel(axis: AxisDocument, results: Evaluation<AxisValues>): Outcome<LoopModel> {
  const host = holdsPosition(axis) ? undefined : hostLoopOf(axisInputOf(axis).input, results);
  if (!host && !holdsPosition(axis)) return unknown('nothing closes a position loop', '/command/kind');
  return map(all<[Servo, HostLoop | undefined]>(servoDefinition(axis, results), host ?? known(undefined)), (found) => {
    const [definition, loop] = found;
    const servo = { ...definitionOf(definition), ...(loop ? hostedBy(loop) : {}) };
    const { motorInertia, loadInertia } = servo;
    const { resonance } = axis.tuning;
    const swing = resonance === null ? undefined : 2 * Math.PI * resonance;
    const reduced = (motorInertia * loadInertia) / (motorInertia + loadInertia);
    return {
      ...servo,
      stiffness: swing === undefined ? undefined : reduced * swing ** 2,
      damping: swing === undefined ? 0 : 2 * assumedDamping * reduced * swing,
    };
  });
}

/** What the drive adds of the demand, as planned. */
export const feedforwardOf = ({ settings }: AxisDocument, { speedGain }: LoopModel): Feedforward => ({
  velocity: (settings.velocityFeedforward ?? 0) / 100,
  acceleration: (settings.accelerationFeedforward ?? 0) / 100,
  believedInertia: settings.speedBandwidth ? speedGain / settings.speedBandwidth : 0,
  accelerationFilterTime,
});

/** Periods of a controller that pass from a position to its speed: one until it is sent, half a one that it is held. */
const hostPeriods = 1.5;

const hostedBy = ({ gain, integralGain, period, filterTime }: HostLoop): Pick<LoopModel, 'positionGain' | 'host'> => ({
  positionGain: gain,
  host: { integralGain, deadTime: hostPeriods * period, filterTime },
});

type Servo = Extract<ReturnType<typeof servoDefinition>, { readonly state: 'known' }>['value'];

const definitionOf = (servo: Servo): Omit<LoopModel, 'stiffness' | 'damping'> => ({
  motorInertia: servo.rotorInertia,
  loadInertia: servo.loadInertia,
  torqueTimeConstant: servo.torqueTimeConstant,
  torqueFilterTime: servo.torqueFilterTime,
  notch: servo.notch,
  filterTime: servo.velocityFilterTime,
  deadTime: deadSamples / servo.stepRate,
  speedGain: servo.speedBandwidth * servo.rotorInertia * (1 + servo.assumedInertiaRatio),
  speedIntegralTime: servo.speedIntegralTime,
  positionGain: servo.positionGain,
});
