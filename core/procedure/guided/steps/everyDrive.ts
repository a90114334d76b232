import { judged, wait, type BaseContext, type GuidedStep } from '../guidedStep.ts';

// Steps that the drives of axes and spindles have alike.

/** The values that matter are read from the drive and compared with the plan. */
export const compareStep = (title: string, task: string): GuidedStep<BaseContext> => ({
  phase: 'Control supply only',
  title,
  needs: [],
  applies: () => true,
  task: () => task,
  question: () => ({
    kind: 'choice',
    text: 'Do the values in the drive agree with its key-in sheet, and have they survived a restart?',
    answers: { same: 'yes, all of them', differs: 'no' },
  }),
  passes: ['same'],
  linked: {
    drill: () => ({ kind: 'compare' }),
    judge: ({ drillEnd }) =>
      drillEnd === undefined
        ? wait
        : drillEnd.kind === 'finished'
          ? judged('passed', 'same', 'Every checked value runs as planned.')
          : judged('failed', 'differs', drillEnd.because),
  },
});

export const residualVoltage: GuidedStep<BaseContext> = {
  phase: 'Before main power',
  title: 'Residual voltage known',
  needs: [],
  applies: () => true,
  task: () =>
    'After the supply is off, a drive stays charged. Wait as long as its label says, 15 minutes where it says nothing, and measure before a terminal is touched (IEC 61800-5-1, IEC 60204-1).',
  question: () => ({
    kind: 'choice',
    text: 'Is the discharge time of this drive known, and does its supply agree with the mains or the power supply?',
    answers: { known: 'yes', unknown: 'no' },
  }),
  passes: ['known'],
};
