import type { ColumnMapping } from '@kavrid/contract';
import { conversion, parseUnit, sameDimension, toNumber } from '@kavrid/core/quantity';
import type { ShownUnits } from '../ui/units.ts';
import type { TraceTraits } from './traceTraits.ts';

/** What a column of a table is used as. */
export interface ColumnUse {
  /** A channel of the axis or spindle; or another one, the time, or nothing. */
  readonly channel: string;
  readonly scale: number;
  /** Of another channel. */
  readonly unit: string;
}

/** Channels that have a meaning outside their drive. */
export const channelChoices = (
  units: ShownUnits,
  { channels, titleWords }: TraceTraits,
): readonly { readonly value: string; readonly label: string }[] => [
  { value: 'none', label: 'not used' },
  { value: 'time', label: 'time' },
  ...Object.entries(channels)
    .filter(([id]) => titleWords.some(([, named]) => named === id))
    .map(([id, { label, unit }]) => ({ value: id, label: `${label}, ${units.name(unit)}` })),
  { value: 'other', label: 'another channel' },
];

const timeWords = [/^t\b|time/i, 'time'] as const;

/** What the columns seem to be by their titles, each channel once; a unit in brackets is converted where it can be. */
export function columnGuess(titles: readonly string[], units: ShownUnits, traits: TraceTraits): readonly ColumnUse[] {
  const words = [timeWords, ...traits.titleWords] as const;
  const used = new Set<string>();
  return titles.map((title): ColumnUse => {
    const channel = words.find(([word, id]) => word.test(title) && !used.has(id))?.[1];
    if (channel) used.add(channel);
    const unit = /[([]([^)\]]{1,20})[)\]]/.exec(title)?.[1]?.trim() ?? '';
    const row = traits.channels[channel ?? ''];
    return {
      channel: channel ?? (title === '' ? 'none' : 'other'),
      scale: row ? scaleOf(unit, units.name(row.unit)) : 1,
      unit,
    };
  });
}

/** How many of `to` one `from` is; 1 where that is not known: the user sees it, and can change it. */
function scaleOf(from: string, to: string): number {
  const [given, wanted] = [parseUnit(from), parseUnit(to)];
  return given && wanted && sameDimension(given.dimension, wanted.dimension) ? toNumber(conversion(from, to)) : 1;
}

/** The mapping of the columns as they are used. @param seconds s in one of the time's units */
export function mappingOf(
  columns: readonly ColumnUse[],
  units: ShownUnits,
  seconds: number,
  period: number,
  titles: readonly string[],
  { channels: facts }: TraceTraits,
): ColumnMapping {
  const time = columns.findIndex(({ channel }) => channel === 'time');
  return {
    time: time < 0 ? { column: undefined, period } : { column: time, seconds },
    channels: columns.flatMap(({ channel, scale, unit }, column) => {
      if (channel === 'none' || channel === 'time') return [];
      const row = facts[channel];
      if (!row)
        return [
          {
            column,
            id: `column${column + 1}`,
            label: (titles[column] ?? '').slice(0, 60) || `Column ${column + 1}`,
            unit,
            scale,
          },
        ];
      // The screen may show inches; a trace is kept in the unit of the axis.
      return [
        { column, id: channel, label: row.label, unit: ownName(units, row.unit), scale: units.own(scale, row.unit) },
      ];
    }),
  };
}

const ownName = (units: ShownUnits, template: string): string =>
  template.replace('{u}', units.unit === 'in' ? 'mm' : units.unit);
