import type { BenchState, LinkLive } from '@kavrid/contract';
import { useEffect } from 'react';
import { useLinkLive } from '../member/useLive.ts';
import { command } from '../store/liveLine.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';

// A drive that does not answer any more, by one of its faults, is still on the bench: what counts is that it was connected.

const isConnected = (live: LinkLive | undefined) => live !== undefined && live.link !== 'off';

/** Whether a bench answers where the drive is linked; asked once for each connection. */
export function useHasBench(): boolean {
  const dispatch = useAppDispatch();
  const isUp = useLinkLive((live) => live?.link === 'up');
  const isLinked = useLinkLive(isConnected);
  useEffect(() => {
    if (isUp) dispatch(command({ type: 'readBench' }));
  }, [isUp, dispatch]);
  const isThere = useAppSelector(({ live }) => live.bench !== undefined);
  return isLinked && isThere;
}

/** ms between two looks at the bench while its page is open */
const lookTime = 500;

/** How the bench stands, looked at again and again. */
export function useBenchState(): BenchState | undefined {
  const dispatch = useAppDispatch();
  const isLinked = useLinkLive(isConnected);
  useEffect(() => {
    if (!isLinked) return undefined;
    dispatch(command({ type: 'readBench' }));
    const timer = setInterval(() => dispatch(command({ type: 'readBench' })), lookTime);
    return () => clearInterval(timer);
  }, [isLinked, dispatch]);
  const bench = useAppSelector(({ live }) => live.bench);
  return isLinked ? bench : undefined;
}
