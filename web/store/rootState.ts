import { combineReducers, type ThunkAction, type UnknownAction } from '@reduxjs/toolkit';
import type { withUnread } from '@kavrid/contract';
import { api } from './api.ts';
import { drafts } from './drafts.ts';
import { live } from './live.ts';
import { preferences } from './preferences.ts';

export const rootReducer = combineReducers({
  [api.reducerPath]: api.reducer,
  drafts: drafts.reducer,
  live: live.reducer,
  preferences: preferences.reducer,
});
export type RootState = ReturnType<typeof rootReducer>;

/** What thunks of one store share. */
export interface Shared {
  /** The saves under way, by axis or spindle. */
  readonly saves: Map<string, Promise<void>>;
  /** What a save needs of the reading of documents; it comes with the first axis or spindle on screen. */
  withUnread: typeof withUnread | undefined;
}
export type AppThunk<R = void> = ThunkAction<R, RootState, Shared, UnknownAction>;
