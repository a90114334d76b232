import type { AxisInput, AxisValues } from '@kavrid/core/chain';
import type { DriveTrain } from '@kavrid/core/motion';
import type { HostLoop, ServoDefinition } from '@kavrid/core/plant';
import { exact, toNumber, type Exact } from '@kavrid/core/quantity';
import { all, known, map, unknown, valueOf, type Evaluation, type Outcome } from '@kavrid/core/sheet';
import type { AxisDocument } from '../documents.ts';

const setting = (value: number | null, label: string, path: string): Outcome<number> =>
  value === null ? unknown(`${label} is not filled in`, path) : known(value);

const noGear = { analog: true, pwm: true, choice: true } as const;

/**
 * The plant that predicts an axis: rigid, with the drive's planned settings. A linear motor is a shaft whose radian is a metre.
 */
export function servoDefinition(axis: AxisDocument, results: Evaluation<AxisValues>): Outcome<ServoDefinition> {
  const { settings } = axis;
  const mechanics = all<[DriveTrain, number, number, number]>(
    results.driveTrain,
    results.reflectedInertia,
    results.ratedTorque,
    results.peakTorque,
  );
  const scaling = map(
    all(
      results.countsPerRevolution,
      // A drive that makes its own profile, or is told a speed, has no gear between.
      axis.command.kind in noGear ? known(exact(1)) : results.gearNumerator,
      axis.command.kind in noGear ? known(exact(1)) : results.gearDenominator,
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
        readonly [DriveTrain, number, number, number],
        readonly [number, number, number, number],
        readonly [number, number, number, number, number, number, number],
      ]
    >(mechanics, scaling, control),
    ([
      [train, loadInertia, ratedTorque, peakTorque],
      [countsPerRevolution, gearNumerator, gearDenominator, unitsPerCount],
      [positionGain, speedBandwidth, integralTime, feedforward, torqueLimit, assumedInertiaRatio, window],
    ]) => ({
      stepRate: 8000,
      countsPerRevolution: axis.motor.form === 'linear' ? countsPerRevolution * 2000 * Math.PI : countsPerRevolution,
      gearNumerator,
      gearDenominator,
      rotorInertia: train.inertia,
      loadInertia,
      stages: train.stages ?? [],
      stiffness: 0,
      damping: 0,
      coulombFriction: train.friction,
      viscousFriction: 0,
      gravityTorque: train.gravity,
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

/** The position loop in the controller, where it is closed there. */
export function hostLoopOf(input: AxisInput, results: Evaluation<AxisValues>): Outcome<HostLoop> | undefined {
  const { command } = input;
  if (!('range' in command) || !command.hostLoop) return undefined;
  const { hostLoop } = command;
  return map(
    all<[number, number, Exact, number, number, number, number, number, number]>(
      hostLoop.gain,
      hostLoop.period,
      results.encoderDivider,
      results.loadStep,
      results.fullCommandSpeed,
      results.loadPerValue,
      hostLoop.errorLimit,
      hostLoop.reactionTime,
      hostLoop.deceleration,
    ),
    ([gain, period, divider, speedStep, fullSpeed, perValue, errorLimit, reactionTime, deceleration]) => ({
      gain,
      period,
      divider: toNumber(divider),
      feedbackSign: hostLoop.feedbackInverted ? -1 : 1,
      speedStep,
      fullSpeed,
      creep: (valueOf(command.creep) ?? 0) * perValue,
      filterTime: command.filter,
      errorLimit,
      reactionTime,
      deceleration,
    }),
  );
}
