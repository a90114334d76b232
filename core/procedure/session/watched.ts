import type { Turn } from './turn.ts';

/** Why nothing is done at a drive that others have switched on. */
export const onlyWatched = 'The drive is enabled by its terminals or by another master. It is only watched from here.';

/** Why nothing moves while the drive is slow to report. */
export const tooSlow = ({ state: { timing } }: Turn): string =>
  `The drive does not report its state within ${timing.stale} ms, so motion is refused.`;
