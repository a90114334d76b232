import { useEffect, useRef, type RefObject } from 'react';

const clock = new Intl.DateTimeFormat(undefined, { timeStyle: 'medium' });

/**
 * Time at which a value last changed while this page was open; a dash until then. The hook writes it into the cell directly, so that
 * a change renders its row once. An unknown value does not count as a change.
 */
export function useChangeTime(value: string | undefined): RefObject<HTMLTableCellElement | null> {
  const cell = useRef<HTMLTableCellElement>(null);
  const before = useRef<string>(undefined);
  useEffect(() => {
    if (!cell.current) return;
    if (cell.current.textContent === '') cell.current.textContent = '—';
    if (value === undefined || before.current === value) return;
    if (before.current !== undefined) cell.current.textContent = clock.format(Date.now());
    before.current = value;
  }, [value]);
  return cell;
}
