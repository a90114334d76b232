import type { AxisValues } from '@kavrid/core/chain';
import type { ServoDefinition } from '@kavrid/core/plant';
import { toNumber } from '@kavrid/core/quantity';
import { all, known, map, unknown, type Evaluation, type Outcome } from '@kavrid/core/sheet';
import type { AxisDocument } from '../documents.ts';

const setting = (value: number | null, label: string, path: string): Outcome<number> =>
  value === null ? unknown(`${label} is not filled in`, path) : known(value);

/**
 * The plant that predicts an axis: rigid, with the drive's planned settings. A linear motor is a shaft whose radian is a metre.
 */
export function servoDefinition(axis: AxisDocument, results: Evaluation<AxisValues>): Outcome<ServoDefinition> {
  const { settings } = axis;
  const mechanics = all<[number, number, number, number, number, number]>(
    results.rotorInertia,
    results.reflectedInertia,
    results.frictionTorque,
    results.gravityTorque,
    results.ratedTorque,
    results.peakTorque,
  );
  const scaling = map(
    all(
      results.countsPerRevolution,
      results.gearNumerator,
      results.gearDenominator,
      results.feedbackResolution,
    ) as Outcome<readonly Parameters<typeof toNumber>[0][]>,
    (values) => values.map(toNumber) as unknown as readonly [number, number, number, number],
  );
  const control = all<[number, number, number, number, number, number, number]>(
    setting(settings.positionGain, 'the position gain', '/settings/positionGain'),
    setting(settings.speedBandwidth, 'the speed loop’s bandwidth', '/settings/speedBandwidth'),
    setting(settings.speedIntegralTime, 'the integral time', '/settings/speedIntegralTime'),
    setting(settings.velocityFeedforward, 'the feedforward', '/settings/velocityFeedforward'),
    setting(settings.torqueLimit, 'the torque limit', '/settings/torqueLimit'),
    setting(settings.inertiaRatio, 'the inertia ratio', '/settings/inertiaRatio'),
    setting(settings.followingErrorWindow, 'the following-error window', '/settings/followingErrorWindow'),
  );
  return map(
    all<
      [
        readonly [number, number, number, number, number, number],
        readonly [number, number, number, number],
        readonly [number, number, number, number, number, number, number],
      ]
    >(mechanics, scaling, control),
    ([
      [rotorInertia, loadInertia, coulombFriction, gravityTorque, ratedTorque, peakTorque],
      [countsPerRevolution, gearNumerator, gearDenominator, unitsPerCount],
      [positionGain, speedBandwidth, integralTime, feedforward, torqueLimit, assumedInertiaRatio, window],
    ]) => ({
      stepRate: 8000,
      countsPerRevolution: axis.motor.form === 'linear' ? countsPerRevolution * 2000 * Math.PI : countsPerRevolution,
      gearNumerator,
      gearDenominator,
      rotorInertia,
      loadInertia,
      stiffness: 0,
      damping: 0,
      coulombFriction,
      viscousFriction: 0,
      gravityTorque,
      ratedTorque,
      peakTorque,
      torqueLimit: torqueLimit / 100,
      torqueTimeConstant: 0.0005,
      positionGain,
      speedBandwidth,
      speedIntegralTime: integralTime / 1000,
      assumedInertiaRatio,
      velocityFeedforward: feedforward / 100,
      velocityFilterTime: 0.0003,
      followingErrorWindow: window / unitsPerCount,
      minusLimit: -1e15,
      plusLimit: 1e15,
      indexOffset: 0,
    }),
  );
}
