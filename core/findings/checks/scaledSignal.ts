import { rawValue, rawOf, type ScaledCommand } from '../../chain/index.ts';
import { compare, exact, formatExact, formatNumber, toNumber, toRational, type Exact } from '../../quantity/index.ts';
import { valueOf, type Outcome } from '../../sheet/index.ts';
import { liveZeroLevels, potentiometerResult, valueAt, wiperVoltage, type TwoPointScale } from '../../signal/index.ts';
import { commandedValue, valueWords } from '../commandWords.ts';
import { when, type Check, type CheckedAxis } from '../finding.ts';

const n = (value: number) => formatNumber(value, 4);
const shared = { station: 'controller', severity: 'stop' } as const;

/** The axis with its scale, where the command is a scaled signal. */
const scaledOf = ({ input, results }: CheckedAxis) =>
  'range' in input.command ? { command: input.command, scale: valueOf(results.signalScale) } : undefined;

/** A wire that breaks, and the signal that the drive then reads. */
interface LineBreak {
  readonly wire: string;
  readonly signal: Exact;
  /** The wire feeds or refers the signal, and what is read then is the worst that may come. */
  readonly isReference: boolean;
}

/** What the drive reads when a wire breaks: the signal's own, or one that feeds or refers it. */
function breaksOf({ range, potentiometer, kind }: ScaledCommand): readonly LineBreak[] {
  const line = (wire: string, signal: Exact) => ({ wire, signal, isReference: false });
  const reference = (wire: string, signal: Exact) => ({ wire, signal, isReference: true });
  const nothing = exact(0);
  if (kind === 'pwm') return [line('with the line low', nothing), line('with the line high', exact(100))];
  // A current loop that is open anywhere carries nothing.
  if (range.unit === 'mA') return [line('with the loop open', nothing)];
  if (potentiometer)
    return [
      line('with the wiper or the reference broken', nothing),
      reference('with the 0 V end of the potentiometer broken', range.highest),
    ];
  return [
    line('with the signal wire broken', nothing),
    reference('with the 0 V wire broken and the input drifting up', range.highest),
    reference('with the 0 V wire broken and the input drifting down', range.lowest),
  ];
}

/** Whether the drive can tell a signal from every command: it lies outside the range, or is a level without an edge that no command has. */
function isTellable(command: ScaledCommand, signal: Exact): boolean {
  const { range, kind } = command;
  if (kind === 'analog') return compare(signal, range.lowest) < 0 || compare(signal, range.highest) > 0;
  const points = [valueOf(command.fromSignal), valueOf(command.toSignal)];
  return points.every((point) => point !== undefined && compare(point, signal) !== 0);
}

/** What the motor does at a signal; an offset that the controller adds to end the creep is missing from a broken line. */
function valueWithoutLine(axis: CheckedAxis, command: ScaledCommand, scale: TwoPointScale, signal: Exact): number {
  const isTrimmedAtDrive = valueOf(axis.results.creepTrim) !== undefined;
  const creep = isTrimmedAtDrive ? 0 : (valueOf(command.creep) ?? 0);
  return commandedValue(command, toNumber(valueAt(scale, signal)) + creep);
}

/** Breaks that the drive takes for a command that moves the axis, in words. */
function movingBreaks(axis: CheckedAxis, isReference: boolean): readonly string[] {
  const scaled = scaledOf(axis);
  if (!scaled?.scale) return [];
  const { command, scale } = scaled;
  const dead = valueOf(axis.results.deadbandValue) ?? 0;
  return breaksOf(command)
    .filter((each) => each.isReference === isReference && !(command.faultDetected && isTellable(command, each.signal)))
    .map((each) => ({ ...each, value: valueWithoutLine(axis, command, scale, each.signal) }))
    .filter(({ value }) => command.meaning === 'position' || Math.abs(value) > dead)
    .map(
      ({ wire, signal, value }) =>
        `${wire}, at ${formatExact(signal)} ${command.range.unit}, it ${valueWords(axis, command, value)}`,
    );
}

export const brokenWireMoves: Check = (axis) => {
  const { command } = scaledOf(axis) ?? {};
  const words = movingBreaks(axis, false);
  return when(words.length > 0, {
    ...shared,
    id: 'brokenWireMoves',
    path: '/command/faultDetected',
    message: `${command?.faultDetected ? 'The drive trips on signal loss, but cannot tell this break from a command' : 'A broken wire is a command'}: ${words.join('; ')}.`,
    remedy:
      command?.kind === 'pwm'
        ? 'Let the drive trip when no edge comes within a few periods, and keep the scale away from 0 and 100 %.'
        : 'Use a live zero whose loss trips the drive, or a scale whose zero is 0 V.',
  });
};

export const brokenReferenceMoves: Check = (axis) => {
  const { command } = scaledOf(axis) ?? {};
  const words = movingBreaks(axis, true);
  return when(words.length > 0, {
    ...shared,
    severity: command?.potentiometer ? 'warn' : 'note',
    id: 'brokenReferenceMoves',
    path: '/cable/commonReference',
    message: `A broken reference is a command, too: ${words.join('; ')}.`,
    remedy: 'Use a live zero (4–20 mA) whose loss trips the drive, or watch the speed and take enable away.',
  });
};

export const liveZeroUnwatched: Check = (axis) => {
  const { command } = scaledOf(axis) ?? {};
  const isLive = command?.range.unit === 'mA' && compare(command.range.lowest, exact(0)) > 0;
  return when(isLive && !command.faultDetected, {
    ...shared,
    severity: 'warn',
    id: 'liveZeroUnwatched',
    path: '/command/faultDetected',
    message: `The live zero is not watched: below ${liveZeroLevels.failsBelow} mA or above ${liveZeroLevels.failsAbove} mA the loop has failed (NAMUR NE 43), and the drive takes it for a command.`,
    remedy: 'Switch on the drive’s detection of a lost signal.',
  });
};

export const pointOutsideRange: Check = (axis) => {
  const { command } = scaledOf(axis) ?? {};
  if (!command) return [];
  const { range } = command;
  const isOutside = (signal: Exact | undefined) =>
    signal !== undefined && (compare(signal, range.lowest) < 0 || compare(signal, range.highest) > 0);
  return (['from', 'to'] as const).flatMap((end) =>
    when(isOutside(valueOf(command[`${end}Signal`])), {
      ...shared,
      id: 'pointOutsideRange',
      path: `/command/${end}/signal`,
      message: `A point of the scale lies outside the range from ${formatExact(range.lowest)} to ${formatExact(range.highest)} ${range.unit}: that signal never comes.`,
      remedy: 'Choose points inside the range.',
    }),
  );
};

/** Two points that give no scale; they may have been saved so. */
export const scaleFlat: Check = (axis) => {
  const { command } = scaledOf(axis) ?? {};
  if (!command) return [];
  const isAlike = (a: Outcome<Exact>, b: Outcome<Exact>) =>
    a.state === 'known' && b.state === 'known' && compare(a.value, b.value) === 0;
  const field = isAlike(command.fromSignal, command.toSignal)
    ? 'signal'
    : isAlike(command.fromValue, command.toValue)
      ? 'value'
      : undefined;
  return when(field !== undefined, {
    ...shared,
    id: 'scaleFlat',
    path: `/command/to/${field ?? ''}`,
    message: `There is no scale: its two points have the same ${field ?? ''}.`,
    remedy: 'Enter two points that differ in both signal and value.',
  });
};

export const fullCommandOverspeed: Check = (axis) => {
  const { command } = scaledOf(axis) ?? {};
  const top = valueOf(axis.input.motorTopSpeed);
  const ends = [valueOf(axis.results.valueAtFullSignal), valueOf(axis.results.valueAtLeastSignal)];
  if (command?.meaning !== 'speed' || top === undefined) return [];
  const most = Math.max(...ends.map((end) => (end ? Math.abs(toNumber(end)) : 0)));
  return when(most > top * (1 + 1e-9), {
    ...shared,
    severity: 'warn',
    id: 'fullCommandOverspeed',
    path: '/command/to/value',
    message: `The full command means ${axis.quantity(most, '{value}')}; the motor’s highest speed is ${axis.quantity(top, '{motorSpeed}')}. The rest of the range is lost, or trips the drive.`,
    remedy: 'Let the full signal mean the highest speed that is needed, with a tenth to spare.',
  });
};

export const commandTooSlow: Check = (axis) => {
  const [wanted, full] = [valueOf(axis.results.wantedSpeed), valueOf(axis.results.fullCommandSpeed)];
  if (wanted === undefined || full === undefined) return [];
  return when(wanted > full * (1 + 1e-9), {
    ...shared,
    id: 'commandTooSlow',
    path: '/command/to/value',
    message: `The wanted speed is ${axis.quantity(wanted, '{u}/s')}; the full command gives ${axis.quantity(full, '{u}/s')}.`,
    remedy: 'Let the full signal mean a higher speed, or want less.',
  });
};

/** A speed that only ever goes one way, on an axis that has to come back. */
export const oneWayOnly: Check = (axis) => {
  const { command } = scaledOf(axis) ?? {};
  const [top, bottom] = [valueOf(axis.results.valueAtFullSignal), valueOf(axis.results.valueAtLeastSignal)];
  if (command?.meaning === 'position' || !command || !top || !bottom || axis.input.endless) return [];
  const signs = [toNumber(top), toNumber(bottom)];
  const both = Math.min(...signs) < 0 && Math.max(...signs) > 0;
  return when(!both && axis.input.motionKind !== 'dosing' && command.pulses?.directions !== 'both', {
    ...shared,
    severity: 'warn',
    id: 'oneWayOnly',
    path: '/command/from/value',
    message: 'This signal commands one direction only, and the axis has to come back.',
    remedy: 'Put the zero in the middle of the range (5 V of 0–10 V), or wire an input for the direction.',
  });
};

export const coarseSteps: Check = (axis) => {
  const { command } = scaledOf(axis) ?? {};
  const [step, wanted, load] = [
    valueOf(axis.results.valueStep),
    valueOf(axis.results.wantedResolution),
    valueOf(axis.results.loadStep),
  ];
  const ends = valueOf(axis.results.coarserEnd) ?? [];
  if (!command || step === undefined || load === undefined) return [];
  const limit = `the ${ends.join(' and the ')} ${ends.length > 1 ? 'limit' : 'limits'} it`;
  if (command.meaning === 'position')
    return when(!!wanted && load > toNumber(wanted) * 1.0001, {
      ...shared,
      severity: 'warn',
      id: 'coarseSteps',
      path: '/wanted/resolution',
      message: `The smallest real step is ${axis.quantity(load, '{u}')}, coarser than the ${axis.quantity(wanted ? toNumber(wanted) : 0, '{u}')} wanted; ${limit}.`,
      remedy: 'Use more bits at that end, or a scale that covers less.',
    });
  const full = valueOf(axis.results.fullCommandSpeed);
  return when(full !== undefined && load > full / 250, {
    ...shared,
    severity: 'note',
    id: 'coarseSteps',
    path: '/command/to/value',
    message: `The smallest real step is ${axis.quantity(step, '{value}')}; ${limit}. There is no steady speed in between.`,
    remedy: 'Use more bits at that end, or let the full signal mean less.',
  });
};

export const creeps: Check = (axis) => {
  const { command } = scaledOf(axis) ?? {};
  const [creep, offset, trim] = [
    command && valueOf(command.creep),
    valueOf(axis.results.creepOffset),
    valueOf(axis.results.creepTrim),
  ];
  if (!command || !creep || offset === undefined) return [];
  return [
    {
      ...shared,
      severity: command.hostLoop ? 'note' : 'warn',
      id: 'creeps',
      path: '/command/creep',
      message: `At zero command the motor creeps at ${axis.quantity(creep, '{value}')}; an offset of ${n(offset)} ${command.range.unit}${trim === undefined ? '' : `, ${trim} steps of the trim,`} stops it until it warms up.`,
      remedy: command.hostLoop
        ? 'Set the offset: the loop holds the axis, but with a standing error.'
        : 'Set the offset, and take enable away where the axis has to stand still.',
    },
  ];
};

export const deadbandInLoop: Check = (axis) => {
  const { command } = scaledOf(axis) ?? {};
  const [dead, perValue, gain] = [
    valueOf(axis.results.deadbandValue),
    valueOf(axis.results.loadPerValue),
    valueOf(axis.results.hostGain),
  ];
  if (!command?.hostLoop || !dead || perValue === undefined || gain === undefined) return [];
  return [
    {
      ...shared,
      severity: 'warn',
      id: 'deadbandInLoop',
      path: '/command/deadband',
      message: `The drive passes over ${axis.quantity(dead, '{value}')}, so the controller’s loop leaves up to ${axis.quantity((dead * perValue) / gain, '{u}')} of error, or hunts across it.`,
      remedy: 'Set the deadband to nothing while the loop is closed in the controller.',
    },
  ];
};

export const potentiometerUnfit: Check = (axis) => {
  const { command } = scaledOf(axis) ?? {};
  const pot = command?.potentiometer && valueOf(command.potentiometer);
  if (!pot) return [];
  const { current, isTooMuch, leastResistance, worstSag, effectiveTurn } = potentiometerResult(pot);
  const path = '/command/potentiometer/resistance';
  const sag = (100 * worstSag) / pot.referenceVoltage;
  const middle = wiperVoltage(pot, 0.5);
  return [
    ...when(isTooMuch, {
      ...shared,
      id: 'referenceOverloaded',
      path,
      message: `The potentiometer and the input take ${n(current * 1000)} mA; the drive’s reference gives ${n(pot.referenceCurrent * 1000)} mA and sags, and the full speed with it.`,
      remedy: `Use ${Number.isFinite(leastResistance) ? `${n(leastResistance)} Ω or more` : 'a reference that gives more'}; 4.7 to 10 kΩ is common practice.`,
    }),
    ...when(sag > 0.5, {
      ...shared,
      severity: 'note',
      id: 'potentiometerSags',
      path,
      message: `The input loads the wiper: at mid-turn it gives ${n(middle)} V instead of ${n(pot.referenceVoltage / 2)} V, and at most ${n(sag)} % of the range is missing. ${n(100 * effectiveTurn)} % of the turn changes anything.`,
      remedy: 'Use a potentiometer of less resistance, or an input of more.',
    }),
  ];
};

export const inputServesTwo: Check = (axis) => {
  const { command } = scaledOf(axis) ?? {};
  return when(!!command?.pulses && command.pulses.sharedWith !== '', {
    ...shared,
    id: 'inputServesTwo',
    station: 'drive',
    path: '/command/sharedWith',
    message: `The terminal of the duty cycle is also set to be ${command?.pulses?.sharedWith ?? ''}: an input cannot serve two purposes, and the drive takes the one it reads last.`,
    remedy: 'Put one of the two on another terminal.',
  });
};

/** The drive's whole numbers against the two points they were made from. */
export const rawScaleOff: Check = (axis) => {
  const { command, scale } = scaledOf(axis) ?? {};
  const [raw, full, perCount] = [
    valueOf(axis.results.rawScale),
    valueOf(axis.results.rawFullScale),
    valueOf(axis.results.rawValuePerCount),
  ];
  if (!command || !scale || !raw || !full || !perCount) return [];
  const off = [scale.from, scale.to].map(({ signal, value }) => {
    const ratio = toRational(rawOf(signal, command.range, full));
    const got = rawValue(raw, (ratio.numerator + ratio.denominator / 2n) / ratio.denominator);
    return Math.abs(got - toNumber(value) / toNumber(perCount));
  });
  const most = Math.max(...off);
  const step = Math.abs(Number(raw.numerator) / Number(raw.denominator));
  return when(most > Math.max(1, step), {
    ...shared,
    station: 'drive',
    severity: 'warn',
    id: 'rawScaleOff',
    path: '/command/numeratorMax',
    message: `With the numbers the drive takes, a point of the scale is off by ${n(most)} of its counts.`,
    remedy: 'Choose points that suit its registers, or correct the scale in the controller.',
  });
};

export const analogWiring: Check = ({ input: { signal, command } }) => [
  ...when(signal.shield === 'none' && command.kind === 'analog', {
    ...shared,
    severity: 'warn',
    id: 'analogNotShielded',
    path: '/cable/shield',
    message: 'The analog line has no shield: every millivolt that is picked up is a speed.',
    remedy: 'Use a shielded twisted pair, the shield on one end, away from the motor cable.',
  }),
  ...when(!signal.commonReference && command.kind !== 'choice', {
    ...shared,
    severity: 'warn',
    id: 'referenceMissing',
    path: '/cable/commonReference',
    message: 'The 0 V of controller and drive are not joined: the signal has no reference.',
    remedy: 'Join the signal 0 V of both ends, at one point.',
  }),
];

export const analogIsOff: Check = (axis) => {
  const { command } = scaledOf(axis) ?? {};
  return when(!!command && !command.switchedOn, {
    ...shared,
    severity: 'note',
    id: 'commandIsOff',
    path: '/command/switchedOn',
    message: 'The command is not switched on yet: nothing that is keyed in from here makes the drive listen to it.',
    remedy: 'Switch it on when the signal at enable is settled and the axis may move.',
  });
};
