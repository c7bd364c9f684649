import { original } from '@reduxjs/toolkit';
import type { InfiniteData } from '@reduxjs/toolkit/query';
import {
  MAX_LIST_IDS,
  type ListTotals,
  type MessagePage,
  type MessageSummary,
  type SavedView,
  type ListAction,
} from '@kiraku/core/contract';
import { entriesOf, filterOf, DEFAULT_VIEW, placeAfter, placeRows, viewFrom, type ListView } from '@kiraku/core/sent';
import { api } from '../app/api.js';
import type { AppDispatch, RootState } from '../app/store.js';

/** As many as the server gives at once. */
const PAGE = 60;
/** How long a list is may be a moment old. */
const COUNT_AFTER_MS = 500;

/** The list by its address’s query; so that equal views are one entry. */
type Query = string;

export const sentApi = api.injectEndpoints({
  endpoints: (build) => ({
    sent: build.infiniteQuery<MessagePage, Query, string>({
      query: ({ queryArg, pageParam }) =>
        `messages?${queryOf(viewOf(queryArg), pageParam === '' ? {} : { cursor: pageParam })}`,
      infiniteQueryOptions: { initialPageParam: '', getNextPageParam: (page) => page.nextCursor ?? undefined },
      providesTags: ['Sent'],
    }),
    sentAmong: build.query<MessagePage, { query: Query; ids: number[] }>({
      query: ({ query, ids }) => `messages?${queryOf(viewOf(query), { among: ids.join(',') })}`,
      keepUnusedDataFor: 0,
    }),
    sentTotals: build.query<ListTotals, Query>({
      query: (query) => `messages/list/totals?${queryOf(viewOf(query))}`,
      providesTags: ['Sent'],
    }),
    applyAction: build.mutation<undefined, { ids: number[]; action: ListAction }>({
      query: (body) => ({ url: 'messages/actions', method: 'POST', body }),
      invalidatesTags: ['Sent'],
    }),
    followedLinks: build.query<string[], string>({
      query: (words) => `messages/links/followed?${new URLSearchParams({ words })}`,
      keepUnusedDataFor: 30,
    }),
    savedViews: build.query<SavedView[], null>({ query: () => 'saved-views', providesTags: ['Views'] }),
    saveView: build.mutation<SavedView, { name: string; query: string }>({
      query: (body) => ({ url: 'saved-views', method: 'POST', body }),
      invalidatesTags: ['Views'],
    }),
    forgetView: build.mutation<undefined, number>({
      query: (id) => ({ url: `saved-views/${id}`, method: 'DELETE' }),
      invalidatesTags: ['Views'],
    }),
  }),
});

export const {
  useSentInfiniteQuery,
  useSentTotalsQuery,
  useApplyActionMutation,
  useFollowedLinksQuery,
  useSavedViewsQuery,
  useSaveViewMutation,
  useForgetViewMutation,
} = sentApi;

/** The address’s query for a view, always written the same way. */
export function addressOf(view: ListView): Query {
  return new URLSearchParams(entriesOf(view)).toString();
}

function viewOf(query: Query): ListView {
  return viewFrom(new URLSearchParams(query));
}

/** What the server is asked, with periods as times. */
export function queryOf(view: ListView, more: Record<string, string> = {}): string {
  const filter = Object.entries(filterOf(view, Date.now())).filter(
    ([name, value]) => value !== null && value !== DEFAULT_VIEW[name as keyof ListView],
  );
  return new URLSearchParams([
    ...filter.map(([name, value]) => [name, String(value)]),
    ...Object.entries(more),
  ]).toString();
}

/** Rows that changed, by the list that the server is asked about them: until it responds, they gather. */
const asked = new Map<Query, Map<number, MessageSummary>>();

/**
 * Puts rows that changed where they now belong, in every list that is held. Which of them a list shows, and how long it
 * is then, says the server; that the list of everything shows them need not be asked.
 */
export const addToSent =
  (rows: MessageSummary[]) =>
  (dispatch: AppDispatch, getState: () => RootState): void => {
    if (rows.length === 0) return;
    // Those that are being read for the first time, too.
    for (const query of sentApi.util.selectCachedArgsForQuery(getState(), 'sent')) {
      dispatch(addToList(query, rows));
      // A page that was read before the change, and arrives after it, must not undo it.
      void dispatch(sentApi.util.getRunningQueryThunk('sent', query))?.then(() => dispatch(addToList(query, rows)));
    }
  };

const addToList =
  (query: Query, rows: MessageSummary[]) =>
  (dispatch: AppDispatch): void => {
    const gathering = asked.get(query);
    const atHand = rows.filter(({ archived }) => !archived);
    if (query === '') dispatch(placed(query, rows, atHand));
    else if (gathering) for (const row of rows) gathering.set(row.id, row);
    else void dispatch(ask(query, rows));
    dispatch(countAgain(query));
  };

const AFRESH = { subscribe: false, forceRefetch: true } as const;

const ask =
  (query: Query, rows: MessageSummary[]) =>
  async (dispatch: AppDispatch): Promise<void> => {
    const now = rows.slice(0, MAX_LIST_IDS);
    asked.set(query, new Map(rows.slice(MAX_LIST_IDS).map((row) => [row.id, row])));
    const ids = now.map(({ id }) => id);
    const { data } = await dispatch(sentApi.endpoints.sentAmong.initiate({ query, ids }, AFRESH));
    if (data) dispatch(placed(query, now, data.messages));
    const gathered = [...asked.get(query)!.values()];
    asked.delete(query);
    if (gathered.length > 0) await dispatch(ask(query, gathered));
  };

/** Lists that are about to be counted again. */
const counting = new Set<Query>();

/** Counts a list again in a moment, however often it changes until then. */
const countAgain =
  (query: Query) =>
  (dispatch: AppDispatch): void => {
    if (counting.has(query)) return;
    counting.add(query);
    setTimeout(() => {
      counting.delete(query);
      void dispatch(sentApi.endpoints.sentTotals.initiate(query, AFRESH));
    }, COUNT_AFTER_MS);
  };

const placed = (query: Query, changed: MessageSummary[], shown: MessageSummary[]) =>
  sentApi.util.updateQueryData('sent', query, (draft) => {
    const { pages, pageParams } = original(draft) as InfiniteData<MessagePage, string>;
    const before = pages.flatMap((page) => page.messages);
    const isWhole = pages.at(-1)?.nextCursor === null;
    const rows = placeRows(before, changed, new Set(shown.map(({ id }) => id)), viewOf(query), isWhole);
    // Under a flood of activity the list would grow without end: what nobody asked for is let go again, and found again.
    const kept = rows.slice(0, (pages.length + 1) * PAGE);
    const last = kept.at(-1);
    const cut = kept.length < rows.length && last ? placeAfter(last, viewOf(query)) : null;
    // All on the first page: where one ends does not show.
    return {
      pageParams,
      pages: pages.map((page, index) => ({
        ...page,
        messages: index > 0 ? [] : cut ? kept : rows,
        nextCursor: index === pages.length - 1 && cut ? cut : page.nextCursor,
      })),
    };
  });
