import type { CommandByKind, CommandKind, ScaledCommand } from '../chain/index.ts';
import { formatExact, toNumber } from '../quantity/index.ts';
import { valueOf } from '../sheet/index.ts';
import { firstEnable, valueAt, type Standing } from '../signal/index.ts';
import * as choiceInputs from './checks/choiceInputs.ts';
import * as gear from './checks/gear.ts';
import * as hostLoop from './checks/hostLoop.ts';
import * as scaledSignal from './checks/scaledSignal.ts';
import * as signal from './checks/signal.ts';
import * as train from './checks/train.ts';
import { commandedValue, pickedWords, valueWords } from './commandWords.ts';
import { checksIn, type Check, type CheckedAxis } from './finding.ts';

/** What is checked of a kind of command, and what waits at the drive's input when it is enabled. */
interface CommandFindings<C> {
  readonly checks: readonly Check[];
  readonly setPoint: (axis: CheckedAxis, command: C) => Standing['setPoint'];
  /** The field that settles what waits, and the remedy where something does. */
  readonly path: string;
  readonly remedy: (command: C) => string;
}

const scaled = (remedy: string): CommandFindings<ScaledCommand> => ({
  checks: checksIn(scaledSignal, hostLoop),
  setPoint: (axis, command) => {
    const [scale, signalNow] = [valueOf(axis.results.signalScale), valueOf(command.standing)];
    if (!scale || !signalNow) return undefined;
    const value = commandedValue(command, toNumber(valueAt(scale, signalNow)));
    const dead = valueOf(axis.results.deadbandValue) ?? 0;
    if (command.meaning !== 'position' && Math.abs(value) <= dead) return 'none';
    return `${formatExact(signalNow)} ${command.range.unit}, at which the axis ${valueWords(axis, command, value)},`;
  },
  path: '/command/standing',
  // Whoever commands a position commands one at every moment: it can only be made to be where the axis is.
  remedy: ({ meaning }) =>
    meaning === 'position'
      ? 'Let the controller’s command track the actual position until the drive is enabled.'
      : remedy,
});

const findings: { readonly [K in CommandKind]: CommandFindings<CommandByKind[K]> } = {
  pulses: {
    checks: checksIn(gear, signal, train),
    // Pulses count only from the moment at which someone counts them.
    setPoint: () => 'none',
    path: '/command',
    remedy: () => '',
  },
  analog: scaled(
    'Let the controller send the signal for zero before it enables the drive; a zero clamp in the drive is no substitute.',
  ),
  pwm: scaled('Let the controller send the duty cycle for zero before it enables the drive.'),
  choice: {
    checks: checksIn(choiceInputs),
    setPoint: ({ quantity }, { choice }) => {
      const [move] = firstEnable(choice).flatMap((each) => (each === 'home' ? [] : [each]));
      return move ? `pattern ${move.pattern}, at which the axis ${pickedWords(move, quantity)},` : 'none';
    },
    path: '/command/patternAtEnable',
    remedy: () =>
      'Keep a pattern that selects no move at the inputs while the drive is enabled, or start the moves by an edge.',
  },
};

export const commandChecks = (kind: CommandKind): readonly Check[] => findings[kind].checks;

const setPointOf = <K extends CommandKind>(kind: K, axis: CheckedAxis, command: CommandByKind[K]) =>
  findings[kind].setPoint(axis, command);

/** What waits at the input of a drive that is about to be enabled, for `mayChange`. */
export const standingAtEnable = (axis: CheckedAxis): Standing => ({
  isEnabled: false,
  isMoving: false,
  setPoint: setPointOf(axis.input.command.kind, axis, axis.input.command),
});

const remedyOf = <K extends CommandKind>(kind: K, command: CommandByKind[K]) => findings[kind].remedy(command);

/** Where to settle what waits at enable, and how. */
export const enableRemedy = ({ input: { command } }: CheckedAxis) => ({
  path: findings[command.kind].path,
  remedy: remedyOf(command.kind, command),
});
