import type {
  JudgingProgress,
  JudgingView,
  NetworkKind,
  NetworkPage,
  OverrideRequest,
  SimilarHits,
} from '@kiraku/core/contract';
import { api } from './api.js';

export type JudgingForm = JudgingView & { thisNetwork: string };

export const judgingApi = api.injectEndpoints({
  endpoints: (build) => ({
    judging: build.query<JudgingForm, null>({ query: () => 'settings/judging', providesTags: ['Judging'] }),
    saveJudging: build.mutation<JudgingForm, JudgingView>({
      query: (body) => ({ url: 'settings/judging', method: 'PUT', body }),
      invalidatesTags: (_result, error) => (error ? [] : ['Judging']),
    }),
    ownBrowser: build.mutation<{ url: string }, null>({
      query: () => ({ url: 'settings/own-browser', method: 'POST' }),
    }),
    judgingProgress: build.query<{ progress: JudgingProgress | null }, null>({
      query: () => 'rejudge',
      providesTags: ['Progress'],
    }),
    rejudge: build.mutation<{ progress: JudgingProgress }, null>({
      query: () => ({ url: 'rejudge', method: 'POST' }),
      invalidatesTags: ['Progress'],
    }),
    networks: build.infiniteQuery<NetworkPage, null, string | null>({
      query: ({ pageParam }) => ({ url: 'settings/networks', params: pageParam === null ? {} : { cursor: pageParam } }),
      infiniteQueryOptions: { initialPageParam: null, getNextPageParam: ({ nextCursor }) => nextCursor ?? undefined },
      providesTags: ['Networks'],
    }),
    nameNetwork: build.mutation<undefined, { id: number; namedAs: NetworkKind | null }>({
      query: ({ id, namedAs }) => ({ url: `settings/networks/${id}`, method: 'PUT', body: { namedAs } }),
      invalidatesTags: ['Networks'],
    }),
    forgetNetwork: build.mutation<undefined, number>({
      query: (id) => ({ url: `settings/networks/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Networks'],
    }),
    similar: build.query<SimilarHits, number>({ query: (eventId) => `events/${eventId}/similar` }),
    setOverrides: build.mutation<undefined, OverrideRequest & { eventIds: number[] }>({
      query: (body) => ({ url: 'events/override', method: 'PUT', body }),
    }),
    setOverride: build.mutation<undefined, OverrideRequest & { eventId: number }>({
      query: ({ eventId, counted }) => ({ url: `events/${eventId}/override`, method: 'PUT', body: { counted } }),
    }),
  }),
});

export const {
  useJudgingQuery,
  useSaveJudgingMutation,
  useOwnBrowserMutation,
  useJudgingProgressQuery,
  useRejudgeMutation,
  useNetworksInfiniteQuery,
  useNameNetworkMutation,
  useForgetNetworkMutation,
  useLazySimilarQuery,
  useSetOverridesMutation,
  useSetOverrideMutation,
} = judgingApi;
