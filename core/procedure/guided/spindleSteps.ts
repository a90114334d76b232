import { formatNumber } from '../../quantity/index.ts';
import { errorText } from '../../drive/index.ts';
import {
  ask,
  judged,
  wait,
  type Drill,
  type GuidedStep,
  type Judgement,
  type SpindleStepContext,
  type StepRecord,
} from './guidedStep.ts';
import { faultSeen, type Look } from './look.ts';
import { compareStep, residualVoltage } from './steps/everyDrive.ts';

type SpindleStep = GuidedStep<SpindleStepContext>;

const always = () => true;
const running = ['settings', 'leads', 'hardwareStop', 'warnings'];

const spin =
  (seconds: number, isWithheld = false) =>
  ({ guide }: SpindleStepContext): Drill => ({
    kind: 'spin',
    speed: guide.lowestSpeed,
    seconds,
    isWithheld,
  });

const turning = (looks: readonly Look[]) => looks.filter(({ hertz }) => Math.abs(hertz ?? 0) > 0.1);

/** What a trip says of its cause, by its error code (object 0x603F of CiA 402, from memory). */
const tripSigns: Readonly<Record<number, string>> = {
  0x2310: 'overcurrent',
  0x2311: 'overload',
  0x3210: 'overvoltage',
  0x3220: 'undervoltage',
};

const tripped = (fault: number): Judgement =>
  judged(
    'failed',
    tripSigns[fault] ?? 'alarm',
    `${errorText(fault) ?? 'The drive has tripped.'} Remove its cause, then reset it.`,
  );

/** Why it did not turn. */
function notTurned({ looks, drillEnd }: StepRecord): Judgement {
  const fault = faultSeen(looks);
  return fault !== undefined && fault !== 0
    ? tripped(fault)
    : judged(
        'failed',
        'still',
        drillEnd?.because || 'It did not turn. Check its enable input, its run command source and its supply.',
      );
}

const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;

/** Share of the plate’s current that a motor without load takes: common practice for 2 to 6 poles. */
const leastNoLoad = 0.15;
const mostNoLoad = 0.75;

/** Share of the rated slip above which a motor is loaded: slip and torque go together up to the rated point. */
const loadedSlip = 0.35;

/** The mean slip in %; undefined: the drive does not tell the speed of the motor. */
function slipOf(looks: readonly Look[], { hertzPerToolRpm }: SpindleStepContext['guide']): number | undefined {
  const slips = looks.flatMap(({ hertz, toolSpeed }) =>
    hertz === undefined || toolSpeed === undefined ? [] : [100 * (1 - Math.abs((toolSpeed * hertzPerToolRpm) / hertz))],
  );
  return slips.length === 0 ? undefined : mean(slips);
}

function judgeNoLoad(record: StepRecord, { guide, canCommand }: SpindleStepContext): Judgement {
  if (canCommand ? record.drillEnd === undefined : record.answer === undefined) return wait;
  const runs = turning(record.looks);
  if (runs.length === 0) return notTurned(record);
  const fault = faultSeen(record.looks);
  if (fault !== undefined) return tripped(fault);
  const top = Math.max(...runs.map(({ hertz }) => Math.abs(hertz ?? 0)));
  const steady = runs.filter(({ hertz, current }) => current !== undefined && Math.abs(hertz ?? 0) > 0.98 * top);
  if (steady.length < 4) return ask;
  const current = mean(steady.map((look) => look.current ?? 0));
  const slip = slipOf(steady, guide);
  const values = [
    { label: 'No-load current', value: current, unit: 'A' },
    ...(guide.noLoadCurrent === null
      ? []
      : [{ label: 'Estimated from the plate', value: guide.noLoadCurrent, unit: 'A' }]),
    ...(guide.ratedCurrent === null ? [] : [{ label: 'Rated current', value: guide.ratedCurrent, unit: 'A' }]),
    { label: 'At', value: top, unit: 'Hz' },
    ...(slip === undefined ? [] : [{ label: 'Slip', value: slip, unit: '%' }]),
  ];
  if (slip !== undefined && guide.ratedSlip !== null && slip > loadedSlip * guide.ratedSlip)
    return judged(
      'failed',
      'loaded',
      'It slips as a loaded motor does: something brakes it, or its voltage is too low for the frequency.',
      values,
    );
  if (guide.ratedCurrent === null)
    return judged('undecided', '', 'The rated current is not known. Enter the plate first.', values);
  const share = current / guide.ratedCurrent;
  if (share > mostNoLoad)
    return judged(
      'failed',
      'high',
      'It takes far too much without load: star or delta is wrong, the base frequency or voltage is, or something brakes it.',
      values,
    );
  if (share < leastNoLoad)
    return judged(
      'failed',
      'low',
      'It takes far too little without load: a phase is open, star is connected for delta, or the voltage is too low.',
      values,
    );
  return judged('passed', 'right', 'The current without load is as expected.', values);
}

/** Every guided step of a spindle, in the order in which they are done. */
export const spindleSteps = {
  settings: compareStep(
    'Settings before leads',
    'The values of the motor plate, base frequency and ramps are in the drive before the motor leads are connected: a wrong base frequency can ruin a motor in seconds.',
  ),
  leads: {
    phase: 'Control supply only',
    title: 'Motor leads connected',
    needs: ['settings'],
    applies: always,
    task: ({ guide }) =>
      `Supply off, discharge time waited. Connect the motor in ${guide.connection} as planned, with its earth, and its shield at both ends.`,
    question: ({ guide }) => ({
      kind: 'choice',
      text: `Is the motor connected in ${guide.connection}, with earth and shield?`,
      answers: { right: 'yes', wrong: 'no' },
    }),
    passes: ['right'],
  },
  warnings: residualVoltage,
  hardwareStop: {
    phase: 'Before main power',
    title: 'Hardware stop proven',
    needs: [],
    applies: always,
    task: () =>
      'Kavrid is not a safety function. Press the hardware stop: the drive must lose its power or its enable. Release it: nothing may start automatically. Keep tools and hands away from the spindle.',
    question: () => ({
      kind: 'choice',
      text: 'Hardware stop pressed and released: does it take the power from the spindle, and does nothing start automatically?',
      answers: {
        proven: 'power goes, and nothing restarts',
        'no reaction': 'power stays',
        restarts: 'it starts automatically',
      },
    }),
    passes: ['proven'],
  },
  interlocks: {
    phase: 'Before main power',
    title: 'Air and clamp interlocks',
    needs: [],
    applies: always,
    task: () =>
      'With each interlock open in turn (tool clamp, air or coolant, guard), the run command must be refused.',
    question: () => ({
      kind: 'choice',
      text: 'Is a run command refused with each interlock open?',
      answers: {
        refused: 'yes, with each of them',
        runs: 'it runs with one of them open',
        none: 'this spindle has none',
      },
    }),
    passes: ['refused', 'none'],
  },
  thermal: {
    phase: 'Before main power',
    title: 'PTC trips the drive',
    needs: [],
    applies: always,
    task: () => 'Open one lead of the motor’s temperature sensor at the drive: the drive must trip, or refuse to run.',
    question: () => ({
      kind: 'choice',
      text: 'Sensor lead open: does the drive trip?',
      answers: { trips: 'yes', 'goes on': 'no', none: 'the motor has no sensor' },
    }),
    passes: ['trips', 'none'],
  },
  restart: {
    phase: 'Main power',
    title: 'No automatic restart',
    needs: ['hardwareStop'],
    applies: always,
    task: () =>
      'Start this step, switch main power on, off for some seconds, and on again, with the run command still there if it comes by wire. Nothing may start automatically.',
    question: () => ({
      kind: 'choice',
      text: 'Mains restored, or a fault reset, with the run command still there: does it start automatically?',
      answers: { quiet: 'no', restarts: 'yes' },
    }),
    passes: ['quiet'],
    linked: {
      done: { done: 'Main power has been off and is on again' },
      judge: ({ looks, sinceAnswer }) => {
        if (looks.some(({ state }) => state === 'operation enabled') || turning(looks).length > 0)
          return judged(
            'failed',
            'restarts',
            'Stop: it starts automatically after a fault or when the mains return. Switch automatic restart off in the drive.',
          );
        if (sinceAnswer === undefined || sinceAnswer < 3000) return wait;
        const fault = faultSeen(looks.slice(-20));
        return fault === undefined ? judged('passed', 'quiet', 'Nothing started automatically.') : tripped(fault);
      },
    },
  },
  identification: {
    phase: 'Main power',
    title: 'Motor identification',
    needs: running,
    applies: always,
    task: () =>
      'Run the motor identification of the drive, cold, at standstill or coupled off as its manual says, and store what it finds.',
    question: () => ({
      kind: 'choice',
      text: 'Has the drive identified its motor?',
      answers: {
        done: 'yes, and stored',
        failed: 'it ended with a fault',
        none: 'this drive has none, or runs by V/f alone',
      },
    }),
    passes: ['done', 'none'],
  },
  direction: {
    phase: 'First motion',
    title: 'Direction of rotation',
    needs: [...running, 'restart'],
    applies: always,
    task: ({ guide, canCommand }) =>
      canCommand
        ? `Without a tool: the spindle turns forward at ${Math.round(guide.lowestSpeed)} rpm for two seconds and stops on its ramp. Watch which way it turns.`
        : `Without a tool: run it forward from the controller at its lowest speed, ${Math.round(guide.lowestSpeed)} rpm, and watch which way it turns.`,
    question: () => ({
      kind: 'choice',
      text: 'Run forward: which way did the tool turn?',
      answers: {
        right: 'the right way',
        reversed: 'the other way: exchange two motor leads, supply off',
        still: 'it did not turn',
      },
    }),
    passes: ['right'],
    linked: {
      drill: spin(2),
      judge: (record) => {
        if (record.drillEnd === undefined) return wait;
        return turning(record.looks).length === 0 || faultSeen(record.looks) ? notTurned(record) : ask;
      },
    },
  },
  noLoad: {
    phase: 'First motion',
    title: 'No-load current',
    needs: [...running, 'restart', 'direction'],
    applies: always,
    task: ({ guide, canCommand }) =>
      `Without a tool and without load: ${canCommand ? 'it runs' : 'run it from the controller'} for five seconds; its current is compared with the plate (${guide.noLoadCurrent === null ? 'no estimate' : `about ${formatNumber(guide.noLoadCurrent, 2)} A`} of ${guide.ratedCurrent ?? '?'} A).`,
    question: () => ({
      kind: 'choice',
      text: 'Current without load, against the plate?',
      answers: {
        right: 'between 15 and 75 % of the plate',
        high: 'more',
        low: 'less',
        loaded: 'the speed drops as under load',
        trips: 'the drive trips',
      },
    }),
    passes: ['right'],
    linked: {
      drill: ({ guide }) => ({
        kind: 'spin',
        // Up to its base frequency, where the flux is what the plate says.
        speed: Math.max(
          guide.lowestSpeed,
          Math.min(guide.highestSpeed, (guide.baseHertz ?? Infinity) / guide.hertzPerToolRpm),
        ),
        seconds: 5,
        isWithheld: false,
      }),
      done: { done: 'It has run and stopped' },
      judge: judgeNoLoad,
    },
  },
  runIn: {
    phase: 'First motion',
    title: 'Run-in of the bearings',
    needs: ['direction', 'noLoad'],
    applies: always,
    task: ({ guide }) => {
      const stages = [0.25, 0.5, 0.75, 1].map((share) => `${Math.round(share * guide.highestSpeed)} rpm`);
      return `As the maker of the spindle says; where it says nothing, common practice is 20 minutes each at ${stages.join(', ')}, going on only while the bearings stay hand-warm.`;
    },
    question: () => ({
      kind: 'choice',
      text: 'Has the spindle been run in?',
      answers: {
        done: 'yes, bearings stayed warm to the hand',
        hot: 'a bearing became hot',
        none: 'it needs no run-in',
      },
    }),
    passes: ['done', 'none'],
  },
  skip: {
    phase: 'First motion',
    title: 'Skip frequencies',
    needs: ['direction'],
    applies: always,
    task: () => 'Raise the speed slowly through the whole range, and note where machine or spindle hums or shakes.',
    question: () => ({
      kind: 'choice',
      text: 'Are there speeds at which it hums or shakes?',
      answers: {
        none: 'no',
        set: 'yes, and they are set as skip frequencies in the drive',
        open: 'yes, and they are not set',
      },
    }),
    passes: ['none', 'set'],
  },
  atSpeed: {
    phase: 'First motion',
    title: 'At speed reaches the host',
    needs: [...running, 'direction'],
    applies: ({ guide }) => guide.atSpeedWay === 'input of the controller' || guide.atSpeedWay === 'read over the bus',
    task: ({ canCommand, guide }) =>
      `${canCommand ? 'It runs' : 'Run it from the controller'} at ${Math.round(guide.lowestSpeed)} rpm for three seconds: the at-speed output must come on when the speed is reached, and go off with the stop; the controller must see it.`,
    question: () => ({
      kind: 'choice',
      text: 'Does the controller see at speed when the speed is reached, and only then?',
      answers: { right: 'yes', never: 'never', always: 'always' },
    }),
    passes: ['right'],
    linked: {
      drill: spin(3),
      judge: (record, { profile }) => {
        if (record.drillEnd === undefined) return wait;
        const runs = turning(record.looks);
        if (runs.length === 0) return notTurned(record);
        const hasOutput = profile?.outputs.some(({ role }) => role === 'atSpeed');
        const on = record.looks.filter(({ outputs }) => outputs.some(({ role }) => role === 'atSpeed'));
        if (hasOutput && on.length === 0)
          return judged('failed', 'never', 'The at-speed output of the drive did not come on.');
        return ask;
      },
    },
  },
  lostLink: {
    phase: 'First motion',
    title: 'Lost link stops the spindle',
    needs: [...running, 'direction'],
    applies: ({ guide }) => guide.watchesLink,
    task: ({ guide, canCommand }) =>
      canCommand
        ? `It runs at ${Math.round(guide.lowestSpeed)} rpm and then has its heartbeat withheld: it must stop automatically.`
        : 'Run it slowly from the controller and pull the cable of the link: it must stop automatically.',
    question: () => ({
      kind: 'choice',
      text: 'Running slowly, cable of the link pulled: does it stop automatically?',
      answers: { stops: 'yes', 'goes on': 'no' },
    }),
    passes: ['stops'],
    linked: {
      drill: spin(1, true),
      judge: (record) => {
        if (record.drillEnd === undefined) return wait;
        if (turning(record.looks).length === 0) return notTurned(record);
        return record.drillEnd.kind === 'timeout'
          ? judged(
              'failed',
              'goes on',
              'It went on without a heartbeat. Set the communication timeout of the drive, and what it does then.',
            )
          : judged('passed', 'stops', 'It stopped automatically.');
      },
    },
  },
} as const satisfies Record<string, SpindleStep>;
