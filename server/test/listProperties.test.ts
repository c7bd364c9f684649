import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import {
  ARCHIVED,
  LIST_COLUMNS,
  SENT_WITH,
  SHOWN,
  SORT_DIRECTIONS,
  type ListFilter,
  type ListColumn,
  type RoundContent,
  type RoundPace,
  type SentWith,
  type Shown,
} from '@kiraku/core/contract';
import { filterOf, DEFAULT_VIEW } from '@kiraku/core/sent';
import { HOUR, MINUTE, wallTimeAt } from '@kiraku/core/time';
import { ListRepository } from '@kiraku/server/sent/list.repository';
import { MAX_FOUND } from '@kiraku/server/sent/matching.repository';
import { SearchRepository } from '@kiraku/server/sent/search.repository';
import { openDatabase, type Database } from '@kiraku/server/store/database';
import {
  copy,
  event,
  file,
  fileVersion,
  message,
  person,
  reminder,
  round,
  sentFile,
} from '@kiraku/server/store/schema';
import { EventsRepository } from '@kiraku/server/tracking/events.repository';

/*
 * The list by SQL against the same list worked out by hand from the rows, for any filter in any order: what the index
 * answers must be what the words over the list promise.
 */
const NOW = 1_800_000_000_000;
const COMPANIES = ['', 'Lindqvist', 'Quill Works'];
const DOMAINS = ['lindqvist.example', 'quillworks.example', 'works.example'];

interface Row {
  id: number;
  state: 'sent' | 'scheduled' | 'failed';
  folder: 'archived' | 'deleted' | null;
  sentAt: number | null;
  lastActivityAt: number;
  opens: number;
  clicks: number;
  fileViews: number;
  replies: number;
  firstOpenAt: number | null;
  lastOpenAt: number | null;
  trackOpens: boolean;
  note: string;
  hasLinks: boolean;
  hasFiles: boolean;
  fileId: number;
  templateId: null;
  roundId: number | null;
  subject: string;
  person: number;
  failed: boolean;
  recentOpens: number;
  sendAt: number | null;
  isDue: boolean;
}

const folder = mkdtempSync(join(tmpdir(), 'kiraku-list-'));
let database: Database;
let list: ListRepository;
let goingThrough: ListRepository;

/** Takes two messages for many. */
class GoesThroughTheList extends ListRepository {
  protected override readonly maxFew = 2;
}

beforeAll(() => {
  database = openDatabase(join(folder, 'kiraku.sqlite'));
  list = new ListRepository(database);
  goingThrough = new GoesThroughTheList(database);
});
afterAll(() => {
  database.$client.close();
  rmSync(folder, { recursive: true });
});

// In the morning and in the evening, when it is another day elsewhere.
const when = fc.integer({ min: 1, max: 80 }).map((halfDays) => NOW - halfDays * 12 * HOUR);
/** Of those that `when` may be, and of the zones’ clocks. */
const HOURS = [3, 8, 15, 20, 21, 33];
const rows: fc.Arbitrary<Row[]> = fc
  .array(
    fc.record({
      state: fc.constantFrom('sent' as const, 'sent' as const, 'scheduled' as const, 'failed' as const),
      folder: fc.constantFrom(null, null, null, 'archived' as const, 'deleted' as const),
      sentAt: fc.option(when),
      lastActivityAt: when,
      opens: fc.nat(3),
      clicks: fc.nat(2),
      fileViews: fc.nat(1),
      replies: fc.nat(1),
      firstOpenAt: fc.option(when),
      lastOpenAt: fc.option(when),
      trackOpens: fc.boolean(),
      note: fc.constantFrom('', 'Met at the fair'),
      hasLinks: fc.boolean(),
      hasFiles: fc.boolean(),
      fileId: fc.constantFrom(1, 2),
      templateId: fc.constant(null),
      roundId: fc.constantFrom(null, 1, 2),
      subject: fc.constantFrom('A', 'A', 'B', 'a'),
      person: fc.nat(COMPANIES.length - 1),
      failed: fc.boolean(),
      recentOpens: fc.nat(4),
      sendAt: fc.option(fc.constantFrom(NOW - HOUR, NOW - MINUTE, NOW + HOUR)),
      isDue: fc.boolean(),
    }),
    // More than what is sorted beforehand for the shortest page.
    { minLength: 1, maxLength: 24, size: 'max' },
  )
  .map((list) => list.map((row, index) => ({ ...row, id: index + 1 })));

/** Mostly nothing: what leaves hardly any message hides what else narrows the list. */
const seldom = <T>(value: fc.Arbitrary<T>) =>
  fc.oneof({ arbitrary: fc.constant(null), weight: 5 }, { arbitrary: value, weight: 1 });

const filters: fc.Arbitrary<ListFilter> = fc.record({
  show: fc.constantFrom(...SHOWN),
  from: seldom(when),
  to: seldom(when),
  person: seldom(fc.integer({ min: 1, max: COMPANIES.length })),
  template: fc.constant(null),
  file: seldom(fc.constantFrom(1, 2)),
  round: seldom(fc.constantFrom(1, 2)),
  subject: fc.constantFrom('', '', 'A', 'B'),
  company: fc.constantFrom('', '', 'Lindqvist'),
  domain: fc.constantFrom('', '', 'Works.example'),
  link: fc.constant(''),
  noted: fc.boolean(),
  archived: fc.constantFrom(...ARCHIVED),
  sentWith: fc.constantFrom('' as const, '' as const, ...SENT_WITH),
  workingDays: fc.boolean(),
  firstOpenHour: seldom(fc.constantFrom(...HOURS)),
  zone: fc.constantFrom('Pacific/Auckland', 'America/New_York', 'UTC'),
  words: fc.constant(''),
  sort: fc.constantFrom(...LIST_COLUMNS.filter((column) => column !== 'relevance')),
  direction: fc.constantFrom(...SORT_DIRECTIONS),
});

function store(all: readonly Row[]): void {
  for (const table of [sentFile, fileVersion, file, reminder, event, copy, message, person, round])
    database.delete(table).run();
  for (const id of [1, 2]) {
    const texts = { wordings: [], content: {} as RoundContent, pace: {} as RoundPace, recentDays: 0 };
    database
      .insert(round)
      .values({ id, name: '', state: 'stopped', seed: 1, revision: 1, createdAt: 0, ...texts })
      .run();
    database.insert(file).values({ id, name: '', addedAt: 0 }).run();
    const bytes = { sha256: '', size: 0, mediaType: '', kind: 'other' as const, preparation: 'ready' as const };
    database
      .insert(fileVersion)
      .values({ id, fileId: id, number: 1, addedAt: 0, ...bytes })
      .run();
  }
  COMPANIES.forEach((company, index) => {
    const address = `a@${DOMAINS[index]}`;
    database
      .insert(person)
      .values({ id: index + 1, addressKey: address, address, name: '', company, createdAt: 0 })
      .run();
  });
  for (const { person: who, failed, recentOpens, isDue, fileId, ...row } of all) {
    const rest = { senderName: '', senderAddress: '', recipients: [], subject: '', trackClicks: false, revision: 1 };
    database
      .insert(message)
      .values({ ...rest, createdAt: 0, updatedAt: 0, queuedAt: row.lastActivityAt, ...row })
      .run();
    if (row.hasFiles) {
      const shared = { name: '', followsNewest: false, mayDownload: true, asksAddress: false };
      database
        .insert(sentFile)
        .values({ messageId: row.id, fileId, versionId: fileId, ...shared })
        .run();
    }
    const copied = { kind: 'to' as const, name: '', address: `a@${DOMAINS[who]}`, messageIdHeader: '' };
    database
      .insert(copy)
      .values({
        ...copied,
        id: row.id,
        messageId: row.id,
        personId: who + 1,
        state: failed ? 'failed' : 'sent',
        imageToken: String(row.id),
      })
      .run();
    for (const state of isDue ? (['due', 'done'] as const) : (['waiting', 'done'] as const))
      database
        .insert(reminder)
        .values({
          state,
          messageId: row.id,
          dueAt: NOW,
          condition: 'always',
          note: '',
          byEmail: false,
          zone: 'UTC',
          createdAt: 0,
        })
        .run();
    for (let n = 0; n < recentOpens; n += 1)
      database
        .insert(event)
        .values({ at: NOW - n, kind: 'opened', counted: true, messageId: row.id, copyId: row.id })
        .run();
  }
}

const isRead = ({ opens, clicks, fileViews, replies }: Row) => opens + clicks + fileViews + replies > 0;

const SHOWS: Record<Shown, (row: Row) => boolean> = {
  all: () => true,
  'no-sign': (row) => row.state === 'sent' && row.trackOpens && !isRead(row),
  opened: isRead,
  'not-replied': (row) => isRead(row) && row.replies === 0,
  replied: (row) => row.replies > 0,
  clicked: (row) => row.clicks > 0,
  viewed: (row) => row.fileViews > 0,
  heating: (row) => row.recentOpens >= 3,
  bounced: (row) => row.failed,
  'not-tracked': (row) => row.state !== 'scheduled' && !row.trackOpens,
  scheduled: (row) => row.state === 'scheduled',
  attention: (row) =>
    row.failed || row.isDue || (row.state === 'scheduled' && row.sendAt !== null && row.sendAt < NOW - 5 * MINUTE),
};

const SENT: Record<SentWith, (row: Row) => boolean> = {
  '': () => true,
  anything: (row) => row.state === 'sent',
  opens: (row) => row.state === 'sent' && row.trackOpens,
  links: (row) => row.state === 'sent' && row.hasLinks,
  files: (row) => row.state === 'sent' && row.hasFiles,
};

function isWorkingDay(at: number, zone: string): boolean {
  const { year, month, day } = wallTimeAt(at, zone);
  return ![0, 6].includes(new Date(Date.UTC(year, month - 1, day)).getUTCDay());
}

function firstOpenHour({ firstOpenAt }: Row, zone: string): number | null {
  if (firstOpenAt === null) return null;
  const { year, month, day, hour } = wallTimeAt(firstOpenAt, zone);
  return ((new Date(Date.UTC(year, month - 1, day)).getUTCDay() + 6) % 7) * 24 + hour;
}

const VALUES: Record<Exclude<ListColumn, 'relevance'>, (row: Row) => number | null> = {
  lastActivity: (row) => row.lastActivityAt,
  sent: (row) => row.sentAt ?? row.sendAt ?? row.lastActivityAt,
  opens: (row) => row.opens,
  clicks: (row) => row.clicks,
  fileViews: (row) => row.fileViews,
  firstOpen: (row) => row.firstOpenAt,
  lastOpen: (row) => row.lastOpenAt,
  timeToOpen: (row) => (row.firstOpenAt === null || row.sentAt === null ? null : row.firstOpenAt - row.sentAt),
  timeToReply: () => null,
};

function expectedIds(all: readonly Row[], filter: ListFilter): number[] {
  const sentAt = (row: Row) => row.sentAt ?? row.lastActivityAt;
  const way = filter.direction === 'asc' ? 1 : -1;
  const value = (row: Row) => VALUES[filter.sort as Exclude<ListColumn, 'relevance'>](row) ?? way * Infinity;
  return all
    .filter((row) =>
      filter.archived === 'any' ? row.folder !== 'deleted' : row.folder === (filter.archived ? 'archived' : null),
    )
    .filter(SHOWS[filter.show])
    .filter(SENT[filter.sentWith])
    .filter((row) => filter.firstOpenHour === null || firstOpenHour(row, filter.zone) === filter.firstOpenHour)
    .filter((row) => !filter.workingDays || isWorkingDay(sentAt(row), filter.zone))
    .filter((row) => filter.from === null || sentAt(row) >= filter.from)
    .filter((row) => filter.to === null || sentAt(row) < filter.to)
    .filter((row) => filter.person === null || row.person + 1 === filter.person)
    .filter((row) => filter.company === '' || COMPANIES[row.person] === filter.company)
    .filter((row) => filter.domain === '' || DOMAINS[row.person] === filter.domain.toLowerCase())
    .filter((row) => filter.subject === '' || row.subject === filter.subject)
    .filter((row) => filter.round === null || row.roundId === filter.round)
    .filter((row) => filter.file === null || (row.hasFiles && row.fileId === filter.file))
    .filter((row) => !filter.noted || row.note !== '')
    .sort((a, b) => (value(a) === value(b) ? way * (a.id - b.id) : way * (value(a) < value(b) ? -1 : 1)))
    .map(({ id }) => id);
}

function expectAnswers(asked: ListRepository, filter: ListFilter, all: readonly Row[], limit: number): void {
  const expected = expectedIds(all, filter);
  const parts: number[] = [];
  for (let after = null, part; (part = asked.page(filter, limit, after, NOW)).length > 0; after = part.at(-1)!)
    parts.push(...part.map(({ id }) => id));
  expect(parts).toEqual(expected);
  expect(asked.count(filter, NOW)).toBe(expected.length);
  const ids = all.map(({ id }) => id);
  expect(new Set(asked.among(ids, filter, NOW))).toEqual(new Set(expected));
  expect(asked.after(0, filter, -1, NOW)).toEqual([...expected].sort((a, b) => a - b));
}

test('whatever is asked, in whichever order, is what the rows say; and its parts make the whole', () => {
  fc.assert(
    fc.property(
      rows,
      fc.array(filters, { minLength: 1, maxLength: 6 }),
      fc.integer({ min: 1, max: 5 }),
      (all, asked, limit) => {
        database.$client.transaction(() => store(all))();
        for (const filter of asked)
          for (const asking of [list, goingThrough]) expectAnswers(asking, filter, all, limit);
      },
    ),
    { numRuns: 60 },
  );
});

test.each([
  ['UTC', 20],
  ['America/New_York', 15],
  ['Pacific/Auckland', 33],
])('the hour of a first open goes by the clocks of %s', (zone, hour) => {
  const [row] = fc.sample(rows, 1)[0]!;
  const onMondayEvening = { ...row!, folder: null, firstOpenAt: Date.UTC(2027, 0, 11, 20, 30) };
  database.$client.transaction(() => store([onMondayEvening]))();
  const count = (firstOpenHour: number) => list.count({ ...filterOf(DEFAULT_VIEW, NOW, zone), firstOpenHour }, NOW);
  expect([15, 20, 33].filter((one) => count(one) === 1)).toEqual([hour]);
});

/** How SQLite answers what is prepared meanwhile. */
function plansOf(work: () => void): string[] {
  const plans: string[] = [];
  const prepare = database.$client.prepare.bind(database.$client);
  database.$client.prepare = ((text: string) => {
    if (text.startsWith('select')) {
      const values = Array<number>(text.split('?').length - 1).fill(0);
      const plan = prepare(`explain query plan ${text}`).all(...values) as { detail: string }[];
      plans.push(...plan.map(({ detail }) => detail));
    }
    return prepare(text);
  }) as typeof prepare;
  work();
  database.$client.prepare = prepare;
  return plans;
}

test.each(SHOWN.map((show) => [show]))('“%s” is answered from an index, without reading every message', (show) => {
  const filter = filterOf({ ...DEFAULT_VIEW, show }, NOW, 'UTC');
  for (const asking of [list, goingThrough]) {
    const plans = plansOf(() => {
      asking.page(filter, 60, null, NOW);
      asking.count(filter, NOW);
    });
    const ofMessages = plans.filter((detail) => /^(SCAN|SEARCH) message\b/.test(detail));
    expect(ofMessages).not.toEqual([]);
    for (const detail of ofMessages)
      expect(detail).toMatch(/USING (COVERING INDEX message_|INDEX message_(?!list|no_sign)|INTEGER PRIMARY KEY)/);
  }
});

test.each(
  LIST_COLUMNS.filter((sort) => sort !== 'relevance').flatMap((sort) =>
    SORT_DIRECTIONS.map((way) => [sort, way] as const),
  ),
)('any page by “%s” %s is read from its index straight on, and nothing is sorted', (sort, direction) => {
  const filter = filterOf({ ...DEFAULT_VIEW, sort, direction }, NOW, 'UTC');
  const plans = plansOf(() => {
    list.page(filter, 60, null, NOW);
    list.page(filter, 60, { value: 3, id: 1000 }, NOW);
  });
  expect(plans).not.toEqual([]);
  // What happened in the same millisecond is sorted by number.
  const isOfOneMoment = (detail: string) => sort === 'lastActivity' && detail.startsWith('USE TEMP B-TREE');
  for (const detail of plans)
    if (!isOfOneMoment(detail)) expect(detail).toMatch(/^SEARCH message USING .*INDEX message_/);
});

test('of more matches than are looked for, as many are counted as are shown', () => {
  const search = new SearchRepository(database);
  const filter = filterOf({ ...DEFAULT_VIEW, words: 'reed' }, NOW, 'UTC');
  database.$client.transaction(() => {
    for (const table of [reminder, event, copy, message, person]) database.delete(table).run();
    // Those that only begin so are the newest.
    for (let id = 1; id <= 2 * MAX_FOUND + 200; id += 1) {
      const subject = id <= MAX_FOUND + 100 ? 'reed' : 'reeds';
      const rest = { senderName: '', senderAddress: '', recipients: [], subject, trackClicks: false, revision: 1 };
      database
        .insert(message)
        .values({ ...rest, id, state: 'sent', trackOpens: true, lastActivityAt: id, createdAt: 0, updatedAt: 0 })
        .run();
      search.set(id, { subject, people: '', body: '', note: '' });
    }
  })();
  const shown = search.best('reed', (ids) => list.among(ids, { ...filter, words: '' }, NOW), Infinity, 0);
  expect(shown).toHaveLength(2 * MAX_FOUND);
  expect(list.count(filter, NOW)).toBe(shown.length);
});

test('the events of a trail are read from the index, and not from rows that are strewn over the months', () => {
  const plans = plansOf(() => new EventsRepository(database).trailEvents(1));
  expect(plans).toContainEqual(expect.stringContaining('event USING COVERING INDEX event_message_at'));
});
