import { movedFields, movedUnits, moveRole, storedMoveValues, type PlannedSetting } from '@kavrid/core/drive';
import { choiceWires, type ChoiceInputs } from '@kavrid/core/signal';
import type { ChoiceCommandDocument } from '../commandDocument.ts';
import { number, word } from '../toCore/plannedSetting.ts';
import { invertedBefore, type CommandFace } from './commandFace.ts';

const given = <T>(value: T | null): T | undefined => value ?? undefined;

/** Stored moves and how they are picked. */
export function readChoice(command: ChoiceCommandDocument): ChoiceInputs {
  const { inputs, edges, homing, patternAtEnable, nothing } = command;
  return {
    inputs,
    edges,
    homing,
    patternAtEnable,
    skew: command.skew ?? 0,
    minimumInputDuration: command.minimumInputDuration ?? 0,
    startDelay: command.startDelay ?? 0,
    nothing,
    torqueLimits: command.torqueLimits.flatMap(({ pattern, limit }) => (limit === null ? [] : [{ pattern, limit }])),
    moves: command.moves.map(({ pattern, kind, name, ...rest }) => ({
      pattern,
      kind,
      name,
      target: given(rest.target),
      fence: given(rest.fence),
      speed: given(rest.speed),
      acceleration: given(rest.acceleration),
      deceleration: given(rest.deceleration),
      torqueLimit: given(rest.torqueLimit),
      window: given(rest.window),
      scale:
        kind === 'follow analog'
          ? {
              signalFrom: given(rest.signalFrom),
              valueFrom: given(rest.valueFrom),
              signalTo: given(rest.signalTo),
              valueTo: given(rest.valueTo),
            }
          : undefined,
      armingInput: rest.armingInput,
    })),
  };
}

/** By both times; and for a drive that has one time and a choice of what it means, by that. */
const inputTiming = (minimumInputDuration: number, startDelay: number) => ({
  minimumInputDuration: number(minimumInputDuration, 's'),
  startDelay: number(startDelay, 's'),
  ...(minimumInputDuration > 0 && startDelay > 0
    ? {}
    : {
        inputTrigger: word(minimumInputDuration > 0 ? 'debounced' : startDelay > 0 ? 'delayed' : 'direct'),
        inputTime: number(Math.max(minimumInputDuration, startDelay) || null, 's'),
      }),
});

function movePlan(command: ChoiceCommandDocument, u: string): readonly (readonly [string, PlannedSetting])[] {
  const units = movedUnits(u, command.signalUnit);
  const moves = command.moves.flatMap((move) =>
    movedFields(move.kind).map((field) => {
      const value = move[field];
      const setting =
        typeof value === 'string' ? (value === '' ? undefined : word(value)) : number(value, units[field]);
      return [moveRole(move.pattern, field), setting] as const;
    }),
  );
  const limits = command.torqueLimits.map(
    ({ pattern, limit }) => [moveRole(pattern, 'limit'), number(limit, '%')] as const,
  );
  return [...moves, ...limits].filter((entry): entry is [string, PlannedSetting] => entry[1] !== undefined);
}

/** Inputs that pick stored moves. */
export const choiceCommand: CommandFace<ChoiceCommandDocument> = {
  make: (before) => ({
    kind: 'choice',
    inverted: invertedBefore(before),
    inputs: ['Input 1'],
    storedMoves: null,
    moves: [],
    signalUnit: 'V',
    edges: [],
    torqueInputs: [],
    torqueLimits: [],
    minimumInputDuration: 0.005,
    startDelay: 0,
    nothing: 'not known',
    skew: 0.002,
    homing: 'if not homed',
    patternAtEnable: '0',
  }),
  read: (command) => ({ kind: 'choice', choice: readChoice(command), storedMoves: command.storedMoves ?? undefined }),
  driveSettings: (command) => ({
    commandSource: word('inputs'),
    ...inputTiming(command.minimumInputDuration ?? 0, command.startDelay ?? 0),
    homingAtEnable: word(command.homing),
  }),
  controllerSettings: (command) => ({ outputSkew: number(command.skew, 's') }),
  ownValues: (command, axisUnit) =>
    storedMoveValues(
      movedUnits(axisUnit, command.signalUnit),
      command.moves,
      command.torqueLimits.map(({ pattern }) => pattern),
    ),
  ownSettings: movePlan,
  fromLibrary: (command, { drive }) => ({
    ...command,
    storedMoves: drive?.signalInput.storedMoves ?? command.storedMoves,
  }),
  wires: ({ inputs }) => choiceWires(inputs),
  form: () => 'choice inputs',
};
