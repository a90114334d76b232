import { formatNumber } from '../../../quantity/index.ts';
import { errorText } from '../../../drive/index.ts';
import { motorTorque } from '../../../motion/index.ts';
import { noticeable } from '../axisGuide.ts';
import {
  ask,
  judged,
  wait,
  type GuidedStep,
  type Judgement,
  type ShownValue,
  type StepContext,
  type StepRecord,
} from '../guidedStep.ts';
import { faultSeen, figuresOf, powered, steadyTorque } from '../look.ts';
import { motionTorque, startSpeed, torqueLabel } from '../startValues.ts';
import { notEnabled } from './mainPower.ts';
import { always, jogDrill, judgeStill, motionNeeds, watchdogOf } from './motionNeeds.ts';

const jogTask = (direction: string) => (context: StepContext) => {
  const speed = startSpeed(context.guide, watchdogOf(context));
  const { unit } = context.guide;
  if (!('speed' in speed)) return speed.because;
  const how = `${speed.speed} ${unit}/s, limited by: ${speed.limitedBy}; ${formatNumber(speed.stopping, 2)} ${unit} to rest at the worst`;
  return context.canCommand
    ? `Start, then hold the button: the axis jogs ${direction} at ${how}. Let go and it stops.`
    : `Jog ${direction} from the controller at ${how}, for at least a second.`;
};

/** % of rated torque below which friction is too small to be compared */
const leastFriction = 1;

/** Friction of a steady motion over what the plates say, gravity taken off both; undefined: not known. @param torque %, towards plus */
function frictionShare(torque: number, direction: 1 | -1, { guide }: StepContext): number | undefined {
  const { train, ratedTorque } = guide;
  if (!train || !ratedTorque) return undefined;
  const [plus, minus] = [motorTorque(train, 0, 1), motorTorque(train, 0, -1)].map(
    (each) => (100 * each) / ratedTorque,
  ) as [number, number];
  const friction = Math.max(leastFriction, (plus - minus) / 2);
  return (direction * (torque - (plus + minus) / 2)) / friction;
}

function judgeJog(direction: 1 | -1) {
  return (record: StepRecord, context: StepContext): Judgement => {
    const fault = faultSeen(record.looks);
    const held = context.canCommand
      ? record.looks.filter(({ pressed }) => pressed === direction)
      : powered(record.looks);
    const on = powered(record.looks);
    // A controller that jogs has its own button: only the user knows when it was let go.
    if (!context.canCommand && fault === undefined && record.answer === undefined) return wait;
    if (context.canCommand && fault === undefined && record.drillEnd === undefined) {
      if (held.length === 0 || record.looks.at(-1)?.pressed !== 0) return wait;
      if (Math.abs(record.looks.at(-1)?.speed ?? 0) > noticeable(context.guide)) return wait;
    }
    if (on.length === 0) return notEnabled(record, context);
    const figures = figuresOf(held.length > 0 ? held : on);
    if (!figures) return ask;
    const speed = startSpeed(context.guide, watchdogOf(context));
    const wanted = 'speed' in speed ? speed.speed : figures.peakSpeed;
    const steady = steadyTorque(held, wanted, direction);
    const share = steady === undefined ? undefined : frictionShare(steady, direction, context);
    const torque = motionTorque(context);
    const limit = 'percent' in torque ? torque.percent : 100;
    const values: readonly ShownValue[] = [
      { label: 'Moved', value: figures.moved, unit: '{u}' },
      { label: torqueLabel, value: limit, unit: '%' },
      ...(steady === undefined ? [] : [{ label: 'Steady torque', value: direction * steady, unit: '%' }]),
      ...(share === undefined ? [] : [{ label: 'Friction, of what the plates say', value: 100 * share, unit: '%' }]),
    ];
    if (fault !== undefined && figures.peakTorque > 0.85 * limit && 'next' in torque && torque.next !== undefined)
      return judged(
        'undecided',
        '',
        `It tripped with the whole torque limit of ${limit} %. Reset the fault, and repeat with ${torque.next} %.`,
        values,
      );
    if (fault !== undefined && figures.peakTorque > 0.85 * limit)
      return judged(
        'failed',
        'still at the limit',
        `It tripped while it pushed with the whole planned torque limit of ${limit} %: it sticks or jams, or the brake is shut.`,
        values,
      );
    if (fault !== undefined)
      return judged(
        'failed',
        'trips',
        `It tripped after ${formatNumber(figures.moved, 3)} ${context.guide.unit}: ${errorText(fault) ?? 'a fault'}`,
        values,
      );
    const went = direction * figures.moved;
    if (went < -noticeable(context.guide))
      return judged('failed', 'opposite', 'It moved in the other direction by the feedback.', values);
    const blocked = held.find(({ active }) =>
      active.some(({ role }) => role === (direction > 0 ? 'plusLimit' : 'minusLimit')),
    );
    if (went <= noticeable(context.guide))
      return blocked
        ? judged('failed', 'blocked', 'Its limit input is active and stops it.', values)
        : judgeStill(figures.peakTorque, context, record);
    if (held.length < 8)
      return judged(
        'undecided',
        '',
        'It was held for too short a time. Hold the button for at least a second.',
        values,
      );
    if (share !== undefined && share > 4)
      return judged(
        'failed',
        'sticks',
        `Its friction is ${(100 * share).toFixed(0)} % of what the plates say: the axis sticks, or its friction is entered too low.`,
        values,
      );
    return judged('passed', 'follows', 'It followed the button and stopped when it was let go.', values);
  };
}

/** A slow jog, held by hand. */
export const jogStep = (direction: 1 | -1): GuidedStep => {
  const name = direction > 0 ? 'plus' : 'minus';
  return {
    phase: 'First motion',
    title: `Slow jog towards ${name}`,
    needs: [...motionNeeds, 'bump'],
    applies: always,
    task: jogTask(`towards ${name}`),
    question: () => ({
      kind: 'choice',
      text: `Slow jog towards ${name} from the controller: what does the axis do?`,
      answers: {
        follows: `it moves towards ${name}, and stops when let go`,
        opposite: 'it moves the other way',
        trips: 'it trips',
        still: 'it does not move',
        sticks: 'it moves, with a torque far above what is planned',
      },
    }),
    passes: ['follows'],
    linked: { drill: jogDrill([direction]), done: { done: 'It was jogged' }, judge: judgeJog(direction) },
  };
};
