import type {
  ResolvePersonRequest,
  ResolveRecipientsRequest,
  SnoozePersonRequest,
  TodayView,
} from '@kiraku/core/contract';
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
    resolveRecipients: build.mutation<undefined, ResolveRecipientsRequest>({
      query: (body) => ({ url: 'people/resolved', method: 'PUT', body }),
      invalidatesTags: ['Today'],
    }),
  }),
});

export const { useTodayQuery, useSnoozeMutation, useResolveMutation, useResolveRecipientsMutation } = todayApi;
