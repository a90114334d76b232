import { formatNumber } from '../../../quantity/index.ts';
import { errorText } from '../../../drive/index.ts';
import { accelerationIn } from '../../../motion/index.ts';
import { hasBrake, noticeable } from '../axisGuide.ts';
import {
  ask,
  judged,
  wait,
  type GuidedStep,
  type Judgement,
  type StepContext,
  type StepRecord,
} from '../guidedStep.ts';
import { faultSeen, figuresOf, powered, type Look } from '../look.ts';
import { brakeTestPercent, bumpDistance, motionTorque, startTorque } from '../startValues.ts';

// Power is there; nothing is meant to move.

const before = ['hardwareStop', 'warnings'];
const always = () => true;
/** A drive without a link has no sign of life to lose. */
const hasLinkTimeOut = ({ canCommand, profile }: StepContext) => canCommand || profile?.watchdogFedBy !== 'nothing';

/** s by which the last sign of life and the look that shows it disabled may be apart from what is measured; clocks differ a little, too. */
const enablingTime = 0.3;

/** Error code of a command signal that is not there: object 0x603F of CiA 402 (from memory). */
const signalLost = 0x5300;

/** Why a drive did not become enabled, by what its inputs and its state show. */
export function notEnabled({ looks, drillEnd }: StepRecord, { inputs }: StepContext): Judgement {
  const fault = faultSeen(looks);
  if (fault !== undefined && fault !== 0)
    return judged(
      'failed',
      fault === signalLost ? 'signal lost' : 'alarm',
      `${errorText(fault) ?? 'The drive has a fault.'} Remove its cause, then reset it.`,
    );
  const last = looks.at(-1);
  const open = inputs.filter((input) => last && !last.active.some(({ key }) => key === input.key));
  const torqueOff = open.find(({ role }) => role === 'safeTorqueOff');
  if (torqueOff)
    return judged('failed', 'torque off open', `${torqueOff.label} is open: close it through the safety relay.`);
  const enable = open.find(({ role }) => role === 'enable');
  if (enable)
    return judged(
      'failed',
      'enable input off',
      `${enable.label} is not active: its wire is broken, its common is missing, or its active level is inverted.`,
    );
  return judged('failed', 'not enabled', drillEnd?.because ?? 'The drive did not enable. Check its main supply.');
}

/** ms at the end of the time enabled in which a held axis must be quiet */
const quietEnd = 1000;

/** Whether an axis that should be held still moves after a second. */
function shakes(looks: readonly Look[], context: StepContext): 'no' | 'a little' | 'with all its torque' {
  const on = powered(looks);
  const end = on.at(-1)?.at ?? 0;
  const late = figuresOf(on.filter(({ at, state }) => end - at < quietEnd && state === 'operation enabled'));
  const torque = motionTorque(context);
  if (!late || !('percent' in torque)) return 'no';
  if (late.farthestPlus + late.farthestMinus < noticeable(context.guide)) return 'no';
  return late.peakTorque > 0.85 * torque.percent ? 'with all its torque' : 'a little';
}

/** Movement from the last look before power to the end of power, and from there to the end. */
function movements(
  looks: readonly Look[],
): { readonly on: number; readonly peak: number; readonly off: number } | undefined {
  const first = looks.findIndex(({ state }) => state === 'operation enabled');
  const last = looks.findLastIndex(({ state }) => state === 'operation enabled');
  if (first < 0) return undefined;
  const on = figuresOf(looks.slice(Math.max(0, first - 1), last + 1));
  const off = figuresOf(looks.slice(last));
  return on && off ? { on: on.moved, peak: Math.max(on.farthestPlus, on.farthestMinus), off: off.moved } : undefined;
}

export const mainPowerSteps = {
  mainPower: {
    phase: 'Main power',
    title: 'Main power on, alarms read',
    needs: before,
    applies: always,
    task: () =>
      'Start this step, then switch main power on. Nothing may start automatically; alarms are read and explained.',
    question: () => ({
      kind: 'choice',
      text: 'Main power on: what does the drive show?',
      answers: {
        quiet: 'ready, no alarm, nothing moves',
        alarm: 'an alarm',
        restarts: 'the motor is energised without a command',
      },
    }),
    passes: ['quiet'],
    linked: {
      done: { done: 'Main power is on' },
      judge: ({ looks, sinceAnswer }) => {
        if (looks.some(({ state }) => state === 'operation enabled'))
          return judged(
            'failed',
            'restarts',
            'The motor was switched on without a command when power came: its enable input stays on. Switch it off at the controller.',
          );
        if (sinceAnswer === undefined || sinceAnswer < 3000) return wait;
        const fault = faultSeen(looks.slice(-20));
        if (fault !== undefined)
          return judged(
            'failed',
            'alarm',
            `${errorText(fault) ?? 'The drive has a fault.'} Remove its cause, then reset it.`,
          );
        return judged('passed', 'quiet', 'No alarm, and nothing was switched on without a command.');
      },
    },
  },
  standstill: {
    phase: 'Main power',
    title: 'Enabled at standstill',
    needs: [...before, 'propped', 'handTurn', 'mainPower'],
    applies: always,
    task: (context) => {
      const torque = startTorque(context.guide);
      const limit = 'percent' in torque ? `${torque.percent} % of rated torque (${torque.because})` : torque.because;
      return `${context.canCommand ? 'The drive is enabled for two seconds without a command.' : 'Enable the drive at the controller for two seconds, without a command.'} Torque limit: ${limit}. Keep clear of the axis.`;
    },
    question: () => ({
      kind: 'choice',
      text: 'Low torque limit set, enabled for two seconds without a command: what does the axis do?',
      answers: {
        holds: 'it is held and stands still',
        jumps: 'it jumps a little, then stands',
        'runs away': 'it runs away, or trips at once',
        vibrates: 'it vibrates',
        'not enabled': 'the drive does not enable',
      },
    }),
    passes: ['holds'],
    linked: {
      drill: () => ({ kind: 'stand', seconds: 2 }),
      done: { done: 'It was enabled and disabled' },
      judge: (record, context) => {
        if (context.canCommand ? record.drillEnd === undefined : record.answer === undefined) return wait;
        const moves = movements(record.looks);
        if (!moves) return notEnabled(record, context);
        const limit = noticeable(context.guide);
        const fault = faultSeen(record.looks);
        const torque = figuresOf(powered(record.looks))?.peakTorque ?? 0;
        const values = [
          { label: 'Moved when enabled', value: moves.on, unit: '{u}' },
          { label: 'Moved when disabled', value: moves.off, unit: '{u}' },
          { label: 'Highest torque', value: torque, unit: '%' },
        ];
        if (fault !== undefined)
          return judged(
            'failed',
            'runs away',
            `It tripped after ${formatNumber(moves.peak, 3)} ${context.guide.unit}: ${errorText(fault) ?? 'a fault'}`,
            values,
          );
        if (moves.peak > 20 * limit) return judged('failed', 'runs away', 'It moved away without a command.', values);
        const shaking = shakes(record.looks, context);
        if (shaking === 'with all its torque')
          return judged(
            'failed',
            'runs away',
            'It shakes with its whole torque limit: what the motor does makes the error larger, not smaller.',
            values,
          );
        if (shaking === 'a little')
          return judged('failed', 'vibrates', 'It vibrates while it is held: lower the gains of its loops.', values);
        if (moves.peak > limit)
          return judged(
            'failed',
            'jumps',
            'It jumped when it was enabled: a command was waiting, or the brake opens before the motor holds.',
            values,
          );
        return judged('passed', 'holds', 'Held, without a movement that could be noticed.', values);
      },
    },
  },
  drop: {
    phase: 'Main power',
    title: 'Load held when the motor lets go',
    needs: [...before, 'propped', 'standstill'],
    applies: ({ guide }) => guide.isSuspended || hasBrake(guide),
    task: () =>
      'Lower the prop by a few millimetres, so that a drop can be seen and is caught. The drive is enabled and disabled once more.',
    question: () => ({
      kind: 'choice',
      text: 'Prop a few millimetres lower, enabled and disabled: does the load drop?',
      answers: {
        holds: 'no',
        gives: 'it gives way a little, then holds',
        sinks: 'it sinks slowly',
        falls: 'it falls onto the prop',
      },
    }),
    passes: ['holds'],
    linked: {
      drill: () => ({ kind: 'stand', seconds: 1.5 }),
      done: { done: 'It was enabled and disabled' },
      judge: (record, context) => {
        if (context.canCommand ? record.drillEnd === undefined : record.answer === undefined) return wait;
        const moves = movements(record.looks);
        if (!moves) return notEnabled(record, context);
        return judgeDrop(record.looks, moves.off, context);
      },
    },
  },
  brakeTest: {
    phase: 'Main power',
    title: 'Test torque against the closed brake',
    needs: [...before, 'propped', 'standstill'],
    applies: ({ guide }) => hasBrake(guide),
    task: ({ guide }) =>
      `Unplug the coil of the brake, so that it stays shut, and keep the load propped. The motor then pushes against it with ${brakeTestWords(guide)}. The axis must not move.`,
    question: () => ({
      kind: 'choice',
      text: 'Coil unplugged, brake shut, motor pushing with its low torque limit: does the axis move?',
      answers: { holds: 'no', slips: 'it moves', untested: 'it cannot be tested' },
    }),
    passes: ['holds'],
    linked: {
      drill: ({ guide, unitsPerCount }) => ({
        kind: 'bump',
        distance: 30 * bumpDistance(guide, unitsPerCount),
        torque: brakeTestPercent(guide) ?? usualTorque,
      }),
      judge: (record, context) => {
        if (record.drillEnd === undefined) return wait;
        const on = powered(record.looks);
        if (on.length === 0) return notEnabled(record, context);
        const figures = figuresOf(on);
        const moved = Math.max(figures?.farthestPlus ?? 0, figures?.farthestMinus ?? 0);
        const values = [
          { label: 'Moved against the brake', value: moved, unit: '{u}' },
          { label: 'Highest torque', value: figures?.peakTorque ?? 0, unit: '%' },
        ];
        // Hub and shaft give a few degrees before the brake holds.
        return moved > 10 * noticeable(context.guide)
          ? judged('failed', 'slips', 'The brake gave way: it is worn, stays open, or its coil was still fed.', values)
          : judged('passed', 'holds', 'The brake held.', values);
      },
    },
  },
  watchdog: {
    phase: 'Main power',
    title: 'Watchdog: heartbeat withheld',
    needs: [...before, 'propped', 'standstill'],
    applies: hasLinkTimeOut,
    task: ({ watchdog }) =>
      `The drive is enabled, and its heartbeat is then withheld. It must disable automatically${watchdog === undefined ? '' : ` within ${Math.round(1000 * watchdog)} ms`}.`,
    question: () => ({
      kind: 'choice',
      text: 'Enabled from the controller, then its cable unplugged: does the drive disable?',
      answers: { disables: 'yes, within its time', late: 'yes, but later', 'goes on': 'no' },
    }),
    passes: ['disables'],
    linked: {
      drill: () => ({ kind: 'withhold' }),
      judge: (record, context) => {
        if (record.drillEnd === undefined) return wait;
        const on = powered(record.looks);
        const [first, last] = [on[0], on.at(-1)];
        if (!first || !last) return notEnabled(record, context);
        if (record.drillEnd.kind === 'timeout')
          return judged(
            'failed',
            'goes on',
            'The drive stayed enabled without a heartbeat. Nothing would stop this axis when the link fails: set its watchdog.',
          );
        const seconds = (last.at - (record.orderAt ?? first.at)) / 1000;
        const values = [{ label: 'Went on for', value: seconds, unit: 's' }];
        return context.watchdog !== undefined && seconds > 1.25 * context.watchdog + enablingTime
          ? judged(
              'failed',
              'late',
              `It disabled automatically, but not within its ${Math.round(1000 * context.watchdog)} ms.`,
              values,
            )
          : judged('passed', 'disables', 'The drive disabled automatically.', values);
      },
    },
  },
  drift: {
    phase: 'Main power',
    title: 'Drift at zero command',
    needs: [...before, 'propped', 'standstill'],
    applies: ({ guide }) => guide.commandedBy === 'signal',
    task: () =>
      'With the position loop of the controller open and its command at zero, enable the drive at the controller and watch the axis for five seconds.',
    question: () => ({
      kind: 'choice',
      text: 'Command at zero, loop open, enabled: does the axis creep?',
      answers: { none: 'no', creeps: 'yes' },
    }),
    passes: ['none'],
    linked: {
      done: { done: 'The drive does not enable' },
      judge: (record, context) => {
        const on = powered(record.looks);
        const [first, last] = [on[0], on.at(-1)];
        if (record.answer !== undefined && !first) return notEnabled(record, context);
        const figures = figuresOf(on);
        if (!first || !last) return wait;
        if (!figures) return ask;
        // One that runs off need not be watched to the end, and a controller that heeds its error limit does not let it.
        const isOff = Math.max(figures.farthestPlus, figures.farthestMinus) > 20 * noticeable(context.guide);
        if (!isOff && last.at - first.at < 5000) return wait;
        const speed = (1000 * figures.moved) / (last.at - first.at);
        const values = [{ label: 'Drift', value: speed, unit: '{u}/s' }];
        return Math.abs(speed) > creepOf(context)
          ? judged(
              'failed',
              'creeps',
              'It creeps at zero command. Trim the offset of the drive or of the controller until it stands.',
              values,
            )
          : judged('passed', 'none', 'It stands at zero command.', values);
      },
    },
  },
} as const satisfies Record<string, GuidedStep>;

/** Axis units/s that an analog command may make it creep at zero: 1 rpm of the motor, 1 mm/s of a linear one; common practice. */
const creepOf = ({ guide }: StepContext): number => (guide.isLinearMotor ? 1 : guide.unitsPerTurn / 60);

/** % where the brake is not known: common practice. */
const usualTorque = 30;

const brakeTestWords = (guide: StepContext['guide']) => {
  const percent = brakeTestPercent(guide);
  return percent === undefined
    ? `${usualTorque} % of rated torque`
    : `${percent} % of rated torque, 90 % of what the brake is rated for`;
};

/** A brake that holds gives way by its play; one that is open lets the load fall with what gravity is above friction. */
function judgeDrop(looks: readonly Look[], fallen: number, context: StepContext): Judgement {
  const values = [{ label: 'Moved when disabled', value: fallen, unit: '{u}' }];
  const limit = noticeable(context.guide);
  if (Math.abs(fallen) <= 3 * limit) return judged('passed', 'holds', 'The load is held without the motor.', values);
  const after = looks.slice(looks.findLastIndex(({ state }) => state === 'operation enabled'));
  const speeds = after.map(({ speed }) => Math.abs(speed ?? 0));
  const still = (speeds.at(-1) ?? 0) < limit;
  if (still && Math.abs(fallen) < 20 * limit)
    return judged(
      'failed',
      'gives',
      'The load gave way before it was held: the motor lets go before the brake has shut. Lengthen the engage delay.',
      values,
    );
  const sinks = after.length > 3 && !fallsFreely(after, context);
  return sinks
    ? judged('failed', 'sinks', 'The load sinks slowly: the brake slips, or friction alone holds it back.', values)
    : judged('failed', 'falls', 'The load falls: the brake stays open, or there is none.', values);
}

/** Whether it comes down about as fast as gravity less friction makes it. */
function fallsFreely(after: readonly Look[], { guide }: StepContext): boolean {
  const { train, radiansPerUnit } = guide;
  const figures = figuresOf(after);
  const seconds = ((after.at(-1)?.at ?? 0) - (after[0]?.at ?? 0)) / 1000;
  if (!train || !figures || seconds <= 0) return true;
  const free = accelerationIn({ train, sense: train.gravity > 0 ? -1 : 1 }, 0) / radiansPerUnit;
  // It may have come to rest on its prop meanwhile, so that its peak speed tells more than its time.
  return free <= 0 || figures.peakSpeed ** 2 / (2 * Math.abs(figures.moved)) > 0.6 * free;
}
