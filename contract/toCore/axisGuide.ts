import type { AxisValues } from '@kavrid/core/chain';
import { accelerationStretches, type DriveTrain } from '@kavrid/core/motion';
import type { AxisGuide } from '@kavrid/core/procedure';
import { toNumber } from '@kavrid/core/quantity';
import { valueOf, type Evaluation } from '@kavrid/core/sheet';
import type { AxisDocument } from '../documents.ts';
import { holdsPosition } from './drivePlan.ts';
import { predictedHoming } from './predictedHoming.ts';

/** What guided steps work by, from the plan of an axis. */
export function axisGuide(
  document: AxisDocument,
  results: Evaluation<AxisValues>,
  plan: Pick<AxisGuide, 'unit' | 'isSuspended' | 'jogAcceleration' | 'quickStopDeceleration'> & {
    readonly jogLimit: number;
    readonly unitsPerCount: number;
  },
): AxisGuide {
  const { settings, motor, brake, motion, protection, command } = document;
  const counts = valueOf(results.countsPerRevolution);
  const unitsPerTurn = Math.abs(plan.unitsPerCount) * (counts === undefined ? 0 : toNumber(counts));
  const isLinearMotor = motor.form === 'linear';
  const isEndless = motion.kind === 'rotary' && motion.endless;
  const travel = valueOf(results.travel);
  const hasLoop = command.kind === 'analog' && command.meaning === 'speed' && command.loop !== null;
  const { jogLimit, unitsPerCount: _, ...rest } = plan;
  return {
    ...rest,
    jogLimit: finiteOrNull(jogLimit),
    highestSpeed: finiteOrNull(valueOf(results.highestSpeed)),
    unitsPerTurn,
    isLinearMotor,
    radiansPerUnit: (isLinearMotor ? 0.001 : 2 * Math.PI) / unitsPerTurn,
    train: trainOf(results),
    ratedTorque: valueOf(results.ratedTorque) ?? null,
    peakTorque: valueOf(results.peakTorque) ?? null,
    plannedTorqueLimit: settings.torqueLimit,
    travel: isEndless || travel === undefined || motion.kind === 'dosing' ? null : toNumber(travel),
    isEndless: isEndless || motion.kind === 'dosing',
    isPair: document.pair !== null,
    positionGain: holdsPosition(document) ? settings.positionGain : null,
    velocityFeedforward: settings.velocityFeedforward,
    followingErrorWindow: holdsPosition(document) ? settings.followingErrorWindow : null,
    brake,
    loopIn: hasLoop ? 'controller' : holdsPosition(document) ? 'drive' : 'none',
    commandedBy: command.kind === 'choice' ? 'inputs' : 'from' in command ? 'signal' : 'pulses',
    homing: homingGuide(document, results),
    hasTorqueOff: protection.safeTorqueOff !== 'none' && protection.safeTorqueOff !== 'bridged',
  };
}

/** What is to be proven of a homing. */
function homingGuide(document: AxisDocument, results: Evaluation<AxisValues>): AxisGuide['homing'] {
  const { homing, settings, pair } = document;
  const longest = valueOf(predictedHoming(document, results))?.longest;
  return {
    by: homing.by,
    positionAtHome: homing.positionAtHome ?? 0,
    restReads: longest && longest.because === undefined ? longest.reads : null,
    minusSoftLimit: settings.minusSoftLimit,
    plusSoftLimit: settings.plusSoftLimit,
    isAbsolute: homing.absolute !== null,
    pair: pair && { skewLimit: pair.skewLimit, squaringOffset: pair.squaringOffset },
  };
}

/** What travels as JSON is a number or nothing. */
const finiteOrNull = (value: number | undefined): number | null =>
  value !== undefined && Number.isFinite(value) ? value : null;

/** A train that jams can neither be stopped nor predicted: nothing is known of it. */
function trainOf({ driveTrain }: Evaluation<AxisValues>): DriveTrain | null {
  const train = valueOf(driveTrain);
  if (!train) return null;
  try {
    for (const sense of [1, -1] as const) accelerationStretches(train, sense);
    return train;
  } catch (error) {
    if (error instanceof RangeError) return null;
    throw error;
  }
}
