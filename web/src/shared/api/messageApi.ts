import {
  EVENTS_PER_PAGE,
  type ChartEvent,
  type HistoryFilter,
  type HistoryPage,
  type HistoryScope,
  type MessageDetail,
  type MessageSummary,
} from '@kiraku/core/contract';
import { api, PAGED } from './api.js';
import { onPushed } from './pushed.js';

export const messageApi = api.injectEndpoints({
  endpoints: (build) => ({
    message: build.query<MessageDetail, number>({
      query: (id) => `messages/${id}`,
      providesTags: (_result, _error, id) => ['Message', { type: 'Message', id }],
    }),
    saveNote: build.mutation<undefined, { id: number; note: string }>({
      query: ({ id, note }) => ({ url: `messages/${id}/note`, method: 'PUT', body: { note } }),
    }),
    history: build.infiniteQuery<HistoryPage, HistoryFilter & { id: number }, string>({
      query: ({ queryArg: { id, ...filter }, pageParam }) =>
        `messages/${id}/events?${new URLSearchParams([
          ...Object.entries(filter).flatMap(([name, value]): [string, string][] =>
            value === null ? [] : [[name, String(value)]],
          ),
          ['limit', String(EVENTS_PER_PAGE)],
          ...(pageParam === '' ? [] : [['cursor', pageParam] as [string, string]]),
        ])}`,
      infiniteQueryOptions: PAGED,
      providesTags: (_result, _error, { id }) => ['Message', { type: 'Message', id }],
    }),
    chart: build.query<ChartEvent[], { id: number; scope: HistoryScope }>({
      query: ({ id, scope }) => `messages/${id}/chart?scope=${scope}`,
      providesTags: (_result, _error, { id }) => ['Message', { type: 'Message', id }],
    }),
    conversation: build.query<MessageSummary[], number>({
      query: (id) => `messages/${id}/conversation`,
      providesTags: (_result, _error, id) => ['Message', { type: 'Message', id }],
    }),
  }),
});

export const { useMessageQuery, useSaveNoteMutation, useHistoryInfiniteQuery, useChartQuery, useConversationQuery } =
  messageApi;

// Messages that are open are loaded again when something happened to them, or to their conversation.
onPushed(({ messages }, { dispatch, getState }) => {
  const changed = new Set(messages.map((row) => row.id));
  const shown = messageApi.util.selectCachedArgsForQuery(getState(), 'message');
  const concerned = shown.filter((id) => {
    const { data } = messageApi.endpoints.conversation.select(id)(getState());
    return changed.has(id) || data?.some((row) => changed.has(row.id));
  });
  if (concerned.length > 0)
    dispatch(api.util.invalidateTags(concerned.map((id) => ({ type: 'Message' as const, id }))));
});
