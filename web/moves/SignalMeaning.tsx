import { axisWords, signalUnitOf } from '@kavrid/core/chain';
import { toNumber } from '@kavrid/core/quantity';
import { valueOf } from '@kavrid/core/sheet';
import { Box } from '@mui/material';
import { useAxis } from '../member/useAxis.ts';
import { useAxisLive } from '../member/useLive.ts';
import { numberFace } from '../ui/theme.ts';

/** What the signal that the drive reads commands, by the planned scale; nothing where the drive does not tell its signal. */
export function SignalMeaning() {
  const { input, results } = useAxis().computation;
  const unit = signalUnitOf(input.command);
  const [gain, zero] = [valueOf(results.signalGain), valueOf(results.signalAtZero)];
  const signal = useAxisLive((live) => {
    const channel = live?.readings.channels.find((each) => unit !== '' && each.unit === unit);
    return channel && live?.readings.values[channel.id];
  });
  if (signal === undefined || gain === undefined || zero === undefined) return null;
  const value = toNumber(gain) * (signal - toNumber(zero));
  return (
    <Box sx={{ display: 'flex', justifyContent: 'space-between', fontSize: 13, mb: 0.5 }}>
      <span>Analog command as planned</span>
      <Box component="span" sx={{ fontFamily: numberFace, whiteSpace: 'nowrap' }}>
        {`${value.toFixed(1)} ${axisWords('{value}', input)}`}
      </Box>
    </Box>
  );
}
