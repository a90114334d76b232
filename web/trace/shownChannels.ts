import type { Channel } from '@kavrid/contract';
import type { ShownUnits } from '../ui/units.ts';
import type { TraceTraits } from './traceTraits.ts';

/** A channel as the screen names it. */
export interface ShownChannel {
  readonly id: string;
  readonly label: string;
  readonly unit: string;
  /** Of the unit shown in one of the trace's. */
  readonly scale: number;
}

/** What can be drawn of some traces, each channel once; of none of them, what a prediction has. */
export function shownChannels(
  traces: readonly { readonly channels: readonly Channel[] }[],
  units: ShownUnits,
  { channels: facts, predicted }: TraceTraits,
): readonly ShownChannel[] {
  const known = (id: string): ShownChannel | undefined => {
    const row = facts[id];
    return row && { id, label: row.label, unit: units.name(row.unit), scale: units.shown(1, row.unit) };
  };
  const found = new Map<string, ShownChannel>();
  if (traces.length === 0)
    for (const id of predicted) {
      const channel = known(id);
      if (channel) found.set(id, channel);
    }
  for (const { channels } of traces)
    for (const { id, label, unit } of channels)
      if (!found.has(id)) found.set(id, known(id) ?? { id, label, unit, scale: 1 });
  return [...found.values()];
}
