import { formatNumber } from '../../quantity/index.ts';
import { valueOf } from '../../sheet/index.ts';
import { firstEnable, passingMoves, settlingTime, type PickedMove } from '../../signal/index.ts';
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
    message: `${choice?.homing === 'at every enable' ? 'At every' : 'At the first'} enable the axis homes by itself.`,
    remedy: 'Know it before the first enable, with nobody in reach.',
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
      path: '/command/trigger',
      message: `Inputs change one by one: from ${first.from} to ${first.to} the drive may see ${first.through.pattern} and the axis ${pickedWords(first.through, axis.quantity)}${passing.length > 1 ? `; ${passing.length - 1} more ways like it` : ''}.`,
      remedy:
        'Debounce the inputs for longer than they take to change, let an edge start the move, or order the patterns so that neighbours differ in one input.',
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
        message: `The pattern “${move.pattern}” does not fit ${choice.inputs.length} inputs.`,
        remedy: `Write a 0 or a 1 for each of: ${choice.inputs.join(', ')}.`,
      }),
      ...when(earlier !== undefined, {
        ...shared,
        id: 'patternTwice',
        path: `/command/moves/${index}/pattern`,
        message: `The pattern ${move.pattern} picks two moves.`,
        remedy: 'Give each move its own.',
      }),
    ];
  });
};

/** What a kind of move cannot do without. */
const needs: Readonly<Partial<Record<PickedMove['kind'], readonly (keyof PickedMove & string)[]>>> = {
  position: ['target', 'speed', 'acceleration'],
  distance: ['target', 'speed', 'acceleration'],
  speed: ['speed', 'acceleration'],
  'push to torque': ['speed', 'torqueLimit'],
  'fenced jog': ['target', 'fence', 'speed', 'torqueLimit'],
};
const fieldWords: Readonly<Record<string, string>> = {
  target: 'where to',
  fence: 'its near fence',
  speed: 'its speed',
  acceleration: 'its acceleration',
  torqueLimit: 'its torque limit',
};

export const movesImpossible: Check = (axis) => {
  const { choice } = choiceOf(axis) ?? {};
  if (!choice) return [];
  const highest = valueOf(axis.results.highestSpeed);
  const { minusSoftLimit, plusSoftLimit } = axis.input;
  return choice.moves.flatMap((move, index): readonly Finding[] => {
    const path = (field: string) => `/command/moves/${index}/${field}`;
    const missing = (needs[move.kind] ?? []).filter((field) => move[field] === undefined);
    const places = move.kind === 'position' || move.kind === 'fenced jog' ? [move.target, move.fence] : [];
    const outside = places.find(
      (place) =>
        place !== undefined &&
        ((minusSoftLimit !== undefined && place < minusSoftLimit) ||
          (plusSoftLimit !== undefined && place > plusSoftLimit)),
    );
    return [
      ...when(missing.length > 0, {
        ...shared,
        severity: 'warn',
        id: 'moveIncomplete',
        path: path(missing[0] ?? 'kind'),
        message: `The move of pattern ${move.pattern} lacks ${missing.map((field) => fieldWords[field] ?? field).join(', ')}.`,
        remedy: 'Fill it in; a drive keeps its factory value otherwise.',
      }),
      ...when(outside !== undefined, {
        ...shared,
        id: 'moveOutside',
        path: path('target'),
        message: `The move of pattern ${move.pattern} goes to ${axis.quantity(outside ?? 0, '{u}')}, beyond a soft limit.`,
        remedy: 'Keep it between the soft limits.',
      }),
      ...when(move.speed !== undefined && highest !== undefined && Math.abs(move.speed) > highest * (1 + 1e-9), {
        ...shared,
        id: 'moveTooFast',
        path: path('speed'),
        message: `The move of pattern ${move.pattern} runs at ${axis.quantity(move.speed ?? 0, '{u}/s')}; the axis can do ${axis.quantity(highest ?? 0, '{u}/s')}.`,
        remedy: 'Lower its speed.',
      }),
    ];
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
    remedy: 'Take some out.',
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
      message: `${edge.input} belongs to the pattern, and its ${edge.edge} edge does something of its own (${edge.action}): changing the pattern does it too.`,
      remedy: 'Use an input of its own.',
    }),
    ...when(edge.action === 'start the picked move' && choice !== undefined && settlingTime(choice) > 0, {
      ...shared,
      severity: 'note',
      id: 'patternBeforeEdge',
      path: `/command/edges/${index}/action`,
      message: `The pattern must stand for ${formatNumber(1000 * (choice ? settlingTime(choice) : 0), 3)} ms before ${edge.input} starts the move.`,
      remedy: 'Let the controller wait as long between the two.',
    }),
  ]);
};

export const torqueTooLow: Check = (axis) => {
  const { choice } = choiceOf(axis) ?? {};
  const [friction, gravity, rated] = [
    valueOf(axis.results.frictionTorque),
    valueOf(axis.results.gravityTorque),
    valueOf(axis.results.ratedTorque),
  ];
  if (!choice || friction === undefined || gravity === undefined || !rated) return [];
  const needed = (100 * (friction + Math.abs(gravity))) / rated;
  const low = [...choice.torqueLimits.map(({ limit }) => limit), ...choice.moves.flatMap((m) => m.torqueLimit ?? [])];
  const least = Math.min(...low);
  return when(least < needed, {
    ...shared,
    severity: gravity !== 0 ? 'stop' : 'warn',
    id: 'torqueTooLow',
    path: '/command/torqueLimits',
    message: `A torque limit of ${formatNumber(least, 3)} % is picked; friction and gravity alone take ${formatNumber(needed, 3)} %.`,
    remedy: gravity !== 0 ? 'Raise it: the load would sink.' : 'Raise it: the axis would not move.',
  });
};
