import { toNumber } from '../quantity/index.ts';
import { valueOf, type Evaluation } from '../sheet/index.ts';
import type { AxisValues } from './axisValues.ts';
import type { CommandInput } from './commandInput.ts';

/**
 * Whether a signal commands a speed or torque in one direction only; undefined: it does neither, or its ends are not known. A duty cycle means
 * something between the two points of its scale alone; a voltage or current does over its whole range.
 */
export function commandsOneWay(
  command: CommandInput,
  { valueAtFullSignal, valueAtLeastSignal }: Evaluation<AxisValues>,
): boolean | undefined {
  if (!('meaning' in command) || command.meaning === 'position') return undefined;
  const { pulses, fromValue, toValue } = command;
  if (pulses?.directions === 'both') return false;
  const ends = pulses ? [fromValue, toValue] : [valueAtLeastSignal, valueAtFullSignal];
  const [least, full] = ends.map((end) => valueOf(end));
  return least && full ? toNumber(least) * toNumber(full) >= 0 : undefined;
}
