import { channelsOf, type Channel } from '@kavrid/contract';
import type { ShownUnits } from '../ui/units.ts';

/** A channel as the screen names it. */
export interface ShownChannel {
  readonly id: string;
  readonly label: string;
  readonly unit: string;
  /** Of the unit shown in one of the trace's. */
  readonly scale: number;
}

/** The channels that are drawn unless others are chosen. */
export const usualChannels: readonly string[] = ['actualPosition', 'actualSpeed', 'followingError', 'torque'];

/** Channels that a prediction has. */
const predicted: readonly string[] = ['demandPosition', 'actualPosition', 'actualSpeed', 'followingError', 'torque'];

/** What can be drawn of some traces, each channel once; of none of them, what a prediction has. */
export function shownChannels(
  traces: readonly { readonly channels: readonly Channel[] }[],
  units: ShownUnits,
): readonly ShownChannel[] {
  const facts = channelsOf.axis;
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
