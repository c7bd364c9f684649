import type { HistoryImportRequest, HistoryView } from '@kiraku/core/contract';
import { api } from './api.js';

const invalidatesTags = ['History', 'People', 'Person', 'Sent'] as const;

export const historyApi = api.injectEndpoints({
  endpoints: (build) => ({
    history: build.query<HistoryView, null>({ query: () => 'history', providesTags: ['History'] }),
    addHistoryFile: build.mutation<HistoryView, { name: string; file: Blob; isMore: boolean }>({
      query: ({ name, file, isMore }) => ({
        url: 'history/files',
        method: 'PUT',
        params: { name, ...(isMore && { more: '1' }) },
        headers: { 'content-type': 'application/octet-stream' },
        body: file,
      }),
    }),
    doWithHistory: build.mutation<HistoryView, 'look' | 'mailbox' | 'stop'>({
      query: (what) => ({ url: `history/${what}`, method: 'POST' }),
      invalidatesTags: [...invalidatesTags],
    }),
    importHistory: build.mutation<HistoryView, HistoryImportRequest>({
      query: (body) => ({ url: 'history/import', method: 'POST', body }),
      invalidatesTags: [...invalidatesTags],
    }),
    undoHistory: build.mutation<HistoryView, number>({
      query: (id) => ({ url: `history/imports/${id}`, method: 'DELETE' }),
      invalidatesTags: [...invalidatesTags],
    }),
  }),
});

export const {
  useHistoryQuery,
  useAddHistoryFileMutation,
  useDoWithHistoryMutation,
  useImportHistoryMutation,
  useUndoHistoryMutation,
} = historyApi;
