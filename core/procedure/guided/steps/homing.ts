import { formatNumber } from '../../../quantity/index.ts';
import { noticeable } from '../axisGuide.ts';
import {
  ask,
  judged,
  wait,
  type GuidedStep,
  type Judgement,
  type StepContext,
  type StepRecord,
} from '../guidedStep.ts';
import { figuresOf } from '../look.ts';
import { startSpeed } from '../startValues.ts';
import { jogDrill, watchdogOf } from './motionNeeds.ts';

// What is proven of a homing at the device, once it homes: what home reads, where soft limits are, what outlives a power cycle, how square a pair is.

const needs = ['hardwareStop', 'jogPlus', 'jogMinus'];

const shown = (value: number, { guide }: StepContext): string => `${formatNumber(value, 4)} ${guide.unit}`;

/** Axis units within which two places are the same: what a hand would notice, ten times. */
const tolerance = ({ guide }: StepContext): number => 10 * noticeable(guide);

function judgeHome({ looks, drillEnd, answer }: StepRecord, context: StepContext): Judgement {
  if (context.canCommand ? drillEnd === undefined : answer === undefined) return wait;
  if (drillEnd && drillEnd.kind !== 'finished') return judged('failed', 'fails', drillEnd.because);
  const { positionAtHome, restReads } = context.guide.homing;
  const position = looks.at(-1)?.position;
  if (position === undefined || restReads === null) return ask;
  const off = position - restReads;
  const values = [
    { label: 'At rest after homing it reads', value: position, unit: '{u}' },
    { label: 'Predicted', value: restReads, unit: '{u}' },
  ];
  if (!looks.at(-1)?.isHomed) return judged('failed', 'fails', 'The drive does not say that it is homed.', values);
  const near = (value: number) =>
    Math.abs(off - value) <= Math.min(Math.abs(positionAtHome) / 4, 5 * tolerance(context));
  if (near(0)) return judged('passed', 'right', `Home reads ${shown(positionAtHome, context)}, as planned.`, values);
  if (near(-2 * positionAtHome))
    return judged(
      'failed',
      'opposite',
      'Home reads the opposite of what is planned: the home offset of this drive has the other meaning. Correct the row “profile,home offset” of its register map.',
      values,
    );
  if (near(-positionAtHome))
    return judged(
      'failed',
      'ignored',
      'Home reads 0: the drive does not use its home offset, or moves to zero after homing.',
      values,
    );
  return judged(
    'failed',
    'other',
    'Home reads neither what is planned nor its opposite: compare units and gear of the home offset.',
    values,
  );
}

/** Jogs towards a soft limit until the drive stops the axis. */
function judgeSoftLimit(direction: 1 | -1) {
  return (record: StepRecord, context: StepContext): Judgement => {
    const { homing, jogAcceleration } = context.guide;
    const limit = direction > 0 ? homing.plusSoftLimit : homing.minusSoftLimit;
    const held = record.looks.filter(({ pressed }) => pressed === direction);
    const last = held.at(-1);
    const isLetGo = last !== undefined && record.looks.at(-1)?.pressed === 0;
    const over = record.drillEnd !== undefined || record.answer !== undefined || isLetGo;
    if (limit === null || last?.position === undefined)
      return over ? judged('undecided', '', 'The button was not held. Try again.') : wait;
    const speed = startSpeed(context.guide, watchdogOf(context));
    const braking = 'speed' in speed ? speed.speed ** 2 / (2 * jogAcceleration) : 0;
    const beyond = direction * (last.position - limit);
    const values = [
      { label: 'Stopped at', value: last.position, unit: '{u}' },
      { label: 'Soft limit', value: limit, unit: '{u}' },
    ];
    if (beyond > tolerance(context) + braking)
      return judged(
        'failed',
        'passes',
        'The axis went past its soft limit: the drive does not keep it in this mode, does not know that it is homed, or counts it from another place.',
        values,
      );
    const recent = figuresOf(held.slice(-restLooks));
    const hasMoved =
      (figuresOf(held)?.farthestPlus ?? 0) + (figuresOf(held)?.farthestMinus ?? 0) > noticeable(context.guide);
    const stands =
      held.length > restLooks && recent && recent.farthestPlus + recent.farthestMinus < noticeable(context.guide);
    if (!stands || (!hasMoved && !over))
      return over
        ? judged('undecided', '', 'The button was released before the drive stopped the axis. Try again.')
        : wait;
    if (Math.abs(beyond) <= tolerance(context) + braking)
      return judged('passed', 'stops', 'The drive stopped at its soft limit.', values);
    const { positionAtHome } = homing;
    const isFromHome =
      positionAtHome !== 0 && Math.abs(Math.abs(beyond) - Math.abs(positionAtHome)) <= tolerance(context) + braking;
    return isFromHome
      ? judged(
          'failed',
          'from home',
          'The drive stopped away from its soft limit by as much as home reads: it does not count soft limits from where its register map says. Correct the row “profile,soft limits”.',
          values,
        )
      : judged(
          'failed',
          'short',
          'The drive stopped before its soft limit: at a limit switch, or at a soft limit of another value.',
          values,
        );
  };
}

/** Looks for which it has stood before it counts as stopped. */
const restLooks = 12;

const softLimitStep = (direction: 1 | -1): GuidedStep => {
  const name = direction > 0 ? 'plus' : 'minus';
  const limitOf = ({ homing }: StepContext['guide']) => (direction > 0 ? homing.plusSoftLimit : homing.minusSoftLimit);
  return {
    phase: 'Homing',
    title: `Soft limit towards ${name}`,
    needs: [direction > 0 ? 'jogPlus' : 'jogMinus', 'homeReads'],
    applies: ({ guide }) => guide.homing.by === 'drive' && limitOf(guide) !== null,
    task: (context) =>
      `Home the axis and jog it near the ${name} soft limit, ${shown(limitOf(context.guide) ?? 0, context)}. Start, hold ${name} until the drive stops the axis, keep holding for another second, then release.`,
    question: () => ({
      kind: 'choice',
      text: `Slow jog towards ${name} on the homed axis: where does it stop?`,
      answers: {
        stops: 'at the planned soft limit',
        passes: 'it goes past',
        short: 'before it',
        'from home': 'before or after it by what home reads',
      },
    }),
    passes: ['stops'],
    linked: {
      drill: (context) =>
        context.isHomed ? jogDrill([direction])(context) : 'Home the axis first: its soft limits count only then.',
      judge: judgeSoftLimit(direction),
    },
  };
};

/** ms without a look that tell that the drive was not alive */
const powerGap = 1500;
/** ms that a drive may need until its position is right again */
const wakeTime = 1500;

function judgePowerCycle({ looks, answer }: StepRecord, context: StepContext): Judgement {
  const gapAt = looks.findIndex(({ at }, k) => k > 0 && at - (looks[k - 1]?.at ?? at) > powerGap);
  const before = looks[gapAt - 1];
  const after = looks.at(-1);
  if (gapAt < 0 || !before || !after)
    return answer === undefined
      ? wait
      : judged(
          'undecided',
          '',
          'The drive answered all the time: its control power was not off. Switch off the supply of its control, too.',
        );
  if (after.at - (looks[gapAt]?.at ?? after.at) < wakeTime) return wait;
  if (before.position === undefined || after.position === undefined) return ask;
  const off = after.position - before.position;
  const values = [
    { label: 'Before', value: before.position, unit: '{u}' },
    { label: 'After', value: after.position, unit: '{u}' },
  ];
  if (!before.isHomed) return judged('undecided', '', 'The axis was not homed before. Home it, then repeat.', values);
  if (!after.isHomed)
    return judged(
      'failed',
      'lost',
      'Home is lost: the encoder is not absolute, its battery is flat, or the drive is not set to use its turns.',
      values,
    );
  if (Math.abs(off) <= tolerance(context))
    return judged('passed', 'kept', 'The position is the same after the power cycle.', values);
  const turns = off / context.guide.unitsPerTurn;
  const isWhole = Math.abs(turns) > 0.5 && Math.abs(turns - Math.round(turns)) < 0.02;
  return isWhole
    ? judged(
        'failed',
        'turns',
        `The position is off by ${Math.round(turns)} motor turns: the encoder has started over within the travel, or tells too few turns apart.`,
        values,
      )
    : judged(
        'failed',
        'moved',
        'The position is another one: the shaft was turned, or the drive does not keep its zero.',
        values,
      );
}

const skewOf = ({ guide }: StepContext) => guide.homing.pair;

export const homingSteps = {
  homeReads: {
    phase: 'Homing',
    title: 'What home reads',
    needs,
    applies: ({ guide }) => guide.homing.by === 'drive' && guide.homing.positionAtHome !== 0,
    task: (context) =>
      `The axis homes as planned, then stands. Home is to read ${shown(context.guide.homing.positionAtHome, context)}: drives differ in what they make of their home offset, and soft limits count only once this is proven.`,
    question: (context) => ({
      kind: 'choice',
      text: `After homing, at rest: what does the position of the drive read? ${shown(context.guide.homing.restReads ?? context.guide.homing.positionAtHome, context)} is predicted.`,
      answers: {
        right: 'that, or nearly',
        opposite: 'the same with the other sign',
        ignored: 'about 0',
        other: 'something else',
        fails: 'homing fails',
      },
    }),
    passes: ['right'],
    linked: {
      drill: ({ guide }) =>
        guide.homing.restReads === null
          ? 'Where homing comes to rest is not predicted: complete its values first.'
          : { kind: 'home' },
      done: { done: 'It was homed' },
      judge: judgeHome,
    },
  },
  softLimitPlus: softLimitStep(1),
  softLimitMinus: softLimitStep(-1),
  powerCycle: {
    phase: 'Homing',
    title: 'Position after a power cycle',
    needs: ['propped'],
    applies: ({ guide }) => guide.homing.isAbsolute,
    task: ({ guide }) =>
      `Home the axis, switch the motor off, and start. Switch off all supplies of the drive, wait ten seconds, and switch them on again. The axis must not move meanwhile.${guide.isSuspended ? ' Prop the load.' : ''} The link is restored automatically.`,
    question: () => ({
      kind: 'choice',
      text: 'Position after all supplies have been off: what does it read?',
      answers: {
        kept: 'the same as before',
        lost: 'the drive is not homed any more',
        turns: 'it is off by whole motor turns',
        moved: 'something else',
      },
    }),
    passes: ['kept'],
    outlivesLink: true,
    linked: { done: { done: 'The supplies are on again' }, judge: judgePowerCycle },
  },
  skew: {
    phase: 'Homing',
    title: 'Skew after homing',
    needs: [],
    applies: ({ guide }) => guide.homing.pair !== null,
    task: () =>
      'Let the controller home both sides. Then measure with a square or two gauges how far the second side is ahead of the first, towards plus.',
    question: ({ guide }) => ({
      kind: 'number',
      text: 'How far is the second side ahead of the first? Behind: a minus sign.',
      unit: guide.unit,
    }),
    passes: ['square'],
    signOf: (answer, context) => {
      const { skewLimit = null, squaringOffset = null } = skewOf(context) ?? {};
      const allowed = skewLimit === null ? tolerance(context) : skewLimit / 10;
      const values = [
        { label: 'Second side ahead', value: answer, unit: '{u}' },
        { label: 'Squaring offset that makes it square', value: (squaringOffset ?? 0) + answer, unit: '{u}' },
      ];
      return Math.abs(answer) <= allowed
        ? { verdict: 'passed', sign: 'square', words: 'Both sides are square.', values }
        : {
            verdict: 'failed',
            sign: 'skewed',
            words: `The second side is ${shown(Math.abs(answer), context)} ${answer > 0 ? 'ahead' : 'behind'}: set the squaring offset to ${shown((squaringOffset ?? 0) + answer, context)} here and in the controller, and home again.`,
            values,
          };
    },
  },
  skewTrip: {
    phase: 'Homing',
    title: 'Skew trips both sides',
    needs: ['skew'],
    applies: ({ guide }) => guide.homing.pair !== null,
    task: (context) => {
      const { skewLimit = null } = skewOf(context) ?? {};
      return `Motor off, clear of the mechanics: uncouple one motor, or set the skew limit of the controller to almost nothing${skewLimit === null ? '' : ` (${shown(skewLimit / 100, context)})`} for this test, and start a slow move. Both drives must be switched off at once. Put back what was changed.`;
    },
    question: () => ({
      kind: 'choice',
      text: 'One side moved away from the other: what happens?',
      answers: {
        both: 'both are switched off at once, and the skew limit is put back',
        one: 'only one is switched off',
        none: 'nothing trips',
      },
    }),
    passes: ['both'],
  },
} as const satisfies Record<string, GuidedStep>;
