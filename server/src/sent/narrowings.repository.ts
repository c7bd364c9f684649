import { and, eq, gt, gte, isNull, lt, or, sql, type SQL } from 'drizzle-orm';
import type { Archived, ListFilter, SentWith, Shown } from '@kiraku/core/contract';
import { OVERDUE_MS } from '@kiraku/core/delivery';
import { clockChanges, DAY_HOURS, EPOCH_WEEKDAY, HOUR, HOURS_OF_WEEK } from '@kiraku/core/time';
import { HEATING_UP_OPENS } from '@kiraku/core/tracking';
import { isRead, isUnread } from '../store/messageFacts.js';
import { endsWith } from '../store/like.js';
import { isKept, isListed } from '../store/listed.js';
import { copy, event, link, message, person, reminder, sentFile } from '../store/schema.js';
import { matching } from './matching.repository.js';

/** As the list’s index has it. */
const hasNote = sql`(note <> '')`;
const isTracked = and(or(message.trackOpens, message.trackClicks), isNull(message.untrackedReason))!;

/** What the list is narrowed by. */
export interface Narrowing {
  where: SQL;
  /** The numbers of the messages that it may leave, found without going through the list; where that is possible. */
  numbers?: SQL;
  /** Whether those numbers are all that it leaves of the list, and nothing else. */
  isExact?: boolean;
  /** An index of what it leaves alone that holds all that the list is narrowed and sorted by, as `message_list` of all. */
  wideIndex?: string;
}

type ShownNarrowing = (now: number, isThere: SQL) => Narrowing | undefined;

/**
 * @param index of these messages alone, or in which they lie together
 * @param isWide whether it holds all that the list is narrowed and sorted by
 */
const indexed =
  (where: SQL, index: string, isWide = false) =>
  (_now: number, isThere: SQL): Narrowing => ({
    where,
    numbers: sql`select ${message.id} from ${message} indexed by ${sql.raw(index)} where ${and(isThere, where)}`,
    isExact: true,
    ...(isWide && { wideIndex: index }),
  });

const among = (numbers: SQL): Narrowing => ({ where: sql`${message.id} in (${numbers})`, numbers });

// The first half names the index of the few copies that have not left; so it does of open reminders below.
const bounced = sql`select ${copy.messageId} from ${copy} where ${copy.state} <> 'sent' and ${copy.state} = 'failed'`;
const due = sql`select ${reminder.messageId} from ${reminder} where ${reminder.state} in ('waiting', 'due') and ${reminder.state} = 'due'`;
const overdue = (now: number) =>
  sql`select ${message.id} from ${message} indexed by message_scheduled where ${message.state} = 'scheduled' and ${message.sendAt} < ${now - OVERDUE_MS}`;
const heating = (now: number) =>
  sql`select ${event.messageId} from ${event} indexed by event_at where ${event.at} > ${now - HOUR} and ${event.counted} and ${event.kind} = 'opened' group by ${event.messageId} having count(*) >= ${HEATING_UP_OPENS}`;

/** Where a message stands. Whoever reads tells by the same counts as the list’s words. */
const SHOWN_NARROWINGS: Record<Shown, ShownNarrowing> = {
  all: () => undefined,
  'no-sign': indexed(and(eq(message.state, 'sent'), isTracked, isUnread)!, 'message_no_sign', true),
  opened: () => ({ where: isRead }),
  'not-replied': () => ({ where: and(isRead, eq(message.replies, 0))! }),
  replied: indexed(sql`${message.replies} > 0`, 'message_replied'),
  clicked: indexed(gt(message.clicks, 0), 'message_clicks'),
  viewed: indexed(gt(message.fileViews, 0), 'message_file_views'),
  heating: (now) => among(heating(now)),
  bounced: () => among(bounced),
  'not-tracked': indexed(sql`not (${isTracked}) and ${message.state} <> 'scheduled'`, 'message_not_tracked'),
  scheduled: indexed(sql`${message.state} = 'scheduled'`, 'message_scheduled'),
  attention: (now) => among(sql`${bounced} union all ${overdue(now)} union all ${due}`),
};

const FOLDERS: Record<`${Archived}`, SQL> = {
  false: isNull(message.folder),
  true: eq(message.folder, 'archived'),
  any: isKept,
};

/** Whether a message is in the archive, or else at hand, or in either. */
export function isInFolder(archived: Archived): SQL {
  return FOLDERS[`${archived}`];
}

const isSent = eq(message.state, 'sent');

/** What was sent at all, and what was sent with something that is counted apart. */
const SENT_WITH_CONDITIONS: Record<SentWith, SQL | undefined> = {
  '': undefined,
  anything: isSent,
  opens: and(isSent, message.trackOpens, isNull(message.untrackedReason)),
  links: and(isSent, message.hasLinks),
  files: and(isSent, message.hasFiles),
};

/** From Monday. */
const WORKING_HOURS = 5 * DAY_HOURS;

/** The hour of the week, from Monday’s first (0), by the clocks of a zone; of its changes the late ones are found first. */
function hourOfWeek(at: SQL, zone: string, now: number): SQL {
  const [first, ...later] = clockChanges(zone, now);
  const whens = later
    .toReversed()
    .map(({ from, offsetMs }) => sql`when ${at} >= ${whole(from)} then ${whole(offsetMs)}`);
  const offset = sql`case ${sql.join([...whens, sql`when 1 then ${whole(first!.offsetMs)}`], sql` `)} end`;
  return sql`((${at} + ${offset}) / ${whole(HOUR)} + ${whole(EPOCH_WEEKDAY * DAY_HOURS)}) % ${whole(HOURS_OF_WEEK)}`;
}

/** A parameter would be a fraction to SQLite, and its division exact. */
function whole(n: number): SQL {
  return sql.raw(String(n));
}

/** What a filter narrows the list by, first what is likely to leave the fewest. */
export function narrowingsOf(filter: ListFilter, now: number): Narrowing[] {
  const {
    from,
    to,
    template,
    file,
    round,
    subject,
    noted,
    archived,
    words,
    sentWith,
    workingDays,
    firstOpenHour,
    zone,
  } = filter;
  const isThere = and(isInFolder(archived), isListed)!;
  const sentAt = sql`coalesce(${message.sentAt}, ${message.queuedAt})`;
  const isSentWith = SENT_WITH_CONDITIONS[sentWith];
  const templateNumbers = sql`select ${message.id} from ${message} where ${message.templateId} = ${template}`;
  return [
    words === '' ? undefined : among(matching(words)),
    recipientIs(filter),
    linkIs(filter.link),
    template === null ? undefined : { where: eq(message.templateId, template), numbers: templateNumbers },
    file === null
      ? undefined
      : among(sql`select ${sentFile.messageId} from ${sentFile} where ${sentFile.fileId} = ${file}`),
    round === null ? undefined : among(sql`select ${message.id} from ${message} where ${message.roundId} = ${round}`),
    subject === ''
      ? undefined
      : among(sql`select ${message.id} from ${message} where ${message.subject} = ${subject} and ${isListed}`),
    noted ? indexed(hasNote, 'message_noted')(now, isThere) : undefined,
    SHOWN_NARROWINGS[filter.show](now, isThere),
    from === null ? undefined : { where: gte(sentAt, from) },
    to === null ? undefined : { where: lt(sentAt, to) },
    isSentWith && { where: isSentWith },
    workingDays ? { where: sql`${hourOfWeek(sentAt, zone, now)} < ${WORKING_HOURS}` } : undefined,
    firstOpenHour === null
      ? undefined
      : { where: sql`${hourOfWeek(sql`${message.firstOpenAt}`, zone, now)} = ${firstOpenHour}` },
  ].filter((narrowing) => narrowing !== undefined);
}

/** Those that went to somebody like that. */
function recipientIs({ person: personId, company, domain }: ListFilter): Narrowing | undefined {
  const who = and(
    personId === null ? undefined : eq(person.id, personId),
    company === '' ? undefined : eq(person.company, company),
    domain === '' ? undefined : endsWith(person.addressKey, `@${domain.toLowerCase()}`),
  );
  if (!who) return undefined;
  return among(
    sql`select ${copy.messageId} from ${copy} where ${copy.personId} in (select ${person.id} from ${person} where ${who})`,
  );
}

function linkIs(text: string): Narrowing | undefined {
  if (text === '') return undefined;
  return among(sql`select ${link.messageId} from ${link} where ${link.text} = ${text} and ${link.clicks} > 0`);
}
