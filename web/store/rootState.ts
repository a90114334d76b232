import { combineReducers, type ThunkAction, type UnknownAction } from '@reduxjs/toolkit';
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

/** What thunks of one store share: the saves under way, by axis. */
export interface Shared {
  readonly saves: Map<string, Promise<void>>;
}
export type AppThunk<R = void> = ThunkAction<R, RootState, Shared, UnknownAction>;
