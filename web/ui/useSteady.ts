import { useCallback, useInsertionEffect, useRef } from 'react';

/** A handler that stays the same function from render to render and always does what the newest one does. */
export function useSteady<A extends readonly unknown[]>(handler: (...given: A) => void): (...given: A) => void {
  const newest = useRef(handler);
  useInsertionEffect(() => {
    newest.current = handler;
  });
  return useCallback((...given: A) => newest.current(...given), []);
}
