import { judged, wait, type GuidedStep, type Judgement, type StepContext, type StepRecord } from '../guidedStep.ts';
import { figuresOf } from '../look.ts';
import { noticeable } from '../axisGuide.ts';
import { errorText } from '../../../drive/index.ts';
import { faultSeen } from '../look.ts';

// What the whole machine does: watched at this axis while others move, too.

const always = () => true;
const needs = ['hardwareStop', 'jogPlus', 'jogMinus'];
/** ms after the end of power in which nothing may restart */
const quietFor = 3000;

/** Power goes while it moves, and when it is back nothing starts automatically. */
function judgeGone({ looks, answer }: StepRecord, { guide }: StepContext): Judgement {
  const fastest = Math.max(0, ...looks.map(({ speed }) => Math.abs(speed ?? 0)));
  const moved = looks.findIndex(
    ({ speed, state }) => state === 'operation enabled' && Math.abs(speed ?? 0) > noticeable(guide),
  );
  const off = looks.findIndex(
    ({ state }, k) => moved >= 0 && k > moved && state !== 'operation enabled' && state !== 'quick stop active',
  );
  if (off < 0)
    return answer === undefined
      ? wait
      : moved < 0
        ? judged('undecided', '', 'The axis was not seen to move. Have it moved by the controller first.')
        : judged('failed', 'no reaction', 'The drive stayed enabled.');
  const after = looks.slice(off);
  if (after.some(({ state }) => state === 'operation enabled'))
    return judged('failed', 'restarts', 'The drive became enabled automatically when power returned.');
  const figures = figuresOf(after);
  if (answer === undefined || (looks.at(-1)?.at ?? 0) - (after[0]?.at ?? 0) < quietFor) return wait;
  return judged('passed', 'stops', 'It lost its power in motion, came to rest, and nothing restarted.', [
    { label: 'From', value: fastest, unit: '{u}/s' },
    ...(figures ? [{ label: 'Went on for', value: Math.abs(figures.moved), unit: '{u}' }] : []),
  ]);
}

export const machineTestSteps = {
  machineStop: {
    phase: 'Machine test',
    title: 'Hardware stop with everything moving',
    needs,
    applies: always,
    task: () =>
      'Have all axes and the spindle moved by the controller, then press the hardware stop. Release it: nothing may restart. Confirm when it is released.',
    question: () => ({
      kind: 'choice',
      text: 'Everything moving, hardware stop pressed and released: what happens?',
      answers: {
        stops: 'everything stops, nothing restarts',
        'no reaction': 'something goes on',
        restarts: 'something restarts automatically',
      },
    }),
    passes: ['stops'],
    linked: { done: { done: 'Pressed and released' }, judge: judgeGone },
  },
  machineSupply: {
    phase: 'Machine test',
    title: 'Supply lost and back',
    needs,
    applies: always,
    task: () =>
      'Have all axes moved by the controller, switch the main supply of the machine off, and on again after ten seconds. Nothing may restart. Confirm when it is back.',
    question: () => ({
      kind: 'choice',
      text: 'Main supply lost in motion, and back: what happens?',
      answers: { stops: 'everything stops, nothing restarts', restarts: 'something restarts automatically' },
    }),
    passes: ['stops'],
    linked: { done: { done: 'The supply is back' }, judge: judgeGone },
  },
  spindleAlone: {
    phase: 'Machine test',
    title: 'Spindle through its range, axes at rest',
    needs,
    applies: always,
    task: () =>
      'Leave the axes at rest. Run the spindle slowly through its whole range and back. Neither position nor any input of this axis may change.',
    question: () => ({
      kind: 'choice',
      text: 'Spindle through its range, axes at rest: does a position or an input change?',
      answers: { quiet: 'no', changes: 'yes', none: 'the machine has no spindle' },
    }),
    passes: ['quiet', 'none'],
    linked: {
      done: { done: 'The spindle has been through its range' },
      judge: ({ looks, answer, elapsed }, { unitsPerCount }) => {
        if (answer === undefined || elapsed < 3000) return wait;
        const figures = figuresOf(looks);
        const wandered = figures ? figures.farthestPlus + figures.farthestMinus : 0;
        const key = (k: number) => (looks[k]?.active ?? []).map((input) => input.key).join();
        const changed = looks.some((_, k) => key(k) !== key(0));
        const values = [{ label: 'Wandered', value: wandered, unit: '{u}' }];
        return changed || wandered > 2 * Math.abs(unitsPerCount)
          ? judged(
              'failed',
              'changes',
              changed
                ? 'An input changed while the spindle ran: route its cable apart from the motor cable, and connect the shields.'
                : 'The position changed while the spindle ran: connect the shield of the encoder cable, and route it apart from the motor cable.',
              values,
            )
          : judged('passed', 'quiet', 'Nothing changed while the spindle ran.', values);
      },
    },
  },
  spindleMoving: {
    phase: 'Machine test',
    title: 'Spindle through its range, axes moving',
    needs: [...needs, 'spindleAlone'],
    applies: always,
    task: () =>
      'Have the axes go back and forth from the controller while the spindle runs through its whole range. No drive may trip, and the axis must come back to where it was.',
    question: () => ({
      kind: 'choice',
      text: 'Spindle through its range while the axes move: what happens?',
      answers: {
        fine: 'no alarm, and positions are kept',
        trips: 'a drive trips',
        lost: 'a position is lost',
        none: 'the machine has no spindle',
      },
    }),
    passes: ['fine', 'none'],
    linked: {
      done: { done: 'Both have run; the axis is back' },
      judge: ({ looks, answer }, { guide }) => {
        const fault = faultSeen(looks);
        if (fault !== undefined)
          return judged('failed', 'trips', `The drive tripped: ${errorText(fault) ?? 'a fault'}`);
        if (answer === undefined) return wait;
        const figures = figuresOf(looks);
        if (!figures || Math.max(figures.farthestPlus, figures.farthestMinus) < 5 * noticeable(guide))
          return judged('undecided', '', 'The axis was not seen to move.');
        const values = [{ label: 'From start to end', value: figures.moved, unit: '{u}' }];
        return Math.abs(figures.moved) > noticeable(guide)
          ? judged('failed', 'lost', 'The axis did not come back to where it was.', values)
          : judged('passed', 'fine', 'No alarm, and the axis came back.', values);
      },
    },
  },
} as const satisfies Record<string, GuidedStep>;
