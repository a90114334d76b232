import { noticeable } from '../axisGuide.ts';
import { ask, judged, wait, type GuidedStep } from '../guidedStep.ts';
import { figuresOf } from '../look.ts';
import { factorOf } from './controlSupply.ts';
import { always, jogDrill } from './motionNeeds.ts';

/** How far the load goes, measured at the load, against the feedback. */
export const travelStep: GuidedStep = {
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
  asks: (isLinked) => (isLinked ? [] : [{ key: 'commanded', when: 'answer', isRequired: true }]),
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
};
