import { original } from '@reduxjs/toolkit';
import type { InfiniteData } from '@reduxjs/toolkit/query';
import {
  MAX_LIST_IDS,
  ROWS_PER_PAGE,
  type ListTotals,
  type MessagePage,
  type MessageSummary,
  type SavedView,
  type ListActionRequest,
  type SavedViewRequest,
  type StartViewRequest,
} from '@kiraku/core/contract';
import {
  entriesOf,
  filterOf,
  DEFAULT_VIEW,
  placeAfter,
  placeRows,
  viewFrom,
  type ListView,
  QUICK_CHOICES,
  type QuickChoice,
} from '@kiraku/core/sent';
import { MY_ZONE } from '../time/zone.js';
import { api, PAGED, type ApiDispatch } from './api.js';
import { onPushed } from './pushed.js';

/** How long a list is may be a moment old. */
const COUNT_AFTER_MS = 500;
/** How many each quick choice would show, somewhat older: together they cost as much as a whole list. */
const QUICK_COUNT_AFTER_MS = 5000;

/** The list by its address’s query; so that equal views are one entry. */
type Query = string;

export const sentApi = api.injectEndpoints({
  endpoints: (build) => ({
    sent: build.infiniteQuery<MessagePage, Query, string>({
      query: ({ queryArg, pageParam }) =>
        `messages?${queryOf(viewOf(queryArg), pageParam === '' ? {} : { cursor: pageParam })}`,
      infiniteQueryOptions: PAGED,
      providesTags: ['Sent'],
      async onCacheEntryAdded(query, { dispatch, cacheEntryRemoved }) {
        const list = new FollowedList(query, dispatch);
        const stop = onPushed(({ messages }) => messages.length > 0 && list.take(messages));
        await cacheEntryRemoved;
        stop();
        list.close();
      },
    }),
    sentAmong: build.query<MessagePage, { query: Query; ids: number[] }>({
      query: ({ query, ids }) => `messages?${queryOf(viewOf(query), { among: ids.join(',') })}`,
      keepUnusedDataFor: 0,
    }),
    sentTotals: build.query<ListTotals, Query>({
      query: (query) => `messages/list/totals?${queryOf(viewOf(query))}`,
      providesTags: ['Sent'],
    }),
    applyAction: build.mutation<undefined, ListActionRequest>({
      query: (body) => ({ url: 'messages/actions', method: 'POST', body }),
      invalidatesTags: ['Sent'],
    }),
    followedLinks: build.query<string[], string>({
      query: (words) => `messages/links/followed?${new URLSearchParams({ words })}`,
      keepUnusedDataFor: 30,
    }),
    savedViews: build.query<SavedView[], null>({ query: () => 'saved-views', providesTags: ['Views'] }),
    saveView: build.mutation<SavedView, SavedViewRequest>({
      query: (body) => ({ url: 'saved-views', method: 'POST', body }),
      invalidatesTags: ['Views'],
    }),
    setStartView: build.mutation<undefined, StartViewRequest & { id: number }>({
      query: ({ id, ...body }) => ({ url: `saved-views/${id}/start`, method: 'PUT', body }),
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
  useSetStartViewMutation,
  useForgetViewMutation,
} = sentApi;

/** The address’s query for a view, always written the same way. */
export function addressOf(view: ListView): Query {
  return new URLSearchParams(entriesOf(view)).toString();
}

/** The address’s query for one of the quick choices, without any other filter. */
export function quickAddress(show: QuickChoice): Query {
  return addressOf({ ...DEFAULT_VIEW, show });
}

function viewOf(query: Query): ListView {
  return viewFrom(new URLSearchParams(query));
}

/** What the server is asked, with periods as times; by whose clocks only where that makes a difference. */
export function queryOf(view: ListView, more: Record<string, string> = {}): string {
  const { zone, ...filter } = filterOf(view, Date.now(), MY_ZONE);
  const named = Object.entries(filter).filter(
    ([name, value]) => value !== null && value !== DEFAULT_VIEW[name as keyof ListView],
  );
  const isByClocks = view.workingDays || view.firstOpenHour !== null;
  return new URLSearchParams([
    ...named.map(([name, value]): [string, string] => [name, String(value)]),
    ...Object.entries({ ...(isByClocks && { zone }), ...more }),
  ]).toString();
}

const AFRESH = { subscribe: false, forceRefetch: true } as const;

/**
 * A list that is held, and follows what happens: rows that changed are put where they now belong. Which of them it shows,
 * and how long it is then, says the server; that the list of everything shows them need not be asked.
 */
class FollowedList {
  /** Rows that changed while the server is being asked about others. */
  private gathering: Map<number, MessageSummary> | undefined;
  private counting: ReturnType<typeof setTimeout> | undefined;
  private countingQuick: ReturnType<typeof setTimeout> | undefined;

  constructor(
    private readonly query: Query,
    private readonly dispatch: ApiDispatch,
  ) {}

  take(rows: MessageSummary[]): void {
    this.add(rows);
    // A page that was read before the change, and arrives after it, must not undo it.
    void this.dispatch(sentApi.util.getRunningQueryThunk('sent', this.query))?.then(() => this.add(rows));
  }

  close(): void {
    clearTimeout(this.counting);
    clearTimeout(this.countingQuick);
  }

  private add(rows: MessageSummary[]): void {
    if (this.query === '') {
      const atHand = rows.filter(({ archived }) => !archived);
      this.dispatch(placed(this.query, rows, atHand));
    } else if (this.gathering) for (const row of rows) this.gathering.set(row.id, row);
    else void this.ask(rows);
    this.countAgain();
  }

  private async ask(rows: MessageSummary[]): Promise<void> {
    const { query } = this;
    const now = rows.slice(0, MAX_LIST_IDS);
    const gathering = new Map(rows.slice(MAX_LIST_IDS).map((row) => [row.id, row]));
    this.gathering = gathering;
    const ids = now.map(({ id }) => id);
    const { data } = await this.dispatch(sentApi.endpoints.sentAmong.initiate({ query, ids }, AFRESH));
    if (data) this.dispatch(placed(query, now, data.messages));
    this.gathering = undefined;
    if (gathering.size > 0) await this.ask([...gathering.values()]);
  }

  /** Counts in a moment, however often it changes until then. */
  private countAgain(): void {
    this.counting ??= setTimeout(() => {
      this.counting = undefined;
      void this.dispatch(sentApi.endpoints.sentTotals.initiate(this.query, AFRESH));
    }, COUNT_AFTER_MS);
    this.countingQuick ??= setTimeout(() => {
      this.countingQuick = undefined;
      for (const show of QUICK_CHOICES)
        void this.dispatch(sentApi.endpoints.sentTotals.initiate(quickAddress(show), AFRESH));
    }, QUICK_COUNT_AFTER_MS);
  }
}

const placed = (query: Query, changed: MessageSummary[], shown: MessageSummary[]) =>
  sentApi.util.updateQueryData('sent', query, (draft) => {
    const { pages, pageParams } = original(draft) as InfiniteData<MessagePage, string>;
    const before = pages.flatMap((page) => page.messages);
    const isWhole = pages.at(-1)?.nextCursor === null;
    const rows = placeRows(before, changed, new Set(shown.map(({ id }) => id)), viewOf(query), isWhole);
    // Under a flood of activity the list would grow without end: what nobody asked for is let go again, and found again.
    const kept = rows.slice(0, (pages.length + 1) * ROWS_PER_PAGE);
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
