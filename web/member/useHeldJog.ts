import { useEffect, useRef } from 'react';
import { beginJog, endJog } from '../store/liveLine.ts';
import { useAppDispatch } from '../store/store.ts';
import { useSteady } from '../ui/useSteady.ts';

/**
 * One jog that lasts as long as something is held: a window that loses the focus, or is left, ends it.
 * @param onEnd called at every end, also where no jog was under way
 */
export function useHeldJog(onEnd?: () => void) {
  const dispatch = useAppDispatch();
  const press = useRef<number | undefined>(undefined);
  const end = useSteady(() => {
    onEnd?.();
    if (press.current === undefined) return;
    dispatch(endJog(press.current));
    press.current = undefined;
  });
  /** @returns the number of the press; undefined: one is under way, or the line is closed */
  const begin = (order: Parameters<typeof beginJog>[0]): number | undefined => {
    if (press.current !== undefined) return undefined;
    press.current = dispatch(beginJog(order));
    return press.current;
  };
  useEffect(() => {
    window.addEventListener('blur', end);
    return () => {
      window.removeEventListener('blur', end);
      end();
    };
  }, [end]);
  return { begin, end };
}
