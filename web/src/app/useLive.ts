import { useEffect } from 'react';
import { useDispatch } from 'react-redux';
import type { LiveUpdate } from '@kiraku/core/contract';
import { addToReadings } from '../files/filesApi.js';
import { addToRecent } from '../lastHour/recentApi.js';
import { addToMessages } from '../message/messageApi.js';
import { addToSent } from '../sent/sentApi.js';
import { api } from './api.js';
import { listenLive } from './live.js';
import { liveSlice } from './liveSlice.js';
import type { AppDispatch } from './store.js';

/** Keeps everything that is shown up to date from the live stream, and passes each push on. */
export function useLive(onUpdate: (update: LiveUpdate) => void): void {
  const dispatch = useDispatch<AppDispatch>();
  useEffect(
    () =>
      listenLive({
        onState: (state) => dispatch(liveSlice.actions.changed(state)),
        onUpdate: (update) => {
          if (update.gap)
            dispatch(
              api.util.invalidateTags(['Sent', 'Message', 'Recent', 'Drafts', 'Today', 'Readings', 'Followups']),
            );
          if (update.draftsChanged) dispatch(api.util.invalidateTags(['Drafts']));
          void dispatch(addToSent(update.messages));
          // Whom it concerns and how much is weighed at the server.
          if (update.messages.length > 0) dispatch(api.util.invalidateTags(['Today']));
          if (update.messages.length > 0 || update.isReminded) dispatch(api.util.invalidateTags(['Followups']));
          dispatch(addToMessages(update));
          dispatch(addToReadings(update));
          dispatch(addToRecent(update));
          onUpdate(update);
        },
      }),
    [dispatch, onUpdate],
  );
}
