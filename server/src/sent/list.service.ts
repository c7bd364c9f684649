import { Injectable } from '@nestjs/common';
import type {
  Archived,
  ListAction,
  ListFilter,
  ListTotals,
  MessagePage,
  MessageSummary,
  Shown,
} from '@kiraku/core/contract';
import { filterOf, DEFAULT_VIEW } from '@kiraku/core/sent';
import { Clock } from '../environment/clock.js';
import { cursorAfter, placeOf, type Place } from '../http/paging.js';
import { MessagesRepository } from '../messages/messages.repository.js';
import { SummariesRepository } from '../messages/summaries.repository.js';
import { Changes } from '../store/changes.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { ListRepository } from './list.repository.js';
import { SearchRepository } from './search.repository.js';

/** What all of a list is made of; `all` is the whole of it. */
type Share = Record<'all' | 'unread' | 'replied', () => number>;

/** How many are shown where nothing else narrows the list: what is short has an index, and the rest are the rest. */
const COUNTED_BY_SHARE: Partial<Record<Shown, (share: Share) => number>> = {
  all: ({ all }) => all(),
  opened: ({ all, unread }) => all() - unread(),
  'not-replied': ({ all, unread, replied }) => all() - unread() - replied(),
};

const NARROWS_NOTHING = filterOf(DEFAULT_VIEW, 0, 'UTC');

/** Shows what was sent, as a filter wants it, and puts messages away. */
@Injectable()
export class ListService {
  /** How long the list is, and the archive, as of a change. */
  private counted: { changeId: number; n: Map<Archived, number> } | undefined;

  constructor(
    private readonly list: ListRepository,
    private readonly search: SearchRepository,
    private readonly summaries: SummariesRepository,
    private readonly messages: MessagesRepository,
    private readonly changes: Changes,
    private readonly unit: UnitOfWork,
    private readonly clock: Clock,
  ) {}

  page(filter: ListFilter, limit: number, cursor?: string): MessagePage {
    const now = this.clock.now();
    const after = placeOf(cursor);
    const places = isRanked(filter)
      ? this.ranked(filter, limit, after, now)
      : this.list.page(filter, limit, after, now);
    const ids = places.map(({ id }) => id);
    return {
      messages: this.summaries.of(ids),
      found: filter.words === '' ? {} : this.search.snippets(filter.words, ids),
      nextCursor: cursorAfter(places, limit),
    };
  }

  /** Those of some messages that the filter shows, in no order: what changed a moment ago may have come, or gone. */
  among(ids: number[], filter: ListFilter): MessagePage {
    const now = this.clock.now();
    return {
      messages: this.summaries.of(this.list.among(ids, filter, now)),
      found: {},
      nextCursor: null,
    };
  }

  /** How long the list is: counted apart, so that its first page need not wait for it. */
  totals(filter: ListFilter): ListTotals {
    return { total: this.count(filter), everything: this.countAll(false) };
  }

  /** Every message of the filter, a part at a time. */
  *all(filter: ListFilter, atOnce: number): Generator<MessageSummary[]> {
    const now = this.clock.now();
    for (let last = 0; ;) {
      const ids = this.list.after(last, filter, atOnce, now);
      if (ids.length === 0) return;
      yield this.summaries.of(ids);
      last = ids.at(-1)!;
    }
  }

  /** Whether a filter leaves nothing out but what was archived. */
  isEverything(filter: ListFilter): boolean {
    return narrowedBy(filter).length === 0;
  }

  /** The numbers of all messages of the filter. */
  idsOf(filter: ListFilter): Set<number> {
    return new Set(this.list.after(0, filter, -1, this.clock.now()));
  }

  /** Does the same with several messages. */
  applyAction(ids: number[], action: ListAction): void {
    this.unit.commit(() => {
      this.messages.applyAction(ids, action, this.clock.now());
      for (const messageId of ids) this.unit.note({ messageId });
    });
  }

  private count(filter: ListFilter): number {
    const now = this.clock.now();
    const { archived } = filter;
    const isShownAlone = narrowedBy(filter).every((name) => name === 'show' || name === 'archived');
    const byShare = isShownAlone && COUNTED_BY_SHARE[filter.show];
    if (!byShare) return this.list.count(filter, now);
    return byShare({
      all: () => this.countAll(archived),
      unread: () => this.list.countUnread(archived),
      replied: () => this.list.count({ ...filter, show: 'replied' }, now),
    });
  }

  /** Counted again only when some message has changed: looks at them do not change how many there are. */
  private countAll(archived: Archived): number {
    const changeId = this.changes.lastId();
    if (this.counted?.changeId !== changeId) this.counted = { changeId, n: new Map() };
    const { n } = this.counted;
    if (!n.has(archived)) n.set(archived, this.list.count({ ...NARROWS_NOTHING, archived }, this.clock.now()));
    return n.get(archived)!;
  }

  /** The best matches first; their place is how many came before. */
  private ranked(filter: ListFilter, limit: number, after: Place | null, now: number): Place[] {
    const offset = after === null ? 0 : after.value + 1;
    const rest = { ...filter, words: '' };
    const ids = this.search.best(filter.words, (found) => this.list.among(found, rest, now), limit, offset);
    return ids.map((id, index) => ({ value: offset + index, id }));
  }
}

/** What a filter leaves something out by. */
function narrowedBy(filter: ListFilter): string[] {
  return Object.entries({ ...filter, sort: 'lastActivity', direction: 'desc', zone: 'UTC' })
    .filter(([name, value]) => value !== NARROWS_NOTHING[name as keyof ListFilter])
    .map(([name]) => name);
}

function isRanked({ sort, words }: ListFilter): boolean {
  return sort === 'relevance' && words !== '';
}
