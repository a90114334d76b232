import { formatNumber } from '../../../quantity/index.ts';
import type { StopWay } from '../../../motion/index.ts';
import { noticeable } from '../axisGuide.ts';
import {
  judged,
  wait,
  type Drill,
  type GuidedStep,
  type Judgement,
  type ShownValue,
  type StepContext,
  type StepRecord,
} from '../guidedStep.ts';
import { coasts, predictedStop, stopClass } from '../stopPrediction.ts';
import type { Look } from '../look.ts';
import { notEnabled } from './mainPower.ts';

// How long an axis takes to come to rest, and over what distance, for every way of stopping it.

const needs = ['hardwareStop', 'standstill', 'jogPlus', 'jogMinus'];

const titles: Readonly<Record<StopWay, string>> = {
  ramp: 'Ramp',
  'quick stop': 'Quick stop',
  'limit switch': 'Limit switch',
  'lost link': 'Lost link',
  coast: 'Coast',
  'safe torque off': 'Safe torque off',
  'supply cut': 'Supply cut',
};

const ends: Readonly<Record<StopWay, string>> = {
  ramp: 'Its speed command then goes to zero',
  'quick stop': 'It is then given a quick stop',
  'limit switch': 'Trip its limit switch with a tool when it has its speed',
  'lost link': 'It is and its heartbeat is then withheld',
  coast: 'Its motor is then switched off',
  'safe torque off': 'Press the hardware stop when it has its speed',
  'supply cut': 'Cut the main supply when it has its speed',
};

const watchdogOf = ({ watchdog }: StepContext) => watchdog ?? 0.2;

/** s by which the moment of the order is not known */
const timingError = 0.01;

/** s at speed before it stops automatically; and while a hand can stop it, at most and at least */
const steadyTime = 0.3;
const mostHandTime = 6;
const leastHandTime = 1.5;

const isByHand = (way: StopWay): boolean => way === 'safe torque off' || way === 'supply cut' || way === 'limit switch';

/** Axis units of the run-up and of the stop, with a margin, without the time at speed. */
function endsRoom(guide: StepContext['guide'], way: StopWay, speed: number, watchdog: number): number | undefined {
  const stop = predictedStop(guide, way, speed, 1, watchdog) ?? predictedStop(guide, way, speed, -1, watchdog);
  return stop && speed ** 2 / (2 * guide.jogAcceleration) + 1.5 * stop.distance;
}

/**
 * How long an axis may stay at its speed in a stop drill.
 * @param room axis units; infinite of an endless axis
 * @returns s; a text: why the room is not enough
 */
export function timeAtSpeed(
  guide: StepContext['guide'],
  way: StopWay,
  speed: number,
  watchdog: number,
  room: number,
): number | string {
  const taken = endsRoom(guide, way, speed, watchdog);
  if (taken === undefined) return 'How far this stop goes cannot be predicted. Complete the plates first.';
  const least = isByHand(way) ? leastHandTime : steadyTime;
  const possible = (room - taken) / speed;
  if (!(possible >= least)) {
    const [needed, there] = [taken + least * speed, room].map((each) => formatNumber(each, 3));
    return `From ${speed} ${guide.unit}/s this takes ${needed} ${guide.unit}, and there are ${there} ${guide.unit} to the soft limit. Go farther away from it, or choose a lower speed.`;
  }
  return isByHand(way) ? Math.min(mostHandTime, possible) : steadyTime;
}

function stopDrill(way: StopWay) {
  return (context: StepContext): Drill | string => {
    const { guide, given } = context;
    const speed = given.speed ?? NaN;
    if (guide.isSuspended && coasts.includes(way))
      return 'The load is suspended: without power it is held by its brake alone, and holding brakes are not service brakes. This stop is made from standstill only; see “Load held when the motor lets go”.';
    if (!(speed > 0)) return 'Enter the speed from which it is stopped.';
    if (guide.highestSpeed !== null && speed > guide.highestSpeed * 1.0005)
      return `${speed} ${guide.unit}/s is above the highest speed of ${formatNumber(guide.highestSpeed, 4)} ${guide.unit}/s.`;
    return { kind: 'stop', way, speed };
  };
}

/** Where it was and when, between two looks. */
function at(looks: readonly Look[], moment: number): number | undefined {
  const k = looks.findIndex((look) => look.at >= moment);
  const [before, after] = [looks[k - 1], looks[k]];
  if (before?.position === undefined || after?.position === undefined) return after?.position;
  // Up to the order it goes at its speed.
  return before.position + ((before.speed ?? 0) * (moment - before.at)) / 1000;
}

/** When it was told to stop, and by how many s that may be off: by the order, or by what its inputs and state first show. */
function orderedAt(
  { looks, orderAt }: StepRecord,
  way: StopWay,
): { readonly at: number; readonly off: number } | undefined {
  if (orderAt !== undefined) return { at: orderAt, off: timingError };
  const fastest = Math.max(...looks.map(({ speed }) => Math.abs(speed ?? 0)));
  const steady = looks.findIndex(({ speed }) => Math.abs(speed ?? 0) > 0.9 * fastest);
  const isOrder = (look: Look) =>
    way === 'limit switch'
      ? look.active.some(({ role }) => role === 'minusLimit' || role === 'plusLimit')
      : look.state !== 'operation enabled';
  const k = looks.findIndex((look, index) => index > steady && isOrder(look));
  const [before, first] = [looks[k - 1], looks[k]];
  // It came between two looks.
  return before && first ? { at: (before.at + first.at) / 2, off: (first.at - before.at) / 2000 } : undefined;
}

function judgeStop(way: StopWay) {
  return (record: StepRecord, context: StepContext): Judgement => {
    if (record.drillEnd === undefined) return wait;
    const { looks } = record;
    if (!looks.some(({ state }) => state === 'operation enabled')) return notEnabled(record, context);
    if (isByHand(way) && record.drillEnd.kind === 'timeout')
      return judged('undecided', '', 'It was not stopped in time, and stopped automatically. Repeat the step.');
    const { guide, given } = context;
    const ordered = orderedAt(record, way);
    const from = ordered && at(looks, ordered.at);
    const still = looks.findIndex(
      (look) => look.at > (ordered?.at ?? Infinity) && Math.abs(look.speed ?? 0) < noticeable(guide),
    );
    const [rest, moving] = [looks[still], looks[still - 1]];
    if (ordered === undefined || from === undefined || !rest || !moving)
      return judged('undecided', '', 'It was not seen to be stopped from its speed. Repeat the step.');
    const end = looks.at(-1)?.position ?? rest.position ?? from;
    const speed = Math.abs(moving.speed ?? 0);
    const steady = Math.max(...looks.filter((look) => look.at <= ordered.at).map((look) => Math.abs(look.speed ?? 0)));
    const distance = Math.abs(end - from);
    const sense = end >= from ? 1 : -1;
    const unsure = steady * ordered.off;
    // Between the last look in motion and the first at rest it has come to rest.
    const decelerating = Math.max(1e-9, steady);
    const time =
      (moving.at - ordered.at + Math.min(rest.at - moving.at, ((rest.at - moving.at) * speed) / decelerating)) / 1000;
    const predicted = predictedStop(guide, way, steady, sense, watchdogOf(context));
    const values: readonly ShownValue[] = [
      { label: 'From', value: steady, unit: '{u}/s' },
      { label: 'Distance', value: distance, unit: '{u}' },
      { label: 'Distance known to within ±', value: unsure, unit: '{u}' },
      ...(predicted ? [{ label: 'Predicted distance', value: predicted.distance, unit: '{u}' }] : []),
      { label: 'Time', value: time, unit: 's' },
      ...(predicted ? [{ label: 'Predicted time', value: predicted.time, unit: 's' }] : []),
      ...(given.room === undefined ? [] : [{ label: 'Room behind the switch', value: given.room, unit: '{u}' }]),
    ];
    if (given.room !== undefined && distance > given.room)
      return judged(
        'failed',
        'too far',
        `It needs more than the ${given.room} ${guide.unit} of room behind the switch: move the switch inwards, or reduce the speed.`,
        values,
      );
    if (!predicted)
      return judged(
        'passed',
        'stops',
        'It stopped. There is no prediction to compare it with: the plates do not say enough.',
        values,
      );
    return distance > 1.25 * predicted.distance + unsure
      ? judged(
          'failed',
          'longer',
          'It took longer than predicted: less friction, more inertia or less torque than the plates say, or another deceleration in the drive.',
          values,
        )
      : judged('passed', 'stops', 'It stopped within what is predicted.', values);
  };
}

/** What is predicted from the fastest jog and from the highest speed. */
function predictedWords(context: StepContext, way: StopWay): string {
  const { guide } = context;
  const speeds = [guide.jogLimit, guide.highestSpeed].filter((speed) => speed !== null);
  const words = [...new Set(speeds)].flatMap((speed) => {
    const stop = predictedStop(guide, way, speed, 1, watchdogOf(context));
    return stop
      ? [
          `${formatNumber(stop.distance, 3)} ${guide.unit} in ${formatNumber(stop.time, 2)} s from ${formatNumber(speed, 4)} ${guide.unit}/s`,
        ]
      : [];
  });
  return words.length === 0 ? '' : ` Predicted: ${words.join(', ')}.`;
}

function stopStep(way: StopWay): GuidedStep {
  return {
    phase: 'Stops',
    title: titles[way],
    needs,
    applies: ({ guide, profile }) =>
      (way !== 'limit switch' || !guide.isEndless) &&
      (way !== 'safe torque off' || guide.hasTorqueOff) &&
      (way !== 'lost link' || (profile !== undefined && profile.watchdogFedBy !== 'nothing')),
    task: (context) => {
      const { guide, canCommand } = context;
      const classed = `${stopClass[way].charAt(0).toUpperCase()}${stopClass[way].slice(1)}.`;
      if (guide.isSuspended && coasts.includes(way))
        return `${classed} The load is suspended: this stop is made from standstill only. Take its result from “Load held when the motor lets go”, and skip this step with that reason.`;
      return `${classed}${predictedWords(context, way)} ${canCommand ? 'The axis runs up to the speed below, in the direction that has more room' : 'Run the axis from the controller at a steady speed'}. ${ends[way]}.`;
    },
    question: ({ guide }) => ({
      kind: 'number',
      text: 'Distance from the order to rest, measured',
      unit: guide.unit,
    }),
    passes: ['stops'],
    asks: (isLinked) => {
      const when = isLinked ? 'begin' : 'answer';
      const room = { key: 'room', when, isRequired: false } as const;
      return [{ key: 'speed', when, isRequired: true }, ...(way === 'limit switch' ? [room] : [])];
    },
    linked: { drill: stopDrill(way), judge: judgeStop(way) },
    signOf: (answer, context) => {
      const { guide, given } = context;
      const predicted = predictedStop(guide, way, given.speed ?? 0, 1, watchdogOf(context));
      const values: readonly ShownValue[] = [
        ...(given.speed === undefined ? [] : [{ label: 'From', value: given.speed, unit: '{u}/s' }]),
        { label: 'Distance', value: answer, unit: '{u}' },
        ...(predicted ? [{ label: 'Predicted distance', value: predicted.distance, unit: '{u}' }] : []),
      ];
      if (given.speed === undefined)
        return { verdict: 'undecided', sign: '', words: 'Enter the speed from which it was stopped, too.', values };
      const isLonger = predicted !== undefined && answer > 1.25 * predicted.distance + noticeable(guide);
      const isTooFar = given.room !== undefined && answer > given.room;
      return isTooFar || isLonger
        ? {
            verdict: 'failed',
            sign: isTooFar ? 'too far' : 'longer',
            words: isTooFar ? 'It needs more room than there is.' : 'It took longer than predicted.',
            values,
          }
        : { verdict: 'passed', sign: 'stops', words: 'It stopped within what is predicted.', values };
    },
  };
}

export const stopSteps = {
  stopRamp: stopStep('ramp'),
  stopQuick: stopStep('quick stop'),
  stopLimit: stopStep('limit switch'),
  stopLink: stopStep('lost link'),
  stopCoast: stopStep('coast'),
  stopTorqueOff: stopStep('safe torque off'),
  stopSupply: stopStep('supply cut'),
} as const satisfies Record<string, GuidedStep>;
