import { formatNumber } from '../../../quantity/index.ts';
import { errorText } from '../../../drive/index.ts';
import { judged, wait, type Drill, type GuidedStep, type StepContext } from '../guidedStep.ts';
import { faultSeen, powered } from '../look.ts';
import { startSpeed, steadyLag } from '../startValues.ts';
import { notEnabled } from './mainPower.ts';
import { motionNeeds, watchdogOf } from './motionNeeds.ts';

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

/** The following-error window reduced for a moment, and a slow jog: the drive trips. */
export const alarmStep: GuidedStep = {
  phase: 'First motion',
  title: 'Following-error alarm trips',
  needs: [...motionNeeds, 'jogPlus'],
  applies: ({ guide }) => guide.loopIn === 'drive',
  task: (context) => {
    const drill = alarmDrill(context);
    return typeof drill === 'string'
      ? drill
      : `The following-error window is reduced for a moment to ${formatNumber(drill.window, 2)} ${context.guide.unit}, and the axis jogs slowly towards plus automatically for at most ${drill.seconds} s: the drive must trip. Never put a hand on a live axis for this.`;
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
};
