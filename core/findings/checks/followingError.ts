import { formatNumber } from '../../quantity/index.ts';
import { valueOf } from '../../sheet/index.ts';
import { when, type Check } from '../finding.ts';

export const lagTrips: Check = ({ input, results, quantity }) => {
  const [lag, share, window] = [
    valueOf(results.steadyLag),
    valueOf(results.lagShare),
    valueOf(results.followingErrorWindow),
  ];
  if (lag === undefined || share === undefined || window === undefined) return [];
  const isOutside = 'range' in input.command && input.command.hostLoop !== undefined;
  return when(share > 50, {
    id: share > 100 ? 'lagTrips' : 'lagNearAlarm',
    severity: share > 100 ? 'stop' : 'warn',
    station: isOutside ? 'controller' : 'drive',
    path: isOutside ? '/command/loop/errorLimit' : '/settings/followingErrorWindow',
    message: `At the wanted speed the position gain ${isOutside ? 'alone gives' : 'and feedforward alone give'} a following error of ${quantity(lag, '{u}')}, ${formatNumber(share, 3)} % of the following-error window of ${quantity(window, '{u}')}.`,
    remedy: 'Raise the feedforward or the gain, widen the window, or lower the speed.',
  });
};
