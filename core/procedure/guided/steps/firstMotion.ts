import type { GuidedStep } from '../guidedStep.ts';
import { bumpStep } from './bump.ts';
import { alarmStep } from './errorAlarm.ts';
import { hostMoveStep } from './hostMove.ts';
import { limitStep } from './limitStop.ts';
import { travelStep } from './loadTravel.ts';
import { always } from './motionNeeds.ts';
import { jogStep } from './slowJog.ts';

// The axis moves for the first time, a little, slowly, with a low torque limit.

/** Directions as a person sees them. */
const seen = {
  plus: 'towards plus',
  minus: 'towards minus',
  still: 'it did not move',
};

export const firstMotionSteps = {
  bump: bumpStep,
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
  travel: travelStep,
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
  alarm: alarmStep,
  hostAlarm: {
    phase: 'First motion',
    title: 'Alarm reaches the controller',
    needs: ['mainPower'],
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
        inverted: 'it is inverted',
      },
    }),
    passes: ['right'],
  },
  hostMove: hostMoveStep,
} as const satisfies Record<string, GuidedStep>;
