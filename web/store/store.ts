import { configureStore } from '@reduxjs/toolkit';
import { useDispatch, useSelector } from 'react-redux';
import { api } from './api.ts';
import { autosave } from './autosave.ts';
import { liveLine, type LineDispatch } from './liveLine.ts';
import { rootReducer, type RootState, type Shared } from './rootState.ts';

export const makeStore = () => {
  const shared: Shared = { saves: new Map(), withUnread: undefined };
  return configureStore({
    reducer: rootReducer,
    middleware: (defaults) =>
      defaults({ serializableCheck: false, thunk: { extraArgument: shared } })
        .prepend(autosave())
        .concat(liveLine(), api.middleware),
  });
};

export type Store = ReturnType<typeof makeStore>;
/** The line’s answers come before those of actions. */
export type AppDispatch = LineDispatch & Store['dispatch'];
export const useAppDispatch = useDispatch.withTypes<AppDispatch>();
export const useAppSelector = useSelector.withTypes<RootState>();
