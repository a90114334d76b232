import { configureStore, type ThunkAction, type UnknownAction } from '@reduxjs/toolkit';
import { useDispatch, useSelector } from 'react-redux';
import { api } from './api.ts';
import { autosave } from './autosave.ts';
import { drafts } from './drafts.ts';
import { live } from './live.ts';
import { preferences } from './preferences.ts';

/** What thunks of one store share: the saves under way, by axis. */
export interface Shared {
  readonly saves: Map<string, Promise<void>>;
}

export const makeStore = () => {
  const shared: Shared = { saves: new Map() };
  return configureStore({
    reducer: {
      [api.reducerPath]: api.reducer,
      drafts: drafts.reducer,
      live: live.reducer,
      preferences: preferences.reducer,
    },
    middleware: (defaults) =>
      defaults({ serializableCheck: false, thunk: { extraArgument: shared } })
        .prepend(autosave())
        .concat(api.middleware),
  });
};

export type Store = ReturnType<typeof makeStore>;
export type RootState = ReturnType<Store['getState']>;
export type AppDispatch = Store['dispatch'];
export type AppThunk<R = void> = ThunkAction<R, RootState, Shared, UnknownAction>;
export const useAppDispatch = useDispatch.withTypes<AppDispatch>();
export const useAppSelector = useSelector.withTypes<RootState>();
