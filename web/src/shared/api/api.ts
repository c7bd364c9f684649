import { createApi, fetchBaseQuery, type FetchBaseQueryError } from '@reduxjs/toolkit/query/react';
import type { SerializedError, ThunkDispatch, UnknownAction } from '@reduxjs/toolkit';
import type { Page, Problem } from '@kiraku/core/contract';

const TAGS = [
  'Session',
  'Sessions',
  'Sending',
  'Writing',
  'Signatures',
  'Templates',
  'Submission',
  'Dkim',
  'Drafts',
  'Files',
  'FilesSettings',
  'Readings',
  'Networks',
  'SummarySettings',
  'Sent',
  'Message',
  'Recent',
  'Outbox',
  'Judging',
  'Progress',
  'Privacy',
  'Person',
  'Views',
  'Today',
  'Notifications',
  'Push',
  'People',
  'Followups',
  'Backup',
  'History',
  'Checkup',
  'Codes',
  'Passkeys',
  'Calendar',
  'Mailbox',
  'Refused',
  'Rounds',
] as const;

/** The server's data. Each feature adds its own endpoints beside its components. */
export const api = createApi({
  baseQuery: fetchBaseQuery({ baseUrl: '/api' }),
  tagTypes: TAGS,
  keepUnusedDataFor: 300,
  endpoints: () => ({}),
});

/** Forgets all that was read and is not shown, but who has signed in. */
export const forgetRead = () => api.util.invalidateTags(TAGS.filter((tag) => tag !== 'Session'));

/** The part of the store where the server’s data is, and what may be dispatched to it. */
export type ApiState = { [api.reducerPath]: ReturnType<typeof api.reducer> };
export type ApiDispatch = ThunkDispatch<ApiState, undefined, UnknownAction>;

/** How long lists are read on: each page says where the next one begins. */
export const PAGED = {
  initialPageParam: '',
  getNextPageParam: ({ nextCursor }: Page) => nextCursor ?? undefined,
};

export type QueryError = FetchBaseQueryError | SerializedError;

/** What went wrong, in words: the server's own where it responded. */
export function problemOf(error: QueryError): Pick<Problem, 'title' | 'detail' | 'status' | 'errors'> {
  if ('status' in error && isProblem(error.data)) return error.data;
  const offline = 'status' in error && error.status === 'FETCH_ERROR';
  return offline
    ? {
        title: 'Kiraku cannot be reached',
        detail: 'Is it still running? You see what was known last.',
        status: 0,
      }
    : { title: 'Something went wrong', detail: 'Load the page again, and repeat it.', status: 0 };
}

function isProblem(data: unknown): data is Problem {
  return typeof data === 'object' && data !== null && 'detail' in data && 'title' in data;
}
