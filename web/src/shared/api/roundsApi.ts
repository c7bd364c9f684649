import type {
  AddRoundRequest,
  LeaveOutRequest,
  RoundRecipients,
  RoundRow,
  RoundView,
  SaveRoundRequest,
} from '@kiraku/core/contract';
import type { RoundMove } from '@kiraku/core/rounds';
import { api } from './api.js';

/** What changes a round returns all of it. */
export const roundsApi = api.injectEndpoints({
  endpoints: (build) => ({
    rounds: build.query<RoundRow[], null>({ query: () => 'rounds', providesTags: ['Rounds'] }),
    round: build.query<RoundView, number>({ query: (id) => `rounds/${id}`, providesTags: ['Rounds'] }),
    addRound: build.mutation<RoundView, AddRoundRequest>({
      query: (body) => ({ url: 'rounds', method: 'POST', body }),
      invalidatesTags: ['Rounds', 'Drafts'],
    }),
    saveRound: build.mutation<RoundView, SaveRoundRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `rounds/${id}`, method: 'PUT', body }),
      invalidatesTags: ['Rounds'],
    }),
    removeRound: build.mutation<undefined, number>({
      query: (id) => ({ url: `rounds/${id}`, method: 'DELETE' }),
      invalidatesTags: (_result, error) => (error ? ['Rounds'] : []),
    }),
    addToRound: build.mutation<RoundView, RoundRecipients & { id: number }>({
      query: ({ id, ...body }) => ({ url: `rounds/${id}/recipients`, method: 'POST', body }),
      invalidatesTags: ['Rounds'],
    }),
    leaveOut: build.mutation<RoundView, LeaveOutRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `rounds/${id}/leave-out`, method: 'POST', body }),
      invalidatesTags: ['Rounds'],
    }),
    moveRound: build.mutation<RoundView, { id: number; move: RoundMove }>({
      query: ({ id, move }) => ({ url: `rounds/${id}/${move}`, method: 'POST' }),
      invalidatesTags: ['Rounds'],
    }),
    chooseRest: build.mutation<RoundView, { id: number; wording: number }>({
      query: ({ id, wording }) => ({ url: `rounds/${id}/rest`, method: 'POST', body: { wording } }),
      invalidatesTags: ['Rounds'],
    }),
  }),
});

export const {
  useRoundsQuery,
  useRoundQuery,
  useAddRoundMutation,
  useSaveRoundMutation,
  useRemoveRoundMutation,
  useAddToRoundMutation,
  useLeaveOutMutation,
  useMoveRoundMutation,
  useChooseRestMutation,
} = roundsApi;
