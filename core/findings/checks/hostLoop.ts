import { formatNumber, isWhole, toNumber } from '../../quantity/index.ts';
import { valueOf } from '../../sheet/index.ts';
import { when, type Check, type CheckedAxis } from '../finding.ts';

const n = (value: number) => formatNumber(value, 4);
const shared = { station: 'controller' } as const;

const loopOf = ({ input }: CheckedAxis) => ('range' in input.command ? input.command.hostLoop : undefined);

export const runsAway: Check = (axis) => {
  const loop = loopOf(axis);
  if (!loop) return [];
  const [distance, speed, travel] = [
    valueOf(axis.results.runawayDistance),
    valueOf(axis.results.runawaySpeed),
    valueOf(axis.results.travel),
  ];
  const isCaught = loop.errorLimit.state === 'known';
  const words =
    distance === undefined || speed === undefined
      ? 'nothing that is entered here stops it'
      : `it is caught at ${axis.quantity(speed, '{u}/s')} and comes to rest after ${axis.quantity(distance, '{u}')}`;
  // From the middle of the travel, half of it is left either way.
  const left = travel && !axis.input.endless ? toNumber(travel) / 2 : undefined;
  const hits = distance !== undefined && left !== undefined && distance > left;
  return [
    ...when(loop.feedbackInverted, {
      ...shared,
      id: 'feedbackBackwards',
      severity: 'stop',
      path: '/command/loop/feedbackInverted',
      message: `The feedback counts against the command: at the first error the axis runs away; ${words}.`,
      remedy:
        'Swap the two channels of the feedback, or invert it in the controller; then try it with the motor uncoupled.',
    }),
    ...when(!isCaught, {
      ...shared,
      id: 'errorUnwatched',
      severity: 'stop',
      path: '/command/loop/errorLimit',
      message:
        'The controller watches no following error: if the feedback fails or counts backwards, nothing stops the axis.',
      remedy: 'Give it an error limit.',
    }),
    ...when(isCaught && hits, {
      ...shared,
      id: 'runawayHitsEnd',
      severity: 'warn',
      path: '/command/loop/errorLimit',
      message: `If the feedback counts backwards, ${words}; from mid-travel there are ${axis.quantity(left ?? 0, '{u}')}.`,
      remedy: 'Make the first moves with a smaller error limit and a torque limit, or uncoupled.',
    }),
  ];
};

export const encoderTooFast: Check = (axis) => {
  const loop = loopOf(axis);
  const rate = valueOf(axis.results.encoderRateAtFullCommand);
  if (!loop || rate === undefined) return [];
  const ends = [
    { limit: valueOf(loop.outputRate), who: 'the drive’s encoder output gives', path: '/command/loop/outputRate' },
    { limit: valueOf(loop.inputRate), who: 'the controller’s encoder input takes', path: '/command/loop/inputRate' },
  ];
  return ends.flatMap(({ limit, who, path }) =>
    when(limit !== undefined && rate > limit, {
      ...shared,
      id: 'encoderTooFast',
      severity: 'stop',
      path,
      message: `At full command ${n(rate)} pulses/s come back; ${who} ${n(limit ?? 0)}. Counts are lost, and the position with them.`,
      remedy: 'Let the encoder output give fewer pulses a revolution, or the full signal mean less speed.',
    }),
  );
};

export const dividerNotWhole: Check = (axis) => {
  const divider = valueOf(axis.results.encoderDivider);
  if (!loopOf(axis) || !divider) return [];
  return [
    ...when(toNumber(divider) < 1, {
      station: 'drive',
      id: 'outputFinerThanEncoder',
      severity: 'stop',
      path: '/command/loop/outputPulses',
      message: 'The encoder output cannot give more counts a revolution than the encoder has.',
      remedy: 'Ask for fewer pulses.',
    }),
    ...when(toNumber(divider) >= 1 && !isWhole(divider), {
      station: 'drive',
      id: 'dividerNotWhole',
      severity: 'note',
      path: '/command/loop/outputPulses',
      message: `${n(toNumber(divider))} encoder counts make one that is fed back: the edges jitter by a count.`,
      remedy: 'Pulses that divide the encoder’s counts are steadier.',
    }),
  ];
};

export const loopRings: Check = (axis) => {
  const damping = valueOf(axis.results.hostDamping);
  if (!loopOf(axis) || damping === undefined) return [];
  return when(damping < 0.7, {
    ...shared,
    id: 'loopRings',
    severity: damping < 0.4 ? 'stop' : 'warn',
    path: '/command/loop/gain',
    message: `With this gain the controller’s loop is damped by ${n(damping)} only: it overshoots${damping < 0.4 ? ' and rings' : ''}.`,
    remedy: 'Lower the gain, shorten the controller’s period, or make the drive’s speed loop faster.',
  });
};

export const stepHoldsError: Check = (axis) => {
  const [error, wanted] = [valueOf(axis.results.errorOfOneStep), valueOf(axis.results.wantedResolution)];
  if (!loopOf(axis) || error === undefined || !wanted) return [];
  return when(error > toNumber(wanted), {
    ...shared,
    id: 'stepHoldsError',
    severity: 'note',
    path: '/command/loop/gain',
    message: `One step of the command is worth ${axis.quantity(error, '{u}')} of error: at rest the axis wanders within it.`,
    remedy: 'Use a converter with more bits, a full signal that means less speed, or a higher gain.',
  });
};
