import { commandsOneWay, rawValue, rawOf, type ScaledCommand } from '../../chain/index.ts';
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
  if (kind === 'pwm') return [line('with the line stuck low', nothing), line('with the line stuck high', exact(100))];
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
    message: `${command?.faultDetected ? 'The drive trips on signal loss, but cannot distinguish this break from a command' : 'The drive takes a broken wire for a command'}: ${words.join('; ')}.`,
    remedy:
      command?.kind === 'pwm'
        ? 'Set the drive to trip when no edge arrives within a few periods, and keep 0 % and 100 % out of the scale.'
        : 'Use a live zero (4–20 mA) whose loss trips the drive, or a scale that is zero at 0 V.',
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
    message: `The drive also takes a broken reference wire for a command: ${words.join('; ')}.`,
    remedy: 'Use a live zero (4–20 mA) whose loss trips the drive, or monitor the speed and remove the enable.',
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
    message: `The live zero is not monitored: below ${liveZeroLevels.failsBelow} mA or above ${liveZeroLevels.failsAbove} mA the loop has failed (NAMUR NE 43), but the drive takes the signal for a command.`,
    remedy: 'Switch on signal-loss detection in the drive.',
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
      message: `A point of the scale lies outside the range from ${formatExact(range.lowest)} to ${formatExact(range.highest)} ${range.unit}: that signal is never sent.`,
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
    message: `The wanted speed is ${axis.quantity(wanted, '{u}/s')}; the full signal gives ${axis.quantity(full, '{u}/s')}.`,
    remedy: 'Scale the full signal to a higher speed, or lower the wanted speed.',
  });
};

/** A speed that only ever goes one way, on an axis that has to come back. */
export const oneWayOnly: Check = (axis) => {
  const isOneWay = commandsOneWay(axis.input.command, axis.results) === true;
  return when(isOneWay && !axis.input.endless && axis.input.motionKind !== 'dosing', {
    ...shared,
    severity: 'warn',
    id: 'oneWayOnly',
    path: '/command/from/value',
    message: 'This signal commands one direction only, but the axis has to return.',
    remedy: 'Put zero speed at the middle of the range (5 V of 0–10 V), or wire a direction input.',
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
      message: `The smallest step is ${axis.quantity(load, '{u}')}, coarser than the ${axis.quantity(wanted ? toNumber(wanted) : 0, '{u}')} wanted; ${limit}.`,
      remedy: 'Use a converter with more bits at that end, or a scale with a smaller range.',
    });
  const full = valueOf(axis.results.fullCommandSpeed);
  return when(full !== undefined && load > full / 250, {
    ...shared,
    severity: 'note',
    id: 'coarseSteps',
    path: '/command/to/value',
    message: `The smallest step is ${axis.quantity(step, '{value}')}; ${limit}. Speeds in between cannot be held.`,
    remedy: 'Use a converter with more bits at that end, or scale the full signal to a lower speed.',
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
        ? 'Set the offset. The position loop holds the axis in any case, but with a steady error.'
        : 'Set the offset, and remove the enable wherever the axis has to stand still.',
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
      message: `The drive ignores commands below ${axis.quantity(dead, '{value}')}, so the controller’s loop leaves an error of up to ${axis.quantity((dead * perValue) / gain, '{u}')} or hunts across the deadband.`,
      remedy: 'Set the deadband to zero while the position loop is closed in the controller.',
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
      message: `The potentiometer and the input draw ${n(current * 1000)} mA; the drive’s reference output gives ${n(pot.referenceCurrent * 1000)} mA. Its voltage drops, and full speed is not reached.`,
      remedy: `Use ${Number.isFinite(leastResistance) ? `${n(leastResistance)} Ω or more` : 'a reference output with more current'}; 4.7 to 10 kΩ is common practice.`,
    }),
    ...when(sag > 0.5, {
      ...shared,
      severity: 'note',
      id: 'potentiometerSags',
      path,
      message: `The input loads the wiper: at mid-turn the voltage is ${n(middle)} V instead of ${n(pot.referenceVoltage / 2)} V, and the largest error is ${n(sag)} % of the range. ${n(100 * effectiveTurn)} % of the rotation is effective.`,
      remedy: 'Use a potentiometer with less resistance, or an input with more.',
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
    message: `The PWM input terminal is also assigned to another function (${command?.pulses?.sharedWith ?? ''}): one input cannot have two functions.`,
    remedy: 'Assign one of the two to another terminal.',
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
    message: `With the numbers that the drive accepts, one point of the scale is off by ${n(most)} counts.`,
    remedy: 'Choose points that fit the drive’s registers, or correct the scale in the controller.',
  });
};

export const analogWiring: Check = ({ input: { signal, command } }) => [
  ...when(signal.shield === 'none' && command.kind === 'analog', {
    ...shared,
    severity: 'warn',
    id: 'analogNotShielded',
    path: '/cable/shield',
    message: 'The analog line has no shield: every millivolt of noise is a speed command.',
    remedy: 'Use a shielded twisted pair, connect the shield at one end, and keep it away from the motor cable.',
  }),
  ...when(!signal.commonReference && command.kind !== 'choice', {
    ...shared,
    severity: 'warn',
    id: 'referenceMissing',
    path: '/cable/commonReference',
    message: 'The 0 V terminals of controller and drive are not connected: the signal has no reference.',
    remedy: 'Connect the signal 0 V of both ends, at one point.',
  }),
];

export const analogIsOff: Check = (axis) => {
  const { command } = scaledOf(axis) ?? {};
  return when(!!command && !command.switchedOn, {
    ...shared,
    severity: 'note',
    id: 'commandIsOff',
    path: '/command/switchedOn',
    message:
      'The command is planned as switched off: with the values keyed in from here, the drive does not respond to it.',
    remedy: 'Switch it on when the signal present at enable has been checked and the axis may move.',
  });
};
