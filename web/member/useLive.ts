import type { LinkLive, LiveState, SpindleLive } from '@kavrid/contract';
import { shallowEqual } from 'react-redux';
import { linkLive } from '../store/live.ts';
import { useAppSelector } from '../store/store.ts';

// Live state comes twenty times a second: who asks for some of it is redrawn only when that has changed.

/** Some of what is known of the drive of the axis on screen; its fields are compared one by one. */
export const useAxisLive = <T>(some: (live: LiveState | undefined) => T): T =>
  useAppSelector(({ live }) => some(live.live), shallowEqual);

/** The same of a spindle. */
export const useSpindleLive = <T>(some: (live: SpindleLive | undefined) => T): T =>
  useAppSelector(({ live }) => some(live.spindle), shallowEqual);

/** The same of either. */
export const useLinkLive = <T>(some: (live: LinkLive | undefined) => T): T =>
  useAppSelector((state) => some(linkLive(state)), shallowEqual);

/** Whether this window may act on the drive: it is the right one, not held elsewhere, and not only watched. */
export const mayActOn = (live: LinkLive | undefined): boolean =>
  live?.holder !== 'another window' && !live?.isWatchOnly && live?.identity?.isConfirmed === true;
