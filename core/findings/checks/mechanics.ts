import { criticalSpeedOf } from '../../chain/index.ts';
import { formatNumber, toNumber } from '../../quantity/index.ts';
import { valueOf } from '../../sheet/index.ts';
import { when, type Check, type Finding } from '../finding.ts';

const n = (value: number) => formatNumber(value, 4);

/** Stages that turn faster than they may at the wanted speed, and screws that would whirl. */
export const stageTooFast: Check = ({ input, results, quantity }) => {
  const [speed, limits] = [valueOf(results.wantedSpeed), valueOf(results.mechanicsLimits)];
  if (speed === undefined || !limits) return [];
  return limits
    .filter((limit) => speed > limit.speed * (1 + 1e-9))
    .map(({ name, speed: reached, stage: of }): Finding => {
      const index = of?.index ?? 0;
      const stage = input.stages[index];
      const critical = of?.isCritical && stage ? criticalSpeedOf(stage) : undefined;
      const whirls = critical && valueOf(critical);
      return {
        id: whirls === undefined ? 'stageTooFast' : 'screwWhirls',
        severity: 'stop',
        station: 'stage',
        path: `/stages/${index}/${whirls === undefined ? 'speedLimit' : 'freeLength'}`,
        message:
          whirls === undefined
            ? `The wanted speed exceeds the ${name}, which corresponds to ${quantity(reached, '{u}/s')}.`
            : `The critical speed of the screw in stage ${index + 1} is ${n(whirls)} rpm; 80 % of it is ${quantity(reached, '{u}/s')}, below the wanted speed.`,
        remedy:
          whirls === undefined
            ? 'Lower the wanted speed, or change the stage.'
            : 'Use stiffer end bearings, a shorter free length, a thicker screw, or one with a larger lead.',
      };
    });
};

export const beltStretches: Check = ({ input, results, quantity }) => {
  const [stretch, wanted] = [valueOf(results.beltStretch), valueOf(results.wantedResolution)];
  if (!stretch || !wanted) return [];
  const steps = stretch / toNumber(wanted);
  return when(steps > 1, {
    id: 'beltStretches',
    severity: steps > 20 ? 'warn' : 'note',
    station: 'stage',
    path: `/stages/${input.stages.length - 1}/specificStiffness`,
    message: `At the peak force of the test move the belt stretches by ${quantity(stretch, '{u}')}, ${n(steps)} times the wanted resolution; the motor encoder does not see it.`,
    remedy: 'Lower the acceleration, let the axis settle before working, or use a wider belt.',
  });
};

export const backlashSeen: Check = ({ results, quantity }) => {
  const [backlash, wanted] = [valueOf(results.backlash), valueOf(results.wantedResolution)];
  if (!backlash || !wanted) return [];
  return when(backlash > toNumber(wanted), {
    id: 'backlashSeen',
    severity: backlash > 10 * toNumber(wanted) ? 'warn' : 'note',
    station: 'load',
    path: '/stages',
    message: `The backlash of the stages adds up to ${quantity(backlash, '{u}')} at the load, more than the wanted resolution.`,
    remedy: 'Approach positions from one side, or set backlash compensation in the controller to this value.',
  });
};

export const pairFights: Check = ({ input }) => {
  const { pair } = input;
  if (!pair) return [];
  const isOpposite = pair.secondIsClockwise !== input.plusIsClockwise;
  return when(isOpposite !== pair.mirrored, {
    id: 'pairFights',
    severity: 'stop',
    station: 'motor',
    path: '/pair/secondSense',
    message: pair.mirrored
      ? 'The second motor is mounted mirrored, but both drives are set to the same rotation sense: the motors work against each other and rack the axis.'
      : 'Both motors are mounted the same way round, but the drives are set to opposite rotation senses: the motors work against each other and rack the axis.',
    remedy: 'Reverse the rotation sense in the second drive, and bump each side on its own before they are coupled.',
  });
};

export const pairTripsAlone: Check = ({ input, results }) => {
  const { pair } = input;
  if (!pair || pair.commonTrip) return [];
  const angle = valueOf(results.skewAngle);
  return [
    {
      id: 'pairTripsAlone',
      severity: 'stop',
      station: 'motor',
      path: '/pair/commonTrip',
      message: `When one of the two motors trips, the other keeps driving and skews the axis${angle === undefined ? '' : ` past ${n(angle)}°`}.`,
      remedy: 'Combine their alarms so that either one removes the enable from both drives.',
    },
  ];
};

export const pairNotSquared: Check = ({ input, results, quantity }) => {
  const { pair } = input;
  if (!pair) return [];
  const skew = valueOf(results.skewLimit);
  const window = valueOf(results.followingErrorWindow);
  return [
    ...when(pair.squaring === 'none', {
      id: 'pairNotSquared',
      severity: 'warn',
      station: 'load',
      path: '/pair/squaring',
      message: 'The two sides are not squared at homing: the axis keeps the skew it had when it was switched off.',
      remedy: 'Home each side to a switch of its own, or push both gently to hard stops under a low torque limit.',
    }),
    ...when(skew !== undefined && window !== undefined && 2 * window > skew, {
      id: 'pairSkewUnseen',
      severity: 'warn',
      station: 'drive',
      path: '/settings/followingErrorWindow',
      message: `Each side can have a following error of ${quantity(window ?? 0, '{u}')} before its drive trips; the two together can exceed the allowed skew of ${quantity(skew ?? 0, '{u}')}.`,
      remedy: 'Narrow the following-error window to half the skew limit or less.',
    }),
  ];
};
