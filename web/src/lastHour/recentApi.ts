import { original } from '@reduxjs/toolkit';
import { MAX_RECENT_EVENTS, type LiveUpdate, type RecentEvents } from '@kiraku/core/contract';
import { api } from '../app/api.js';
import type { AppDispatch } from '../app/store.js';

export const recentApi = api.injectEndpoints({
  endpoints: (build) => ({
    recent: build.query<RecentEvents, null>({ query: () => 'events/recent', providesTags: ['Recent'] }),
  }),
});

export const { useRecentQuery } = recentApi;

/** Adds events of a push to the last hour, and revises those whose verdict has changed. */
export const addToRecent =
  (update: Pick<LiveUpdate, 'events' | 'corrected'>) =>
  (dispatch: AppDispatch): void => {
    if (update.events.length + update.corrected.length === 0) return;
    dispatch(added(update));
    // A response that was made before the push, and arrives after it, must not undo it.
    void dispatch(recentApi.util.getRunningQueryThunk('recent', null))?.then(() => dispatch(added(update)));
  };

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
