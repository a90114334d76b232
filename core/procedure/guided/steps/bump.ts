import { formatNumber } from '../../../quantity/index.ts';
import { errorText } from '../../../drive/index.ts';
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
import { faultSeen, figuresOf, powered } from '../look.ts';
import { bumpDistance, motionTorque, torqueLabel, worstRunaway } from '../startValues.ts';
import { notEnabled } from './mainPower.ts';
import { always, isOn, judgeStill, motionNeeds } from './motionNeeds.ts';

const moveAnswers = {
  right: 'a little towards plus',
  opposite: 'a little towards minus',
  'runs away': 'it runs away, or trips',
  still: 'nothing',
} as const;

function judgeBump(record: StepRecord, context: StepContext): Judgement {
  if (context.canCommand ? record.drillEnd === undefined : record.answer === undefined) return wait;
  const on = powered(record.looks);
  if (on.length === 0) return notEnabled(record, context);
  const figures = figuresOf(on);
  if (!figures) return ask;
  const bump = bumpDistance(context.guide, context.unitsPerCount);
  const torque = motionTorque(context);
  const limit = 'percent' in torque ? torque.percent : 100;
  const values: readonly ShownValue[] = [
    { label: 'Moved', value: figures.moved, unit: '{u}' },
    { label: 'Highest torque', value: figures.peakTorque, unit: '%' },
    { label: torqueLabel, value: limit, unit: '%' },
  ];
  const fault = faultSeen(record.looks);
  const farthest = Math.max(figures.farthestPlus, figures.farthestMinus);
  // A controller may bump it a little farther than was asked for.
  const away = context.canCommand ? 5 * bump : Math.max(5 * bump, context.guide.unitsPerTurn);
  if (fault !== undefined || farthest > away)
    return judged(
      'failed',
      'runs away',
      `It ran ${formatNumber(farthest, 3)} ${context.guide.unit}${fault === undefined ? '' : ` and tripped: ${errorText(fault) ?? 'a fault'}`}`,
      values,
    );
  if (farthest < 0.3 * bump)
    return on.some((look) => isOn(look, 'plusLimit'))
      ? judged('failed', 'blocked', 'Its plus limit input is active and stops it.', values)
      : judgeStill(figures.peakTorque, context, record);
  return figures.moved > 0
    ? judged('passed', 'right', 'It moved towards plus by the feedback.', values)
    : judged('failed', 'opposite', 'It moved towards minus by the feedback.', values);
}

/** A few counts from mid-travel: which way does it go, and does it run away? */
export const bumpStep: GuidedStep = {
  phase: 'First motion',
  title: 'Bump from mid-travel',
  needs: motionNeeds,
  applies: always,
  task: (context) => {
    const { guide, unitsPerCount } = context;
    const bump = bumpDistance(guide, unitsPerCount);
    const worst = worstRunaway(guide, bump);
    const room = guide.travel === null ? undefined : guide.travel / 2;
    const away =
      worst === undefined
        ? 'How far it could run away is not known: keep a hand at the hardware stop.'
        : `If it runs away it goes ${formatNumber(worst, 2)} ${guide.unit} before it has tripped and stopped${room === undefined ? '' : worst > room ? `, more than the ${formatNumber(room, 3)} ${guide.unit} of room: reduce the following-error window first` : `, of ${formatNumber(room, 3)} ${guide.unit} of room from mid-travel`}.`;
    return `Bring the axis to mid-travel by hand. ${context.canCommand ? 'It moves' : 'From the controller, move it'} ${formatNumber(bump, 2)} ${guide.unit} towards plus. ${away}`;
  },
  question: () => ({
    kind: 'choice',
    text: 'A bump of about 1° of the motor towards plus: what does the axis do?',
    answers: moveAnswers,
  }),
  passes: ['right'],
  linked: {
    drill: (context) => {
      const { guide, unitsPerCount } = context;
      const torque = motionTorque(context);
      const distance = bumpDistance(guide, unitsPerCount);
      const worst = worstRunaway(guide, distance);
      if (worst !== undefined && guide.travel !== null && worst > guide.travel / 2)
        return `A runaway would go ${formatNumber(worst, 2)} ${guide.unit}, and there are ${formatNumber(guide.travel / 2, 3)} ${guide.unit} of room from mid-travel. Plan a smaller following-error window first.`;
      return 'percent' in torque ? { kind: 'bump', distance, torque: torque.percent } : torque.because;
    },
    done: { done: 'It was moved' },
    judge: judgeBump,
  },
};
