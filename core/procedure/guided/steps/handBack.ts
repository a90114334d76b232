import { judged, wait, type GuidedStep } from '../guidedStep.ts';

/** Everything that was changed for the steps is as it was. */
export const handBackSteps = {
  restored: {
    phase: 'Hand back',
    title: 'Temporary settings restored',
    needs: [],
    applies: () => true,
    task: () =>
      'Restore the command source and every other temporary setting with the button “Restore” at the top of the page; the enable of the controller is off and its command zero.',
    question: () => ({
      kind: 'choice',
      text: 'Are torque limit, following-error window and command source as planned again?',
      answers: { restored: 'yes', changed: 'no' },
    }),
    passes: ['restored'],
    linked: {
      judge: ({ elapsed }, { given }) =>
        elapsed < 300
          ? wait
          : (given.temporary ?? 0) === 0
            ? judged('passed', 'restored', 'No temporary setting is left at this drive.')
            : judged(
                'failed',
                'changed',
                'Temporary settings are still in the drive. Restore them, then repeat this step.',
              ),
    },
  },
} as const satisfies Record<string, GuidedStep>;
