import { original } from '@reduxjs/toolkit';
import { MAX_RECENT_EVENTS, type LiveUpdate, type RecentEvents } from '@kiraku/core/contract';
import { api } from './api.js';
import { onPushed } from './pushed.js';

export const recentApi = api.injectEndpoints({
  endpoints: (build) => ({
    recent: build.query<RecentEvents, null>({
      query: () => 'events/recent',
      providesTags: ['Recent'],
      /** Events of a push are added, and those whose verdict has changed are revised. */
      async onCacheEntryAdded(_arg, { dispatch, cacheEntryRemoved }) {
        const stop = onPushed((update) => {
          if (update.events.length + update.corrected.length === 0) return;
          dispatch(added(update));
          // A response that was made before the push, and arrives after it, must not undo it.
          void dispatch(recentApi.util.getRunningQueryThunk('recent', null))?.then(() => dispatch(added(update)));
        });
        await cacheEntryRemoved;
        stop();
      },
    }),
  }),
});

export const { useRecentQuery } = recentApi;

const added = ({ events, corrected }: Pick<LiveUpdate, 'events' | 'corrected'>) =>
  recentApi.util.updateQueryData('recent', null, (draft) => {
    const before = original(draft) as RecentEvents;
    const known = new Set(before.events.map((event) => event.eventId));
    const revised = new Map(corrected.map((event) => [event.eventId, event]));
    const all = [
      ...before.events.map((event) => revised.get(event.eventId) ?? event),
      ...events.filter((event) => !known.has(event.eventId)),
    ];
    const leftOut = Math.max(0, all.length - MAX_RECENT_EVENTS);
    return { events: all.slice(leftOut), leftOut: before.leftOut + leftOut };
  });
