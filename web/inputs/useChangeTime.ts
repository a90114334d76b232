import { useEffect, useRef, type RefObject } from 'react';

const clock = new Intl.DateTimeFormat(undefined, { timeStyle: 'medium' });

/**
 * When a value last changed while this page was open, written into the cell by itself, so that a change draws its row once;
 * a dash until then. What is not known changes nothing.
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
