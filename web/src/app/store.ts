import { configureStore } from '@reduxjs/toolkit';
import { useDispatch, useSelector } from 'react-redux';
import { unseenSlice } from '../notifications/unseenSlice.js';
import { api } from './api.js';
import { lightSlice } from './lightSlice.js';
import { liveSlice } from './liveSlice.js';

export const store = configureStore({
  reducer: {
    [api.reducerPath]: api.reducer,
    unseen: unseenSlice.reducer,
    light: lightSlice.reducer,
    live: liveSlice.reducer,
  },
  middleware: (standard) => standard({ serializableCheck: false, immutableCheck: false }).concat(api.middleware),
});

export type RootState = ReturnType<typeof store.getState>;
export type AppDispatch = typeof store.dispatch;
export const useAppDispatch = useDispatch.withTypes<AppDispatch>();
export const useAppSelector = useSelector.withTypes<RootState>();
