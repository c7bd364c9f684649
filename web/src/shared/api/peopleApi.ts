import type {
  Duplicates,
  CompanyRow,
  ImportReport,
  PeoplePage,
  PersonReading,
  MergeRequest,
  ImportRequest,
  TagView,
} from '@kiraku/core/contract';
import { peopleFilterOf, type PeopleView } from '@kiraku/core/people';
import { api, PAGED } from './api.js';

/** What shows people, and what names them. */
const NAMED = ['People', 'Person', 'Message', 'Sent', 'Today'] as const;

export const peopleApi = api.injectEndpoints({
  endpoints: (build) => ({
    directory: build.infiniteQuery<PeoplePage, PeopleView, string>({
      query: ({ queryArg, pageParam }) => ({
        url: 'people/directory',
        params: Object.fromEntries(
          Object.entries({ ...peopleFilterOf(queryArg, Date.now()), cursor: pageParam }).filter(
            ([, value]) => value !== '' && value !== null,
          ),
        ),
      }),
      infiniteQueryOptions: PAGED,
      providesTags: ['People'],
    }),
    tags: build.query<TagView[], null>({ query: () => 'people/tags', providesTags: ['People'] }),
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
  useTagsQuery,
  useCompaniesQuery,
  useDuplicatesQuery,
  useReadingQuery,
  useMergeMutation,
  useUnmergeMutation,
  useImportPeopleMutation,
  useUndoImportMutation,
} = peopleApi;
