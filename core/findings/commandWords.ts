import type { ScaledCommand } from '../chain/index.ts';
import { valueOf } from '../sheet/index.ts';
import { formatNumber } from '../quantity/index.ts';
import type { PickedMove } from '../signal/index.ts';
import type { CheckedAxis } from './finding.ts';

/** A drive for one direction takes whatever lies beyond zero for zero. */
export const commandedValue = ({ pulses }: ScaledCommand, value: number): number =>
  pulses?.directions === 'one' ? Math.max(0, value) : value;

/** What a value makes the axis do: `runs at 300 rpm, 5 mm/s`. */
export function valueWords({ quantity, results }: CheckedAxis, { meaning }: ScaledCommand, value: number): string {
  const perValue = valueOf(results.loadPerValue);
  switch (meaning) {
    case 'speed':
      return `runs at ${quantity(value, '{value}')}${perValue === undefined ? '' : `, ${quantity(value * perValue, '{u}/s')}`}`;
    case 'torque':
      return `pushes with ${formatNumber(value, 4)} % of its rated torque`;
    case 'position':
      return `goes to ${quantity(value, '{u}')}`;
  }
}

/** What a stored move does: `goes to 85 mm (up)`. */
export function pickedWords(
  { kind, target, speed, torqueLimit, name }: PickedMove,
  quantity: CheckedAxis['quantity'],
): string {
  const to = target === undefined ? 'its place' : quantity(target, '{u}');
  const words = {
    nothing: 'does nothing',
    position: `goes to ${to}`,
    distance: `goes ${to} further`,
    speed: `runs at ${speed === undefined ? 'its speed' : quantity(speed, '{u}/s')}`,
    'motion plan': 'runs its motion plan',
    'move until torque': `moves until ${torqueLimit ?? '?'} % of rated torque`,
    'fenced jog': `jogs to its fence at ${to}`,
    'follow analog': 'follows the analog value',
    home: 'homes',
  }[kind];
  return name === '' ? words : `${words} (${name})`;
}
