import { errorText, type DriveInput } from '../../../drive/index.ts';
import { motorTorque } from '../../../motion/index.ts';
import { noticeable } from '../axisGuide.ts';
import {
  ask,
  judged,
  wait,
  type Drill,
  type GuidedStep,
  type Judgement,
  type ShownValue,
  type StepContext,
  type StepRecord,
} from '../guidedStep.ts';
import { faultSeen, figuresOf, powered, steadyTorque, type Look } from '../look.ts';
import { bumpDistance, motionTorque, startSpeed, steadyLag, torqueLabel, worstRunaway } from '../startValues.ts';
import { factorOf } from './controlSupply.ts';
import { notEnabled } from './mainPower.ts';

// The axis moves for the first time, a little, slowly, with a low torque limit.

const needs = ['hardwareStop', 'warnings', 'propped', 'handTurn', 'mainPower', 'standstill'];
const always = () => true;
const bounded = ({ guide, inputs }: StepContext) => !guide.isEndless || inputs.some(({ role }) => role === 'plusLimit');

const watchdogOf = ({ watchdog }: StepContext): number => watchdog ?? 0.2;

/** Directions as a person sees them. */
const seen = {
  plus: 'towards plus',
  minus: 'towards minus',
  still: 'it did not move',
};

const moveAnswers = {
  right: 'a little towards plus',
  opposite: 'a little towards minus',
  'runs away': 'it runs away, or trips',
  still: 'nothing',
} as const;

/** Nothing moves: is the motor pushing as hard as it may? */
function judgeStill(peakTorque: number, context: StepContext, { drillEnd }: StepRecord): Judgement {
  const torque = motionTorque(context);
  const limit = 'percent' in torque ? torque.percent : 100;
  const values = [
    { label: 'Highest torque', value: peakTorque, unit: '%' },
    { label: torqueLabel, value: limit, unit: '%' },
  ];
  if (peakTorque < 0.85 * limit)
    return judged(
      'failed',
      'still without torque',
      [
        'It did not move, and the motor hardly pushed: it gets no command, or the motor is not connected.',
        ...(drillEnd?.because ? [drillEnd.because] : []),
      ].join(' '),
      values,
    );
  if ('next' in torque && torque.next !== undefined)
    return judged(
      'undecided',
      '',
      `It did not move with a torque limit of ${limit} %. Repeat with ${torque.next} %.`,
      values,
    );
  return judged(
    'failed',
    'still at the limit',
    `It did not move with the whole planned torque limit, ${limit} %: the brake is shut, or something jams or sticks.`,
    values,
  );
}

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
      `It ran ${farthest.toPrecision(3)} ${context.guide.unit}${fault === undefined ? '' : ` and tripped: ${errorText(fault) ?? 'a fault'}`}`,
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

/** The drill of a jog; a text: why there is none. */
function jogDrill(directions: readonly (1 | -1)[]) {
  return (context: StepContext): Drill | string => {
    const speed = startSpeed(context.guide, watchdogOf(context));
    return 'speed' in speed ? { kind: 'jog', directions, speed: speed.speed } : speed.because;
  };
}

const jogTask = (direction: string) => (context: StepContext) => {
  const speed = startSpeed(context.guide, watchdogOf(context));
  const { unit } = context.guide;
  if (!('speed' in speed)) return speed.because;
  const how = `${speed.speed} ${unit}/s, limited by: ${speed.limitedBy}; ${speed.stopping.toPrecision(2)} ${unit} to rest at the worst`;
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
        `It tripped after ${figures.moved.toPrecision(3)} ${context.guide.unit}: ${errorText(fault) ?? 'a fault'}`,
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

const limitOf = (direction: 1 | -1) => (direction > 0 ? 'plusLimit' : 'minusLimit') as DriveInput['role'];
const isOn = (look: Look, role: DriveInput['role']) => look.active.some((input) => input.role === role);

function judgeLimit(direction: 1 | -1) {
  const [own, other] = [limitOf(direction), limitOf(direction === 1 ? -1 : 1)];
  return (record: StepRecord, context: StepContext): Judgement => {
    // One that is active all the time says nothing.
    const isAlways = (role: DriveInput['role']) => record.looks.slice(0, 5).every((look) => isOn(look, role));
    const watched = [own, other].filter((role) => !isAlways(role));
    const tripped = record.looks.filter((look) => watched.some((role) => isOn(look, role)));
    const name = direction > 0 ? 'plus' : 'minus';
    const over = record.drillEnd !== undefined || record.answer !== undefined;
    const isPressed = (record.looks.at(-1)?.pressed ?? 0) !== 0;
    if (isPressed && !over) return wait;
    if (tripped.length === 0)
      return over
        ? judged('failed', 'no reaction', 'No limit input changed: its wire is broken, or another switch was tripped.')
        : wait;
    const wrong = tripped.filter((look) => !isOn(look, own));
    if (wrong.length > 0.8 * tripped.length)
      return judged(
        'failed',
        'swapped',
        `The switch at the ${name} end shows at the other limit input: the limits are exchanged.`,
      );
    const towards = tripped.filter((look) => look.pressed === direction);
    const back = tripped.filter((look) => look.pressed === -direction);
    const late = towards.slice(Math.min(towards.length - 1, 8));
    const goesOn = figuresOf(late);
    if (towards.length > 8 && goesOn && Math.abs(goesOn.moved) > 3 * noticeable(context.guide))
      return judged(
        'failed',
        'goes on',
        `The axis went on towards ${name} although its limit input was active: the drive does not heed it.`,
      );
    const left = figuresOf(back);
    if (towards.length > 3 && left && -direction * left.moved > noticeable(context.guide))
      return judged('passed', 'stops', `The limit stopped ${name}, and the axis could leave it.`);
    return over
      ? towards.length > 3
        ? judged('failed', 'cannot leave', 'It was stopped, but did not leave the limit in the other direction.')
        : judged('undecided', '', 'The button was not held while the switch was tripped. Try again.')
      : wait;
  };
}

function limitStep(direction: 1 | -1): GuidedStep {
  const [name, away] = direction > 0 ? ['plus', 'minus'] : ['minus', 'plus'];
  return {
    phase: 'First motion',
    title: `The ${name} limit stops ${name}`,
    needs: [...needs, direction > 0 ? 'jogPlus' : 'jogMinus'],
    applies: bounded,
    task: ({ canCommand }) =>
      canCommand
        ? `Hold ${name}, and have the ${name} limit switch tripped with a tool, from outside the way of the axis: the axis stops. Keep it tripped, let go, and hold ${away}: the axis leaves.`
        : `Jog slowly towards ${name} from the controller, and have the ${name} limit switch tripped with a tool: the axis stops. Then jog towards ${away}: it leaves.`,
    question: () => ({
      kind: 'choice',
      text: `Jogging slowly towards ${name}, its switch tripped with a tool: what happens?`,
      answers: {
        stops: `it stops, and leaves towards ${away}`,
        'goes on': 'it goes on',
        'no reaction': 'no input changes',
        swapped: 'the other limit becomes active',
        'cannot leave': `it stops, but does not leave towards ${away}`,
      },
    }),
    passes: ['stops'],
    linked: { drill: jogDrill([direction, direction === 1 ? -1 : 1]), judge: judgeLimit(direction) },
  };
}

const jogStep = (direction: 1 | -1): GuidedStep => {
  const name = direction > 0 ? 'plus' : 'minus';
  return {
    phase: 'First motion',
    title: `Slow jog towards ${name}`,
    needs: [...needs, 'bump'],
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

const commanded = { key: 'commanded', when: 'answer', isRequired: true } as const;

export const firstMotionSteps = {
  bump: {
    phase: 'First motion',
    title: 'Bump from mid-travel',
    needs,
    applies: always,
    task: (context) => {
      const { guide, unitsPerCount } = context;
      const bump = bumpDistance(guide, unitsPerCount);
      const worst = worstRunaway(guide, bump);
      const room = guide.travel === null ? undefined : guide.travel / 2;
      const away =
        worst === undefined
          ? 'How far it could run away is not known: keep a hand at the hardware stop.'
          : `If it runs away it goes ${worst.toPrecision(2)} ${guide.unit} before it has tripped and stopped${room === undefined ? '' : worst > room ? `, more than the ${room.toPrecision(3)} ${guide.unit} of room: reduce the following-error window first` : `, of ${room.toPrecision(3)} ${guide.unit} of room from mid-travel`}.`;
      return `Bring the axis to mid-travel by hand. ${context.canCommand ? 'It moves' : 'From the controller, move it'} ${bump.toPrecision(2)} ${guide.unit} towards plus. ${away}`;
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
          return `A runaway would go ${worst.toPrecision(2)} ${guide.unit}, and there are ${(guide.travel / 2).toPrecision(3)} ${guide.unit} of room from mid-travel. Plan a smaller following-error window first.`;
        return 'percent' in torque ? { kind: 'bump', distance, torque: torque.percent } : torque.because;
      },
      done: { done: 'It was moved' },
      judge: judgeBump,
    },
  },
  jogPlus: jogStep(1),
  jogMinus: jogStep(-1),
  direction: {
    phase: 'First motion',
    title: 'Plus is plus at the load',
    needs: ['jogPlus'],
    applies: always,
    task: () => 'Only a person can see which way the load goes. Watch the load while the axis jogs towards plus.',
    question: () => ({ kind: 'choice', text: 'Jogged towards plus: which way did the load go?', answers: seen }),
    passes: ['plus'],
  },
  travel: {
    phase: 'First motion',
    title: 'Travel at the load',
    needs: ['jogPlus', 'jogMinus'],
    applies: always,
    task: ({ canCommand, guide }) =>
      canCommand
        ? `Mark the load, start, hold plus until it has gone a good way, and let go. Then measure with a rule how far the load went, in ${guide.unit}.`
        : `Mark the load, move it a good way from the controller, and measure how far it went, in ${guide.unit}.`,
    question: ({ guide }) => ({
      kind: 'number',
      text: 'How far did the load go, measured at the load?',
      unit: guide.unit,
    }),
    passes: ['right'],
    linked: {
      drill: jogDrill([1, -1]),
      judge: (record, context) => {
        const figures = figuresOf(record.looks);
        // Pressed as often as the user likes; the motor is off while it is measured.
        if (context.canCommand && record.drillEnd === undefined) return wait;
        if (!figures || typeof record.answer !== 'number') return ask;
        const values = [
          { label: 'By the feedback', value: figures.moved, unit: '{u}' },
          { label: 'Measured', value: record.answer, unit: '{u}' },
        ];
        if (Math.abs(figures.moved) < 20 * noticeable(context.guide))
          return judged('undecided', '', 'That is too short a way to compare. Move farther.', values);
        const { sign, words } = factorOf(record.answer, figures.moved, [context.guide.unitsPerTurn]);
        return sign === 'right'
          ? judged('passed', sign, 'Load and feedback agree.', values)
          : judged('failed', sign, `The load went ${words}.`, values);
      },
    },
    asks: (isLinked) => (isLinked ? [] : [commanded]),
    signOf: (answer, { given, guide }) => {
      const commanded = given.commanded ?? NaN;
      const values = [{ label: 'Measured', value: answer, unit: '{u}' }];
      if (!Number.isFinite(commanded) || commanded === 0)
        return { verdict: 'undecided', sign: '', words: 'Enter how far it was commanded, too.', values };
      const { sign, words } = factorOf(answer, commanded, [guide.unitsPerTurn]);
      return {
        verdict: sign === 'right' ? 'passed' : 'failed',
        sign,
        words: sign === 'right' ? 'It went as far as commanded.' : `The load went ${words}.`,
        values: [{ label: 'Commanded', value: commanded, unit: '{u}' }, ...values],
      };
    },
  },
  marks: {
    phase: 'First motion',
    title: 'Couplings hold',
    needs: ['jogPlus', 'jogMinus'],
    applies: always,
    task: () =>
      'Mark the motor shaft and the hub on it, and each further shaft and hub of the chain, with one stroke across both. After the jogs the strokes must still be straight.',
    question: () => ({
      kind: 'choice',
      text: 'After jogging to and fro: are the strokes across shafts and hubs still straight?',
      answers: { straight: 'yes', parted: 'one has parted', hidden: 'they cannot be seen' },
    }),
    passes: ['straight', 'hidden'],
  },
  limitPlus: limitStep(1),
  limitMinus: limitStep(-1),
  alarm: {
    phase: 'First motion',
    title: 'Following-error alarm trips',
    needs: [...needs, 'jogPlus'],
    applies: ({ guide }) => guide.loopIn === 'drive',
    task: (context) => {
      const drill = alarmDrill(context);
      return typeof drill === 'string'
        ? drill
        : `The following-error window is reduced for a moment to ${drill.window.toPrecision(2)} ${context.guide.unit}, and the axis jogs slowly towards plus automatically for at most ${drill.seconds} s: the drive must trip. Never put a hand on a live axis for this.`;
    },
    question: () => ({
      kind: 'choice',
      text: 'Following-error window reduced below the lag of a slow jog: does the drive trip?',
      answers: { trips: 'yes', 'does not trip': 'no', untested: 'its window cannot be changed' },
    }),
    passes: ['trips', 'untested'],
    linked: {
      drill: (context) => alarmDrill(context),
      judge: (record, context) => {
        if (record.drillEnd === undefined) return wait;
        const fault = faultSeen(record.looks);
        if (fault === undefined && powered(record.looks).length === 0) return notEnabled(record, context);
        return fault !== undefined
          ? judged(
              'passed',
              'trips',
              `It tripped: ${errorText(fault) ?? 'a fault'} Reset the fault before the next step.`,
            )
          : judged(
              'failed',
              'does not trip',
              'The drive went on with an error beyond its window: nothing would stop a blocked axis.',
            );
      },
    },
  },
  hostAlarm: {
    phase: 'First motion',
    title: 'Alarm reaches the controller',
    needs: ['alarm'],
    applies: always,
    task: () =>
      'While the drive shows its alarm, look at the controller: it must show the alarm, and must not without one.',
    question: () => ({
      kind: 'choice',
      text: 'The alarm of the drive at the controller: when is it shown?',
      answers: {
        right: 'with the alarm, and only then',
        never: 'never',
        always: 'always',
        inverted: 'the other way round',
      },
    }),
    passes: ['right'],
  },
  hostMove: {
    phase: 'First motion',
    title: 'A move from the controller',
    needs: [...needs, 'jogPlus'],
    applies: ({ guide, profile }) => guide.commandedBy !== 'inputs' && profile !== undefined,
    task: ({ guide }) =>
      `Command source at the controller. Enable there, move towards plus by a distance that you enter here in ${guide.unit}, wait, and move back.`,
    question: () => ({
      kind: 'choice',
      text: 'A move towards plus from the controller, and back: what does the axis do?',
      answers: {
        right: 'both moves, the distance is right',
        opposite: 'both moves, in the wrong direction',
        factor: 'off by a factor',
        short: 'a little short each time',
        long: 'a little long each time',
        still: 'nothing',
        'one way': 'the same way for both',
      },
    }),
    passes: ['right'],
    asks: (isLinked) => (isLinked ? [commanded] : []),
    linked: {
      done: { done: 'Both moves were made' },
      judge: ({ looks, answer }, { guide, given }) => {
        if (answer === undefined) return wait;
        const { commanded } = given;
        if (commanded === undefined || !(commanded > 0))
          return judged('undecided', '', 'Enter how far towards plus it was commanded, as a positive number.');
        const figures = figuresOf(looks);
        if (!figures) return ask;
        const values = [
          { label: 'Commanded', value: commanded, unit: '{u}' },
          { label: 'Farthest towards plus', value: figures.farthestPlus, unit: '{u}' },
          { label: 'Farthest towards minus', value: figures.farthestMinus, unit: '{u}' },
          { label: 'From start to end', value: figures.moved, unit: '{u}' },
        ];
        const far = Math.max(figures.farthestPlus, figures.farthestMinus);
        if (far < Math.abs(commanded) / 200)
          return judged(
            'failed',
            'still',
            'The command did not reach the drive, or the drive was not enabled.',
            values,
          );
        if (Math.abs(figures.moved) > 0.5 * far)
          return judged('failed', 'one way', 'It moved the same way for both: the direction does not arrive.', values);
        if (figures.farthestMinus > figures.farthestPlus)
          return judged('failed', 'opposite', 'It moved towards minus first: the direction is inverted.', values);
        // A pulse of a hundred is ten times as much as the last digit of a rule.
        const ratio = figures.farthestPlus / commanded;
        if (Math.abs(ratio - 1) < 0.003)
          return judged('passed', 'right', 'It went as far as commanded, and back.', values);
        if (Math.abs(ratio - 1) < 0.05)
          return ratio < 1
            ? judged('failed', 'short', 'It went a little short: pulses are lost.', values)
            : judged('failed', 'long', 'It went a little far: pulses are counted twice.', values);
        const { sign, words } = factorOf(figures.farthestPlus, commanded, [guide.unitsPerTurn]);
        return judged('failed', sign === 'right' ? 'short' : sign, `It went ${words}.`, values);
      },
    },
  },
} as const satisfies Record<string, GuidedStep>;

/** A window that a slow jog exceeds for sure: half of its lag, or, where that is not known, twenty counts. */
function alarmDrill(context: StepContext): Extract<Drill, { readonly kind: 'alarm' }> | string {
  const speed = startSpeed(context.guide, watchdogOf(context));
  if (!('speed' in speed)) return speed.because;
  const lag = steadyLag(context.guide, speed.speed);
  // With a feedforward the lag of the ramp is left: a share of the speed in any case.
  const window = Math.max(
    Math.abs(context.unitsPerCount),
    (lag ?? 0) > 0 ? (lag ?? 0) / 2 : 20 * Math.abs(context.unitsPerCount),
  );
  return { kind: 'alarm', speed: speed.speed, window, seconds: 1 };
}
