import { motorTorque, type DriveTrain } from '../../motion/index.ts';
import { formatNumber, toNumber, type Exact } from '../../quantity/index.ts';
import { all, valueOf } from '../../sheet/index.ts';
import {
  firstEnable,
  moveFields,
  passingMoves,
  settlingTime,
  startsOnEdge,
  type MoveField,
  type PickedMove,
} from '../../signal/index.ts';
import { pickedWords } from '../commandWords.ts';
import { when, type Check, type CheckedAxis, type Finding } from '../finding.ts';

const shared = { station: 'drive', severity: 'stop' } as const;

const choiceOf = ({ input }: CheckedAxis) => (input.command.kind === 'choice' ? input.command : undefined);

export const homesAtEnable: Check = (axis) => {
  const { choice } = choiceOf(axis) ?? {};
  return when(!!choice && firstEnable(choice)[0] === 'home', {
    ...shared,
    severity: 'warn',
    id: 'homesAtEnable',
    path: '/command/homing',
    message: `${choice?.homing === 'at every enable' ? 'At every' : 'At the first'} enable the axis starts homing automatically.`,
    remedy: 'Keep everyone clear of the axis at that enable.',
  });
};

export const passesThroughMoves: Check = (axis) => {
  const { choice } = choiceOf(axis) ?? {};
  if (!choice) return [];
  const passing = passingMoves(choice);
  const [first] = passing;
  if (!first) return [];
  return [
    {
      ...shared,
      severity: 'warn',
      id: 'passesThroughMoves',
      path: '/command/minimumInputDuration',
      message: `Inputs never change at exactly the same time: on the way from ${first.from} to ${first.to} the drive may read ${first.through.pattern}, and the axis ${pickedWords(first.through, axis.quantity)}${passing.length > 1 ? `; ${passing.length - 1} more changes do the same` : ''}.`,
      remedy:
        'Set a minimum input duration or a start delay longer than the inputs take to change, start the move by an edge of another input, or choose patterns so that consecutive moves differ in one input.',
    },
  ];
};

export const patternsWrong: Check = (axis) => {
  const { choice } = choiceOf(axis) ?? {};
  if (!choice) return [];
  const seen = new Map<string, number>();
  return choice.moves.flatMap((move, index): readonly Finding[] => {
    const earlier = seen.get(move.pattern);
    seen.set(move.pattern, index);
    const isRight = new RegExp(`^[01]{${choice.inputs.length}}$`).test(move.pattern);
    return [
      ...when(!isRight, {
        ...shared,
        id: 'patternWrong',
        path: `/command/moves/${index}/pattern`,
        message: `The pattern “${move.pattern}” does not match the ${choice.inputs.length} inputs.`,
        remedy: `Enter one digit, 0 or 1, for each of: ${choice.inputs.join(', ')}.`,
      }),
      ...when(earlier !== undefined, {
        ...shared,
        id: 'patternTwice',
        path: `/command/moves/${index}/pattern`,
        message: `The pattern ${move.pattern} picks two moves.`,
        remedy: 'Give each move a pattern of its own.',
      }),
    ];
  });
};

/** What a kind of move cannot do without. */
const needs: Readonly<Partial<Record<PickedMove['kind'], readonly (keyof PickedMove & string)[]>>> = {
  position: ['target', 'speed', 'acceleration'],
  distance: ['target', 'speed', 'acceleration'],
  speed: ['speed', 'acceleration'],
  'move until torque': ['speed', 'torqueLimit'],
  'fenced jog': ['target', 'fence', 'speed', 'torqueLimit'],
};
const fieldWords: Readonly<Record<string, string>> = {
  target: 'target',
  fence: 'near fence',
  speed: 'speed',
  acceleration: 'acceleration',
  torqueLimit: 'torque limit',
};

export const movesIncomplete: Check = (axis) => {
  const { choice } = choiceOf(axis) ?? {};
  return (choice?.moves ?? []).flatMap((move, index) => {
    const missing = (needs[move.kind] ?? []).filter((field) => move[field] === undefined);
    return when(missing.length > 0, {
      ...shared,
      severity: 'warn',
      id: 'moveIncomplete',
      path: `/command/moves/${index}/${missing[0] ?? 'kind'}`,
      message: `The move of pattern ${move.pattern} is incomplete. Missing: ${missing.map((field) => (field === 'target' && move.kind === 'distance' ? 'distance' : (fieldWords[field] ?? field))).join(', ')}.`,
      remedy: 'Enter it; otherwise the drive uses its factory value.',
    });
  });
};

/** One thing that makes a stored move impossible; undefined where it is possible, or not enough is known. */
type MoveCheck = (
  move: PickedMove,
  axis: CheckedAxis,
) => (Pick<Finding, 'id' | 'message' | 'remedy'> & { readonly severity?: 'warn'; readonly field: string }) | undefined;

const goesSomewhere = ({ kind }: PickedMove) => kind === 'position' || kind === 'fenced jog';
const kindHas = (move: PickedMove, field: MoveField) => moveFields[move.kind].includes(field);

const outsideTravel: MoveCheck = (move, { input, results, quantity }) => {
  if (input.endless) return undefined;
  const travel = valueOf(results.travel);
  const length = travel === undefined ? Infinity : toNumber(travel);
  const { minusSoftLimit = -length, plusSoftLimit = length } = input;
  const place = (goesSomewhere(move) ? [move.fence, move.target] : []).find(
    (each) => each !== undefined && (each < minusSoftLimit || each > plusSoftLimit),
  );
  if (place !== undefined) {
    const isSoft = input.minusSoftLimit !== undefined || input.plusSoftLimit !== undefined;
    return {
      id: 'moveOutside',
      field: place === move.target ? 'target' : 'fence',
      message: `The move of pattern ${move.pattern} goes to ${quantity(place, '{u}')}, beyond ${isSoft ? 'a soft limit' : `the travel of ${quantity(length, '{u}')}`}.`,
      remedy: isSoft ? 'Keep it between the soft limits.' : 'Keep it within the travel.',
    };
  }
  if (move.kind !== 'distance' || move.target === undefined || Math.abs(move.target) <= length) return undefined;
  return {
    id: 'moveOutside',
    field: 'target',
    message: `The move of pattern ${move.pattern} goes ${quantity(move.target, '{u}')}; the travel is ${quantity(length, '{u}')}.`,
    remedy: 'Shorten the distance.',
  };
};

const wrongSpeed: MoveCheck = (move, { results, quantity }) => {
  const { speed, pattern, kind } = move;
  if (speed === undefined || !kindHas(move, 'speed')) return undefined;
  const isSigned = kind === 'speed' || kind === 'move until torque' || kind === 'fenced jog';
  if (speed === 0 || (speed < 0 && !isSigned))
    return {
      id: 'moveSpeedWrong',
      field: 'speed',
      message: `The move of pattern ${pattern} has a speed of ${quantity(speed, '{u}/s')}.`,
      remedy: isSigned
        ? 'Enter a speed; its sign gives the direction.'
        : 'Enter a speed above 0; the target gives the direction.',
    };
  const highest = valueOf(results.highestSpeed);
  return highest !== undefined && Math.abs(speed) > highest * (1 + 1e-9)
    ? {
        id: 'moveTooFast',
        field: 'speed',
        message: `The move of pattern ${pattern} runs at ${quantity(speed, '{u}/s')}; the axis can do ${quantity(highest, '{u}/s')}.`,
        remedy: 'Lower its speed.',
      }
    : undefined;
};

/** What the axis needs of its motor to speed up and to slow down so, in % of rated torque: the larger of the two. */
function neededPercent(axis: CheckedAxis, acceleration: number): number | undefined {
  const { results } = axis;
  const numbers = valueOf(
    all<[DriveTrain, number, number, Exact, Exact]>(
      results.driveTrain,
      results.ratedTorque,
      results.motorRadiansPerTurn,
      results.transmissionRatio,
      results.travelPerTurn,
    ),
  );
  if (!numbers) return undefined;
  const [train, rated, radians, ratio, travel] = numbers;
  const atMotor = (acceleration * radians * toNumber(ratio)) / toNumber(travel);
  const torques = [motorTorque(train, atMotor, 1), motorTorque(train, -atMotor, -1)];
  return (100 * Math.max(...torques.map(Math.abs))) / rated;
}

const tooMuchTorque: MoveCheck = (move, axis) => {
  const { results } = axis;
  const [peak, rated] = [valueOf(results.peakTorque), valueOf(results.ratedTorque)];
  if (peak === undefined || !rated) return undefined;
  const most = (100 * peak) / rated;
  const { pattern, torqueLimit } = move;
  const limit = kindHas(move, 'torqueLimit') ? torqueLimit : undefined;
  if (limit !== undefined && limit > most * (1 + 1e-9))
    return {
      id: 'moveTorqueAbovePeak',
      severity: 'warn',
      field: 'torqueLimit',
      message: `The move of pattern ${pattern} has a torque limit of ${formatNumber(limit, 4)} %; the motor’s peak is ${formatNumber(most, 4)} %.`,
      remedy: 'Lower the torque limit to the motor’s peak torque or less.',
    };
  const field = (['acceleration', 'deceleration'] as const)
    .filter((each) => kindHas(move, each))
    .find((each) => (neededPercent(axis, move[each] ?? 0) ?? 0) > Math.min(most, limit ?? Infinity) * (1 + 1e-9));
  if (!field || move[field] === undefined) return undefined;
  return {
    id: 'moveTooHard',
    field,
    message: `The move of pattern ${pattern} needs ${formatNumber(neededPercent(axis, move[field]) ?? 0, 4)} % of rated torque for its ${field}; ${formatNumber(Math.min(most, limit ?? Infinity), 4)} % is available.`,
    remedy: `Lower its ${field}${limit !== undefined && limit < most ? ', or raise its torque limit' : ''}.`,
  };
};

const windowTooSmall: MoveCheck = (move, { results, quantity }) => {
  const count = valueOf(results.feedbackResolution);
  const { window, pattern } = move;
  if (window === undefined || count === undefined || !kindHas(move, 'window') || window >= toNumber(count))
    return undefined;
  return {
    id: 'moveWindowTooSmall',
    field: 'window',
    message: `The in-position window of pattern ${pattern} is ${quantity(window, '{u}')}, less than one encoder count of ${quantity(toNumber(count), '{u}')}.`,
    remedy: 'Make the window several counts wide. As it is, the axis would hardly ever report “in position”.',
  };
};

const fencesCrossed: MoveCheck = ({ kind, fence, target, speed, pattern }, { quantity }) => {
  if (kind !== 'fenced jog' || fence === undefined || target === undefined) return undefined;
  if ((target - fence) * (speed !== undefined && speed < 0 ? -1 : 1) > 0) return undefined;
  return {
    id: 'moveFencesCrossed',
    field: 'fence',
    message: `The near fence of pattern ${pattern}, ${quantity(fence, '{u}')}, lies at or beyond its far fence, ${quantity(target, '{u}')}.`,
    remedy: 'Swap the two fences, or reverse the sign of the speed.',
  };
};

const scaleMissing: MoveCheck = ({ kind, scale, pattern }) => {
  if (kind !== 'follow analog') return undefined;
  const { signalFrom, valueFrom, signalTo, valueTo } = scale ?? {};
  const isKnown = [signalFrom, valueFrom, signalTo, valueTo].every((each) => each !== undefined);
  if (isKnown && signalFrom !== signalTo) return undefined;
  return {
    id: isKnown ? 'followScaleFlat' : 'followScaleMissing',
    severity: isKnown ? undefined : 'warn',
    field: 'signalFrom',
    message: isKnown
      ? `Both points of the scale of pattern ${pattern} have the same signal.`
      : `The move of pattern ${pattern} follows an analog signal, but its scale has not been entered.`,
    remedy: 'Enter two different signals and the position or speed that each one means.',
  };
};

const unarmed: MoveCheck = ({ kind, armingInput, pattern }) =>
  kind === 'follow analog' && armingInput === ''
    ? {
        id: 'followUnarmed',
        severity: 'warn',
        field: 'armingInput',
        message: `Pattern ${pattern} starts to follow the analog signal at once: the axis moves from wherever it is to the position the signal means.`,
        remedy:
          'Assign an arming input, and let the controller set the signal to the actual position before it arms the move.',
      }
    : undefined;

const moveChecks: readonly MoveCheck[] = [
  outsideTravel,
  wrongSpeed,
  tooMuchTorque,
  windowTooSmall,
  fencesCrossed,
  scaleMissing,
  unarmed,
];

export const movesImpossible: Check = (axis) => {
  const { choice } = choiceOf(axis) ?? {};
  return (choice?.moves ?? []).flatMap((move, index) =>
    moveChecks.flatMap((check): readonly Finding[] => {
      const found = check(move, axis);
      if (!found) return [];
      const { field, severity = shared.severity, ...words } = found;
      return [{ ...shared, ...words, severity, path: `/command/moves/${index}/${field}` }];
    }),
  );
};

export const edgeWithoutInput: Check = (axis) => {
  const { choice } = choiceOf(axis) ?? {};
  return (choice?.edges ?? []).flatMap(({ input, edge, action }, index) =>
    when(input === '', {
      ...shared,
      id: 'edgeWithoutInput',
      path: `/command/edges/${index}/input`,
      message: `No input is assigned to the ${edge} edge that is to ${action}.`,
      remedy: 'Assign an input, or remove the edge.',
    }),
  );
};

export const nothingNotKnown: Check = (axis) => {
  const { choice } = choiceOf(axis) ?? {};
  return when(!!choice && choice.nothing === 'not known' && choice.moves.length > 0 && !startsOnEdge(choice), {
    ...shared,
    severity: 'warn',
    id: 'nothingNotKnown',
    path: '/command/nothing',
    message: 'It has not been stated whether the axis stops when the inputs return to a pattern without a move.',
    remedy: 'Look it up in the drive manual and select the answer.',
  });
};

export const tooManyMoves: Check = (axis) => {
  const command = choiceOf(axis);
  const stored = command?.storedMoves;
  const used = command?.choice.moves.length ?? 0;
  return when(stored !== undefined && used > stored, {
    ...shared,
    id: 'tooManyMoves',
    path: '/command/moves',
    message: `${used} moves are planned; the drive stores ${stored ?? 0}.`,
    remedy: 'Remove some of them.',
  });
};

export const movesBeforeHome: Check = (axis) => {
  const { choice } = choiceOf(axis) ?? {};
  const goes = choice?.moves.some(({ kind }) => kind === 'position' || kind === 'fenced jog') ?? false;
  const canHome =
    choice?.moves.some(({ kind }) => kind === 'home') || choice?.edges.some(({ action }) => action === 'home');
  return when(goes && choice?.homing === 'never' && !canHome, {
    ...shared,
    severity: 'warn',
    id: 'movesBeforeHome',
    path: '/command/homing',
    message: 'Moves go to positions, and nothing homes the axis: the positions mean nothing after power on.',
    remedy: 'Home if not homed, or give an input for it, unless the encoder keeps its turns.',
  });
};

export const edgeInPattern: Check = (axis) => {
  const { choice } = choiceOf(axis) ?? {};
  return (choice?.edges ?? []).flatMap((edge, index) => [
    ...when(choice?.inputs.includes(edge.input) ?? false, {
      ...shared,
      severity: 'warn',
      id: 'edgeInPattern',
      path: `/command/edges/${index}/input`,
      message: `${edge.input} is part of the pattern, and its ${edge.edge} edge also has a function (${edge.action}): a change of pattern triggers that function.`,
      remedy: 'Use a separate input for it.',
    }),
    ...when(edge.action === 'start the picked move' && choice !== undefined && settlingTime(choice) > 0, {
      ...shared,
      severity: 'note',
      id: 'patternBeforeEdge',
      path: `/command/edges/${index}/action`,
      message: `The pattern must be stable for ${formatNumber(1000 * (choice ? settlingTime(choice) : 0), 3)} ms before ${edge.input} starts the move.`,
      remedy: 'Let the controller wait at least that long between setting the pattern and the edge.',
    }),
  ]);
};

export const torqueTooLow: Check = (axis) => {
  const { choice } = choiceOf(axis) ?? {};
  const [running, gravity, rated] = [
    valueOf(axis.results.runningTorque),
    valueOf(axis.results.gravityTorque),
    valueOf(axis.results.ratedTorque),
  ];
  if (!choice || running === undefined || gravity === undefined || !rated) return [];
  const needed = (100 * running) / rated;
  const low = [...choice.torqueLimits.map(({ limit }) => limit), ...choice.moves.flatMap((m) => m.torqueLimit ?? [])];
  const least = Math.min(...low);
  return when(least < needed, {
    ...shared,
    severity: gravity !== 0 ? 'stop' : 'warn',
    id: 'torqueTooLow',
    path: '/command/torqueLimits',
    message: `A torque limit of ${formatNumber(least, 3)} % is selected; friction and gravity alone need ${formatNumber(needed, 3)} %.`,
    remedy: gravity !== 0 ? 'Raise it: the load would sink.' : 'Raise it: the axis would not move.',
  });
};
