import { useState } from 'react';

const placeOf = (key: string) => `kavrid.kept.${key}`;

/**
 * A state that outlives the window: kept in this browser under its key, from the first change until it is forgotten.
 * @returns the value, a way to change it, and a way to forget what is kept
 */
export function useKept<T>(key: string, initial: T): [T, (next: T) => void, () => void] {
  const [value, setValue] = useState<T>(() => {
    try {
      const kept = localStorage.getItem(placeOf(key));
      return kept === null ? initial : (JSON.parse(kept) as T);
    } catch {
      return initial;
    }
  });
  const change = (next: T) => {
    setValue(next);
    try {
      localStorage.setItem(placeOf(key), JSON.stringify(next));
    } catch {
      // Without storage it lasts as long as the window.
    }
  };
  return [value, change, () => localStorage.removeItem(placeOf(key))];
}
