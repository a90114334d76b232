import { fromRaw, type DriveParameter } from '@kavrid/core/drive';
import { formatNumber, toNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import { byKindOnScreen, useMember, wordingOf } from '../member/memberContext.ts';
import { useShownUnits } from '../ui/units.ts';

/** Writes a raw value for reading: its words, its value with the unit, or, where it counts encoder counts, the travel they are. */
export function useShownRaw(): (parameter: DriveParameter, raw: number | undefined) => string {
  const member = useMember();
  const units = useShownUnits(wordingOf(member));
  const resolution = resolutionOf(member);
  return (parameter, raw) => {
    if (raw === undefined) return '—';
    const value = fromRaw(parameter, raw);
    const words = parameter.choices[String(value)];
    if (words !== undefined) return words;
    if (!parameter.unit.startsWith('counts') || !resolution)
      return `${formatNumber(value, 10)} ${parameter.unit}`.trim();
    const template = parameter.unit.replace('counts', '{u}');
    return `${formatNumber(units.shown(value * toNumber(resolution), template), 5)} ${units.name(template)}`;
  };
}

/** Travel of one count, where there is an axis with counts. */
export const resolutionOf = (member: ReturnType<typeof useMember>) =>
  byKindOnScreen(member, {
    axis: ({ computation }) => valueOf(computation.results.feedbackResolution),
    spindle: () => undefined,
  });
