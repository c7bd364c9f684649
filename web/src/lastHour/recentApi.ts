import { original } from '@reduxjs/toolkit';
import type { LiveUpdate, RecentEvents } from '@kiraku/core/contract';
import { api } from '../app/api.js';

/** More marks than the band has room for. */
const MOST = 500;

export const recentApi = api.injectEndpoints({
  endpoints: (build) => ({
    recent: build.query<RecentEvents, null>({ query: () => 'events/recent', providesTags: ['Recent'] }),
  }),
});

export const { useRecentQuery } = recentApi;

export const addToRecent = ({ events, corrected }: Pick<LiveUpdate, 'events' | 'corrected'>) =>
  recentApi.util.updateQueryData('recent', null, (draft) => {
    if (events.length + corrected.length === 0) return undefined;
    const before = original(draft) as RecentEvents;
    const known = new Set(before.events.map((event) => event.eventId));
    const revised = new Map(corrected.map((event) => [event.eventId, event]));
    const all = [
      ...before.events.map((event) => revised.get(event.eventId) ?? event),
      ...events.filter((event) => !known.has(event.eventId)),
    ];
    const leftOut = Math.max(0, all.length - MOST);
    return { events: all.slice(leftOut), leftOut: before.leftOut + leftOut };
  });
