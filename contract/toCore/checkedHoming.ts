import type { AxisValues } from '@kavrid/core/chain';
import type { CheckedHoming } from '@kavrid/core/findings';
import { homingMethodFacts, type HomingMeans, type HomingPrediction } from '@kavrid/core/homing';
import { neededTorque } from '@kavrid/core/procedure';
import { divide, exact, multiply, toNumber } from '@kavrid/core/quantity';
import { valueOf, type Evaluation } from '@kavrid/core/sheet';
import type { AxisDocument } from '../documents.ts';
import { homingModel, type HomingModel } from './homingModel.ts';

/** Gravity moves the load when the motor lets go; not known to be held is not held. */
export function isSuspended({ load }: AxisDocument, results: Evaluation<AxisValues>): boolean {
  if (load.incline === null || load.incline === 0) return false;
  const train = valueOf(results.driveTrain);
  return train === undefined || Math.abs(train.gravity) > train.friction;
}

/** The absolute encoder of an axis. Its turns over once round an endless axis: N·L/(i·round). */
function absoluteOf(
  { homing: { absolute }, motion }: AxisDocument,
  results: Evaluation<AxisValues>,
): CheckedHoming['absolute'] {
  if (!absolute?.turns) return undefined;
  const { turns, counts, turnsAtHome, hasBattery } = absolute;
  const [turn, ratio, round] = [results.travelPerTurn, results.transmissionRatio, results.travel].map(valueOf);
  const isEndless = motion.kind === 'rotary' && motion.endless;
  return {
    turns,
    lowest: counts === 'from zero' ? 0 : -turns / 2,
    turnsAtHome: turnsAtHome ?? undefined,
    hasBattery,
    loadTurns:
      isEndless && turn && ratio && round ? divide(multiply(exact(turns), turn), multiply(ratio, round)) : undefined,
  };
}

/** What the checks of a homing look at. @param longest as predicted for the model */
export function checkedHoming(
  axis: AxisDocument,
  results: Evaluation<AxisValues>,
  model: HomingModel,
  longest: HomingPrediction,
  drive: CheckedHoming['drive'],
): Omit<CheckedHoming, 'quantity'> {
  const { homing, settings, pair } = axis;
  const counts = valueOf(results.countsPerRevolution);
  const torqueLimit = homing.torqueLimit ?? settings.torqueLimit ?? undefined;
  return {
    by: homing.by,
    facts: homingMethodFacts(homing.method),
    definition: model.definition,
    world: model.world,
    indexAt: model.indexAt,
    longest,
    travel: model.travel,
    isEndless: model.isEndless,
    isSuspended: isSuspended(axis, results),
    softLimits: { minus: settings.minusSoftLimit, plus: settings.plusSoftLimit },
    neededTorque: neededTorque({
      train: valueOf(results.driveTrain) ?? null,
      ratedTorque: valueOf(results.ratedTorque) ?? null,
    }),
    torqueLimit,
    countsPerTurn: counts && toNumber(counts),
    pair: pair ? { squaring: pair.squaring, squaringOffset: pair.squaringOffset ?? undefined } : undefined,
    homeContact: homing.homeContact === 'not settled' ? undefined : homing.homeContact,
    plusInputAt: axis.protection.limits.plusInputAt,
    absolute: absoluteOf(axis, results),
    drive,
  };
}

/** What the document says that there is to home on. */
export function homingMeans(axis: AxisDocument, results: Evaluation<AxisValues>): HomingMeans {
  const { homing, motion } = axis;
  const facts = homingMethodFacts(homing.method);
  const isEndless = motion.kind === 'rotary' && motion.endless;
  const model = valueOf(homingModel(axis, results));
  const usesHome = facts.kind === 'edge' && facts.input === 'homeSwitch';
  return {
    hasLimits: motion.kind === 'linear',
    homeSwitch: usesHome ? facts.range : homing.homeSwitchFrom === null ? 'none' : 'flag',
    hasIndex: true,
    hasMinusStop: homing.minusStop !== null,
    hasPlusStop: homing.plusStop !== null,
    hasAbsolute: homing.absolute !== null,
    isSuspended: isSuspended(axis, results),
    isEndless,
    turnsOverTravel: model ? model.travel / model.world.indexSpacing : Infinity,
    known: undefined,
  };
}
