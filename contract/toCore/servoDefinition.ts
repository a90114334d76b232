import type { AxisInput, AxisValues } from '@kavrid/core/chain';
import type { DriveTrain } from '@kavrid/core/motion';
import type { HostLoop, Notch, ServoDefinition } from '@kavrid/core/plant';
import { exact, toNumber, type Exact } from '@kavrid/core/quantity';
import { all, known, map, unknown, valueOf, type Evaluation, type Outcome } from '@kavrid/core/sheet';
import { isPulseCommand } from '../commands/pulses.ts';
import type { AxisDocument } from '../documents.ts';
import { holdsPosition } from './drivePlan.ts';

type Needed =
  | 'positionGain'
  | 'speedBandwidth'
  | 'speedIntegralTime'
  | 'velocityFeedforward'
  | 'torqueLimit'
  | 'inertiaRatio'
  | 'followingErrorWindow';

/** Planned values that a prediction needs, with every one that is missing named at once. */
function settingsOf(
  settings: AxisDocument['settings'],
  needed: readonly (readonly [Needed, string])[],
): Outcome<Readonly<Record<Needed, number>>> {
  const missing = needed.filter(([key]) => settings[key] === null);
  const first = missing[0];
  if (!first) return known(settings as Readonly<Record<Needed, number>>);
  const labels = missing.map(([, label]) => label);
  const list = labels.length === 1 ? labels[0] : `${labels.slice(0, -1).join(', ')} and ${labels.at(-1)}`;
  return unknown(`${list} ${labels.length === 1 ? 'is' : 'are'} not planned`, `/settings/${first[0]}`);
}

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
      // A drive that makes its own profile, or gets a speed command, has no gear in between.
      isPulseCommand(axis.command) ? results.gearNumerator : known(exact(1)),
      isPulseCommand(axis.command) ? results.gearDenominator : known(exact(1)),
      results.feedbackResolution,
    ) as Outcome<readonly Parameters<typeof toNumber>[0][]>,
    (values) => values.map(toNumber) as unknown as readonly [number, number, number, number],
  );
  // A drive with a speed or torque command closes no position loop, so none is planned.
  const usedSettings = holdsPosition(axis)
    ? settings
    : { ...settings, positionGain: 1, velocityFeedforward: 0, followingErrorWindow: 1e12 };
  const control = settingsOf(usedSettings, [
    ['positionGain', 'the position gain'],
    ['speedBandwidth', 'the speed loop’s bandwidth'],
    ['speedIntegralTime', 'the integral time'],
    ['velocityFeedforward', 'the feedforward'],
    ['torqueLimit', 'the torque limit'],
    ['inertiaRatio', 'the inertia ratio'],
    ['followingErrorWindow', 'the following-error window'],
  ]);
  return map(
    all<
      [
        readonly [DriveTrain, number, number, number],
        readonly [number, number, number, number],
        Readonly<Record<Needed, number>>,
      ]
    >(mechanics, scaling, control),
    ([
      [train, loadInertia, ratedTorque, peakTorque],
      [countsPerRevolution, gearNumerator, gearDenominator, unitsPerCount],
      planned,
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
      torqueLimit: planned.torqueLimit / 100,
      torqueTimeConstant: 0.0005,
      positionGain: planned.positionGain,
      speedBandwidth: planned.speedBandwidth,
      speedIntegralTime: planned.speedIntegralTime / 1000,
      assumedInertiaRatio: planned.inertiaRatio,
      velocityFeedforward: planned.velocityFeedforward / 100,
      accelerationFeedforward: holdsPosition(axis) ? (settings.accelerationFeedforward ?? 0) / 100 : 0,
      torqueFilterTime: (settings.torqueFilter ?? 0) / 1000,
      notch: notchOf(settings),
      velocityFilterTime: 0.0003,
      followingErrorWindow: planned.followingErrorWindow / unitsPerCount,
      minusLimit: -1e15,
      plusLimit: 1e15,
      indexOffset: 0,
    }),
  );
}

/** The notch as planned; undefined: there is none, or not all of it is planned. */
export const notchOf = ({
  notchFrequency,
  notchWidth,
  notchDepth,
}: Pick<AxisDocument['settings'], 'notchFrequency' | 'notchWidth' | 'notchDepth'>): Notch | undefined =>
  notchFrequency === null || notchFrequency === 0 || notchWidth === null || notchDepth === null
    ? undefined
    : { frequency: 2 * Math.PI * notchFrequency, width: notchWidth / 200, depth: 10 ** (-notchDepth / 20) };

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
      integralGain: hostLoop.integralGain,
      velocityFeedforward: hostLoop.velocityFeedforward,
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
