import { configureStore, isPlain } from '@reduxjs/toolkit';
import { useDispatch, useSelector } from 'react-redux';
import { unseenSlice } from './unseenSlice.js';
import { api } from '../api/api.js';
import { listeners, onPushed } from '../api/pushed.js';
import { keysSlice } from './keysSlice.js';
import { lightSlice } from './lightSlice.js';
import { liveSlice } from './liveSlice.js';

export const store = configureStore({
  reducer: {
    [api.reducerPath]: api.reducer,
    unseen: unseenSlice.reducer,
    light: lightSlice.reducer,
    live: liveSlice.reducer,
    keys: keysSlice.reducer,
  },
  middleware: (standard) =>
    standard({
      // Pictures and mails are sent as the files they are.
      serializableCheck: { isSerializable: (value: unknown) => isPlain(value) || value instanceof Blob },
    })
      .prepend(listeners.middleware)
      .concat(api.middleware),
});

// What is weighed, or found, at the server is asked for again.
onPushed(({ gap, draftsChanged, messages, isReminded }, { dispatch }) => {
  if (gap)
    dispatch(
      api.util.invalidateTags(['Sent', 'Message', 'Recent', 'Drafts', 'Today', 'Readings', 'Followups', 'Rounds']),
    );
  if (draftsChanged) dispatch(api.util.invalidateTags(['Drafts', 'Rounds']));
  if (messages.length > 0) dispatch(api.util.invalidateTags(['Today', 'Rounds']));
  if (messages.length > 0 || isReminded) dispatch(api.util.invalidateTags(['Followups']));
});

type RootState = ReturnType<typeof store.getState>;
type AppDispatch = typeof store.dispatch;
export const useAppDispatch = useDispatch.withTypes<AppDispatch>();
export const useAppSelector = useSelector.withTypes<RootState>();
