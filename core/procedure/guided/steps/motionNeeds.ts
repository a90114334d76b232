import type { DriveInput } from '../../../drive/index.ts';
import { judged, type Drill, type Judgement, type StepContext, type StepRecord } from '../guidedStep.ts';
import type { Look } from '../look.ts';
import { motionTorque, startSpeed, torqueLabel } from '../startValues.ts';

/** What has to be behind before an axis moves. */
export const motionNeeds = ['hardwareStop', 'warnings', 'propped', 'handTurn', 'mainPower', 'standstill'];
export const always = () => true;

export const bounded = ({ guide, inputs }: StepContext) =>
  !guide.isEndless || inputs.some(({ role }) => role === 'plusLimit');

/** s; a drive that does not tell it is taken to need this long. */
export const watchdogOf = ({ watchdog }: StepContext): number => watchdog ?? 0.2;

/** The drill of a jog; a text: why there is none. */
export function jogDrill(directions: readonly (1 | -1)[]) {
  return (context: StepContext): Drill | string => {
    const speed = startSpeed(context.guide, watchdogOf(context));
    return 'speed' in speed ? { kind: 'jog', directions, speed: speed.speed } : speed.because;
  };
}

export const isOn = (look: Look, role: DriveInput['role']): boolean => look.active.some((input) => input.role === role);

/** Nothing moves: is the motor pushing as hard as it may? */
export function judgeStill(peakTorque: number, context: StepContext, { drillEnd }: StepRecord): Judgement {
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
