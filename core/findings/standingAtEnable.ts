import { formatExact, toNumber } from '../quantity/index.ts';
import { valueOf } from '../sheet/index.ts';
import { firstEnable, valueAt, type Standing } from '../signal/index.ts';
import type { CheckedAxis } from './finding.ts';
import { commandedValue, pickedWords, valueWords } from './commandWords.ts';

/** What waits at the input of a drive that is about to be enabled, for {@link mayChange}. */
export function standingAtEnable(axis: CheckedAxis): Standing {
  return { isEnabled: false, isMoving: false, setPoint: setPointOf(axis) };
}

function setPointOf(axis: CheckedAxis): Standing['setPoint'] {
  const { command } = axis.input;
  switch (command.kind) {
    // Pulses count only from the moment at which someone counts them.
    case 'pulses':
      return 'none';
    case 'analog':
    case 'pwm': {
      const [scale, signal] = [valueOf(axis.results.signalScale), valueOf(command.standing)];
      if (!scale || !signal) return undefined;
      const value = commandedValue(command, toNumber(valueAt(scale, signal)));
      const dead = valueOf(axis.results.deadbandValue) ?? 0;
      if (command.meaning !== 'position' && Math.abs(value) <= dead) return 'none';
      return `${formatExact(signal)} ${command.range.unit}, at which the axis ${valueWords(axis, command, value)},`;
    }
    case 'choice': {
      const moves = firstEnable(command.choice).flatMap((each) => (each === 'home' ? [] : [each]));
      const [move] = moves;
      return move ? `pattern ${move.pattern}, at which the axis ${pickedWords(move, axis.quantity)},` : 'none';
    }
  }
}
