import type { LinkLive, LiveChannel } from '@kavrid/contract';
import { Box } from '@mui/material';
import { linkLive } from '../store/live.ts';
import { useAppSelector } from '../store/store.ts';
import { numberFace } from '../ui/theme.ts';
import { useShownUnits } from '../ui/units.ts';
import { useMember, wordingOf } from './memberContext.ts';
import { useLinkLive } from './useLive.ts';

const alike = (a: readonly LiveChannel[], b: readonly LiveChannel[]): boolean =>
  a.length === b.length &&
  a.every(({ id, label, unit }, k) => id === b[k]?.id && label === b[k].label && unit === b[k].unit);

const none: readonly LiveChannel[] = [];

/** What the connected device reads, as it describes it; each reading follows its own value. */
export function LiveReadings() {
  const channels = useAppSelector((state) => linkLive(state)?.readings.channels ?? none, alike);
  return (
    <Box
      aria-label="Readings"
      role="group"
      sx={{ display: 'grid', gridTemplateColumns: '1fr auto auto', columnGap: 1, fontSize: 13, my: 0.5 }}
    >
      {channels.map((channel) => (
        <Reading key={channel.id} channel={channel} />
      ))}
    </Box>
  );
}

/** In inches one decimal more is shown of a length. */
const shownWith = (
  live: LinkLive | undefined,
  { id, unit, decimals }: LiveChannel,
  units: ReturnType<typeof useShownUnits>,
): string => {
  const value = live?.readings.values[id];
  if (value === undefined) return '—';
  const isInches = units.unit === 'in' && unit.startsWith('{u}');
  return units.shown(value, unit).toFixed(isInches ? decimals + 1 : decimals);
};

function Reading({ channel }: { readonly channel: LiveChannel }) {
  const units = useShownUnits(wordingOf(useMember()));
  const text = useLinkLive((live) => shownWith(live, channel, units));
  return (
    <>
      <span>{channel.label}</span>
      <Box component="span" sx={{ fontFamily: numberFace, textAlign: 'right' }}>
        {text}
      </Box>
      <Box component="span" sx={{ color: 'text.secondary', minWidth: 34 }}>
        {units.name(channel.unit)}
      </Box>
    </>
  );
}
