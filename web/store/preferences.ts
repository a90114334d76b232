import type { Lengths } from '@kavrid/contract';
import { createSlice, type PayloadAction } from '@reduxjs/toolkit';

export interface Preferences {
  readonly mode: 'light' | 'dark';
  readonly lengths: Lengths;
  /** Whose saves these are; empty until given. */
  readonly author: string;
}

const place = 'kavrid.preferences';

function read(): Preferences {
  try {
    const kept = JSON.parse(localStorage.getItem(place) ?? '{}') as Partial<Preferences>;
    const prefersDark = matchMedia('(prefers-color-scheme: dark)').matches;
    return {
      mode: kept.mode === 'dark' || (kept.mode === undefined && prefersDark) ? 'dark' : 'light',
      lengths: kept.lengths === 'inch' ? 'inch' : 'metric',
      author: typeof kept.author === 'string' ? kept.author.slice(0, 80) : '',
    };
  } catch {
    return { mode: 'light', lengths: 'metric', author: '' };
  }
}

/** Kept in this browser only; nothing that is saved depends on them. */
export const preferences = createSlice({
  name: 'preferences',
  initialState: read,
  reducers: {
    preferencesChanged(state, { payload }: PayloadAction<Partial<Preferences>>) {
      Object.assign(state, payload);
      try {
        localStorage.setItem(place, JSON.stringify(state));
      } catch {
        // Without storage the choice lasts as long as the window.
      }
    },
  },
});
export const { preferencesChanged } = preferences.actions;
