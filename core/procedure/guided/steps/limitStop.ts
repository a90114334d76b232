import type { DriveInput } from '../../../drive/index.ts';
import { noticeable } from '../axisGuide.ts';
import { judged, wait, type GuidedStep, type Judgement, type StepContext, type StepRecord } from '../guidedStep.ts';
import { figuresOf } from '../look.ts';
import { bounded, isOn, jogDrill, motionNeeds } from './motionNeeds.ts';

const limitOf = (direction: 1 | -1) => (direction > 0 ? 'plusLimit' : 'minusLimit') as DriveInput['role'];

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

/** A limit stops its own direction, and leaving it is possible. */
export function limitStep(direction: 1 | -1): GuidedStep {
  const [name, away] = direction > 0 ? ['plus', 'minus'] : ['minus', 'plus'];
  return {
    phase: 'First motion',
    title: `The ${name} limit stops ${name}`,
    needs: [...motionNeeds, direction > 0 ? 'jogPlus' : 'jogMinus'],
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
