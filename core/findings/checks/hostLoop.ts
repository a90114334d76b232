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
      ? 'nothing entered here stops it'
      : `the error limit trips at ${axis.quantity(speed, '{u}/s')}, and the axis comes to rest after ${axis.quantity(distance, '{u}')}`;
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
        'Swap the two feedback channels, or invert the feedback in the controller; then test with the motor uncoupled.',
    }),
    ...when(!isCaught, {
      ...shared,
      id: 'errorUnwatched',
      severity: 'stop',
      path: '/command/loop/errorLimit',
      message:
        'The controller does not monitor the following error: if the feedback fails or counts backwards, nothing stops the axis.',
      remedy: 'Set an error limit in the controller.',
    }),
    ...when(isCaught && hits, {
      ...shared,
      id: 'runawayHitsEnd',
      severity: 'warn',
      path: '/command/loop/errorLimit',
      message: `If the feedback counts backwards, ${words}; from mid-travel only ${axis.quantity(left ?? 0, '{u}')} is available.`,
      remedy: 'Make the first moves with a smaller error limit and a low torque limit, or with the motor uncoupled.',
    }),
  ];
};

export const encoderTooFast: Check = (axis) => {
  const loop = loopOf(axis);
  const rate = valueOf(axis.results.encoderRateAtFullCommand);
  if (!loop || rate === undefined) return [];
  const ends = [
    {
      limit: valueOf(loop.outputRate),
      who: 'the drive’s encoder output is limited to',
      path: '/command/loop/outputRate',
    },
    {
      limit: valueOf(loop.inputRate),
      who: 'the controller’s encoder input is limited to',
      path: '/command/loop/inputRate',
    },
  ];
  return ends.flatMap(({ limit, who, path }) =>
    when(limit !== undefined && rate > limit, {
      ...shared,
      id: 'encoderTooFast',
      severity: 'stop',
      path,
      message: `At full command the feedback is ${n(rate)} pulses/s; ${who} ${n(limit ?? 0)}. Counts are lost, and the position with them.`,
      remedy: 'Set fewer pulses per revolution at the encoder output, or scale the full signal to a lower speed.',
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
      message: 'The encoder output cannot give more counts per revolution than the encoder has.',
      remedy: 'Set fewer output pulses per revolution.',
    }),
    ...when(toNumber(divider) >= 1 && !isWhole(divider), {
      station: 'drive',
      id: 'dividerNotWhole',
      severity: 'note',
      path: '/command/loop/outputPulses',
      message: `One output count stands for ${n(toNumber(divider))} encoder counts, not a whole number: the output edges jitter by one count.`,
      remedy: 'A number of output pulses that divides the encoder counts evenly gives steadier edges.',
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
    message: `With this gain the damping ratio of the controller’s loop is only ${n(damping)}: it overshoots${damping < 0.4 ? ' and rings' : ''}.`,
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
    message: `One step of the command corresponds to ${axis.quantity(error, '{u}')} of position error: at rest the axis wanders within it.`,
    remedy: 'Use a converter with more bits, a scale with less speed at full signal, or a higher gain.',
  });
};
