import type { DriveInput } from '../../../drive/index.ts';
import { judged, wait, type GuidedStep, type StepContext } from '../guidedStep.ts';
import { hasBrake } from '../axisGuide.ts';
import type { Look } from '../look.ts';
import { residualVoltage } from './everyDrive.ts';

// What has to be sure before main power is there.

const always = () => true;
const torqueOffInputs = ({ inputs }: StepContext): readonly DriveInput[] =>
  inputs.filter(({ role }) => role === 'safeTorqueOff');
/** ms for which nothing may restart */
const quietFor = 2000;

const isOpen = (look: Look, { key }: DriveInput): boolean => !look.active.some((each) => each.key === key);

export const beforePowerSteps = {
  warnings: residualVoltage,
  hardwareStop: {
    phase: 'Before main power',
    title: 'Hardware stop proven',
    needs: [],
    applies: always,
    task: (context) =>
      torqueOffInputs(context).length > 0
        ? 'Kavrid is not a safety function. Press the hardware stop, see both channels of safe torque off open, and release it again. Nothing may start automatically.'
        : 'Kavrid is not a safety function. Press the hardware stop: main power, or safe torque off, must go. Release it: nothing may start automatically.',
    question: () => ({
      kind: 'choice',
      text: 'Hardware stop pressed and released: does it take the power from this axis, and does nothing start automatically?',
      answers: {
        proven: 'power goes, and nothing restarts',
        'no reaction': 'power stays',
        restarts: 'something starts automatically',
      },
    }),
    passes: ['proven'],
    linked: {
      done: { done: 'Pressed; no input changed' },
      judge: ({ looks, answer, sinceAnswer }, context) => {
        const channels = torqueOffInputs(context);
        if (channels.length === 0) return answer === undefined ? { kind: 'ask' } : wait;
        if (looks.some(({ state }) => state === 'operation enabled'))
          return judged(
            'failed',
            'restarts',
            'The drive became enabled when the hardware stop was released. Set the safety relay to manual reset.',
          );
        const opened = channels.filter((channel) => looks.some((look) => isOpen(look, channel)));
        const last = looks.at(-1);
        const firstOpen = looks.findIndex((look) => channels.some((channel) => isOpen(look, channel)));
        const stuck = channels.filter((channel) => looks.every((look) => isOpen(look, channel)));
        if (stuck.length > 0 && (last?.at ?? 0) - (looks[0]?.at ?? 0) > 4 * quietFor)
          return judged(
            'failed',
            'always open',
            `${stuck.map(({ label }) => label).join(' and ')} stays open: check the safety relay and its wires.`,
          );
        if (firstOpen < 0)
          return answer === undefined || (sinceAnswer ?? 0) < 100
            ? wait
            : judged(
                'failed',
                'no reaction',
                'Neither channel of safe torque off opened: the hardware stop does not reach this drive.',
              );
        const closedAt = looks.findIndex(
          (look, k) => k > firstOpen && channels.every((channel) => !isOpen(look, channel)),
        );
        if (closedAt < 0 || (last?.at ?? 0) - (looks[closedAt]?.at ?? 0) < quietFor)
          return answer !== undefined && closedAt < 0 && opened.length < channels.length
            ? judged(
                'failed',
                'one channel',
                `Only ${opened.map(({ label }) => label).join()} opened: the other channel is bridged or wired elsewhere.`,
              )
            : wait;
        return opened.length === channels.length
          ? judged(
              'passed',
              'proven',
              `${channels.length > 1 ? 'Both channels' : 'The channel'} opened, and nothing restarted.`,
            )
          : judged(
              'failed',
              'one channel',
              `Only ${opened.map(({ label }) => label).join()} opened: the other channel is bridged or wired elsewhere.`,
            );
      },
    },
  },
  brakeKnown: {
    phase: 'Before main power',
    title: 'Holding brake known',
    needs: [],
    applies: ({ guide }) => guide.isSuspended,
    task: ({ guide: { brake } }) =>
      hasBrakeData(brake)
        ? `The brake is driven by the ${brake.drivenBy}: ${brake.torque} N·m, released after ${brake.releaseDelay} s, engaged after ${brake.engageDelay} s.`
        : 'The plan does not say all of the holding brake: its torque, its release and engage delay, and what drives it. Enter them on the page Planned values.',
    question: ({ guide: { brake } }) => ({
      kind: 'choice',
      text: 'Do torque, delays and driver of the holding brake in the plan agree with its nameplate and wiring?',
      answers: {
        // What the plan does not say cannot be compared.
        ...(hasBrakeData(brake) ? { known: 'yes' } : {}),
        none: 'there is no brake; the mechanics hold the load',
        unknown: 'no',
      },
    }),
    passes: ['known', 'none'],
  },
} as const satisfies Record<string, GuidedStep>;

const hasBrakeData = (brake: StepContext['guide']['brake']): boolean =>
  hasBrake({ brake } as StepContext['guide']) &&
  brake.torque !== null &&
  brake.releaseDelay !== null &&
  brake.engageDelay !== null;
