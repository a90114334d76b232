import type { LinkLive } from '@kavrid/contract';

/** Whether this window may move the drive now: it is enabled from here, idle, and not held elsewhere. */
export const isReady = (live: LinkLive | undefined): boolean =>
  live?.deviceState === 'operation enabled' &&
  live.activity === 'idle' &&
  !live.isWatchOnly &&
  live.holder !== 'another window';
