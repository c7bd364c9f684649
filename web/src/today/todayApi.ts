import type { TodayView } from '@kiraku/core/contract';
import { api } from '../app/api.js';

export const todayApi = api.injectEndpoints({
  endpoints: (build) => ({
    today: build.query<TodayView, null>({ query: () => 'today', providesTags: ['Today'] }),
    putOff: build.mutation<undefined, { personId: number; until: number | null }>({
      query: ({ personId, until }) => ({ url: `people/${personId}/put-off`, method: 'PUT', body: { until } }),
      invalidatesTags: ['Today'],
    }),
    dismiss: build.mutation<undefined, { personId: number; dismissed: boolean }>({
      query: ({ personId, dismissed }) => ({ url: `people/${personId}/dismissed`, method: 'PUT', body: { dismissed } }),
      invalidatesTags: ['Today'],
    }),
  }),
});

export const { useTodayQuery, usePutOffMutation, useDismissMutation } = todayApi;
