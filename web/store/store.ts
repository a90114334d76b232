import { configureStore, type ThunkAction, type UnknownAction } from '@reduxjs/toolkit';
import { useDispatch, useSelector } from 'react-redux';
import { api } from './api.ts';
import { drafts } from './drafts.ts';
import { live } from './live.ts';
import { preferences } from './preferences.ts';

export const store = configureStore({
  reducer: {
    [api.reducerPath]: api.reducer,
    drafts: drafts.reducer,
    live: live.reducer,
    preferences: preferences.reducer,
  },
  middleware: (defaults) => defaults({ serializableCheck: false, immutableCheck: false }).concat(api.middleware),
});

export type RootState = ReturnType<typeof store.getState>;
export type AppThunk<R = void> = ThunkAction<R, RootState, unknown, UnknownAction>;
export const useAppDispatch = useDispatch.withTypes<typeof store.dispatch>();
export const useAppSelector = useSelector.withTypes<RootState>();
