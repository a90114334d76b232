import { useEffect, useRef, useState } from 'react';

/** When a value last changed while this page was open; a dash until then. What is not known changes nothing. */
export function useChangeTime(value: string | undefined): string {
  const before = useRef(value);
  const [time, setTime] = useState('—');
  useEffect(() => {
    if (value === undefined || before.current === value) return;
    const isFirst = before.current === undefined;
    before.current = value;
    if (!isFirst) setTime(new Date().toLocaleTimeString());
  }, [value]);
  return time;
}
