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
            ? `The wanted speed is above the ${name}, which allows ${quantity(reached, '{u}/s')}.`
            : `The screw of stage ${index + 1} whirls at ${n(whirls)} rpm; four fifths of that are ${quantity(reached, '{u}/s')}, less than wanted.`,
        remedy:
          whirls === undefined
            ? 'Lower the wanted speed, or change the stage.'
            : 'Hold its ends more firmly, shorten the free length, take a thicker screw, or one with more lead.',
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
    message: `At the test move’s peak force the belt gives by ${quantity(stretch, '{u}')}, ${n(steps)} times the wanted resolution; the encoder at the motor does not see it.`,
    remedy: 'Lower the acceleration, let it settle before working, or take a wider belt.',
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
      ? 'The second motor is built in mirrored, yet both are set to the same sense: they pull against each other and rack the axis.'
      : 'Both motors stand the same way round, yet they are set to opposite senses: they pull against each other and rack the axis.',
    remedy: 'Reverse the rotation sense set in the second drive, and bump each side alone before they are joined.',
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
      message: `When one of the two motors trips, the other drives on and skews the axis${angle === undefined ? '' : ` past ${n(angle)}°`}.`,
      remedy: 'Join their alarms so that either one takes the enable from both.',
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
      message: 'Nothing squares the two sides: the axis keeps whatever skew it was switched off with.',
      remedy: 'Home each side to a switch of its own, or push both gently to hard stops under a low torque limit.',
    }),
    ...when(skew !== undefined && window !== undefined && 2 * window > skew, {
      id: 'pairSkewUnseen',
      severity: 'warn',
      station: 'drive',
      path: '/settings/followingErrorWindow',
      message: `Each side may be off by ${quantity(window ?? 0, '{u}')} before it trips: together twice that, more than the ${quantity(skew ?? 0, '{u}')} of skew allowed.`,
      remedy: 'Narrow the following-error window to half the skew limit or less.',
    }),
  ];
};
