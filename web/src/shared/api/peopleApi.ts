import type {
  Duplicates,
  CompanyRow,
  ImportReport,
  PeopleOrder,
  PeoplePage,
  PersonReading,
  MergeRequest,
  ImportRequest,
} from '@kiraku/core/contract';
import { api, PAGED } from './api.js';

export interface PeopleQuery {
  words: string;
  order: PeopleOrder;
}

/** What shows people, and what names them. */
const NAMED = ['People', 'Person', 'Message', 'Sent', 'Today'] as const;

export const peopleApi = api.injectEndpoints({
  endpoints: (build) => ({
    directory: build.infiniteQuery<PeoplePage, PeopleQuery, string>({
      query: ({ queryArg: { words, order }, pageParam }) => ({
        url: 'people/directory',
        params: { words, order, ...(pageParam !== '' && { cursor: pageParam }) },
      }),
      infiniteQueryOptions: PAGED,
      providesTags: ['People'],
    }),
    companies: build.query<CompanyRow[], string>({
      query: (words) => `people/companies?${new URLSearchParams({ words })}`,
      providesTags: ['People'],
    }),
    duplicates: build.query<Duplicates[], null>({ query: () => 'people/duplicates', providesTags: ['People'] }),
    reading: build.query<PersonReading, number>({
      query: (id) => `people/${id}/reading`,
      providesTags: ['Person', 'Sent'],
    }),
    merge: build.mutation<undefined, MergeRequest & { id: number }>({
      query: ({ id, into }) => ({ url: `people/${id}/merge`, method: 'POST', body: { into } }),
      invalidatesTags: (_result, error) => (error ? [] : [...NAMED]),
    }),
    unmerge: build.mutation<undefined, MergeRequest & { id: number }>({
      query: ({ id, into }) => ({ url: `people/${id}/unmerge`, method: 'POST', body: { into } }),
      invalidatesTags: (_result, error) => (error ? [] : [...NAMED]),
    }),
    importPeople: build.mutation<ImportReport, ImportRequest>({
      query: (body) => ({ url: 'people/import', method: 'POST', body }),
      invalidatesTags: (result) => (result?.applied ? [...NAMED] : []),
    }),
    undoImport: build.mutation<{ removed: number }, null>({
      query: () => ({ url: 'people/import/undo', method: 'POST' }),
      invalidatesTags: [...NAMED],
    }),
  }),
});

export const {
  useDirectoryInfiniteQuery,
  useCompaniesQuery,
  useDuplicatesQuery,
  useReadingQuery,
  useMergeMutation,
  useUnmergeMutation,
  useImportPeopleMutation,
  useUndoImportMutation,
} = peopleApi;
