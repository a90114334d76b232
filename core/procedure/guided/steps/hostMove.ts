import { ask, judged, wait, type GuidedStep } from '../guidedStep.ts';
import { figuresOf } from '../look.ts';
import { factorOf } from './controlSupply.ts';
import { motionNeeds } from './motionNeeds.ts';

/** A move from the controller and back, through the real command path. */
export const hostMoveStep: GuidedStep = {
  phase: 'First motion',
  title: 'A move from the controller',
  needs: [...motionNeeds, 'jogPlus'],
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
  asks: (isLinked) => (isLinked ? [{ key: 'commanded', when: 'answer', isRequired: true }] : []),
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
        return judged('failed', 'still', 'The command did not reach the drive, or the drive was not enabled.', values);
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
};
