import type { JudgingProgress, JudgingView, OverrideRequest } from '@kiraku/core/contract';
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
  useSetOverrideMutation,
} = judgingApi;
