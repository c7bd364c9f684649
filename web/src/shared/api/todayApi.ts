import type { TodayView, SnoozePersonRequest, ResolvePersonRequest } from '@kiraku/core/contract';
import { api } from './api.js';

export const todayApi = api.injectEndpoints({
  endpoints: (build) => ({
    today: build.query<TodayView, null>({ query: () => 'today', providesTags: ['Today'] }),
    snooze: build.mutation<undefined, SnoozePersonRequest & { personId: number }>({
      query: ({ personId, until }) => ({ url: `people/${personId}/snooze`, method: 'PUT', body: { until } }),
      invalidatesTags: ['Today'],
    }),
    resolve: build.mutation<undefined, ResolvePersonRequest & { personId: number }>({
      query: ({ personId, resolved }) => ({ url: `people/${personId}/resolved`, method: 'PUT', body: { resolved } }),
      invalidatesTags: ['Today'],
    }),
  }),
});

export const { useTodayQuery, useSnoozeMutation, useResolveMutation } = todayApi;
