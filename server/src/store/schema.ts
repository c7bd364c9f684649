import type {
  CheckName,
  CheckState,
  Condition,
  CopyState,
  DnsRecord,
  DraftFile,
  DraftPlan,
  DraftReminder,
  EventKind,
  FileKind,
  IncomingKind,
  IncomingVerdict,
  PlanState,
  Preparation,
  MessageOrigin,
  MessageState,
  MdnState,
  NetworkKind,
  DsnState,
  Recipient,
  RecipientKind,
  Recurrence,
  RefusedWay,
  ReminderState,
  RoundContent,
  RoundPace,
  RoundState,
  Wording,
  SmtpAuth,
  SmtpSecurity,
  StepCondition,
  StepState,
} from '@kiraku/core/contract';
import type { AgentNature, Lesson } from '@kiraku/core/tracking';
import type { Dsn, Piece } from '@kiraku/core/delivery';

import { isNotNull, sql } from 'drizzle-orm';
import { index, integer, primaryKey, real, sqliteTable, text, blob, uniqueIndex } from 'drizzle-orm/sqlite-core';

/*
 * All times are UTC epoch milliseconds in columns named …At. Counts are kept by the core's tally, in the same
 * transaction as the event that moves them.
 */

/** The columns of the core's Tally. */
const tally = {
  opens: integer().notNull().default(0),
  clicks: integer().notNull().default(0),
  fileViews: integer().notNull().default(0),
  replies: integer().notNull().default(0),
  uncertainOpens: integer().notNull().default(0),
  uncertainClicks: integer().notNull().default(0),
  uncertainViews: integer().notNull().default(0),
  notCounted: integer().notNull().default(0),
  firstOpenAt: integer(),
  lastOpenAt: integer(),
  firstClickAt: integer(),
  lastClickAt: integer(),
  repliedAt: integer(),
  lastReplyAt: integer(),
  lastEventAt: integer(),
};

export const setting = sqliteTable('setting', {
  key: text().primaryKey(),
  value: text({ mode: 'json' }).notNull(),
});

/** Who was erased, and when: a backup that is restored does not bring them back. */
export const erasure = sqliteTable('erasure', {
  /** HMAC-SHA256 of their address, by the key file. */
  mark: text().primaryKey(),
  at: integer().notNull(),
});

/** What the check-up found last. */
export const check = sqliteTable('check_result', {
  name: text().$type<CheckName>().primaryKey(),
  state: text().$type<CheckState>().notNull(),
  detail: text().notNull(),
  advice: text(),
  records: text({ mode: 'json' }).$type<DnsRecord[]>().notNull(),
  /** Since when it is in this state. */
  since: integer().notNull(),
  at: integer().notNull(),
  /** Whether an email says so that has not left. */
  emailPending: integer({ mode: 'boolean' }).notNull().default(false),
});

/** Up to where each run of the journal has been applied. */
export const journalPosition = sqliteTable('journal_position', {
  run: text().primaryKey(),
  segment: integer().notNull(),
  /** Where the next frame begins. */
  offset: integer().notNull(),
  /** Of the last entry that was applied. */
  sequence: integer().notNull(),
});

export const session = sqliteTable('session', {
  /** SHA-256 of the cookie's token: a copy of the database signs nobody in. */
  tokenHash: text().primaryKey(),
  createdAt: integer().notNull(),
  expiresAt: integer().notNull(),
  /** To within some minutes. */
  lastSeenAt: integer().notNull().default(0),
  /** As the browser named itself when it signed in. */
  userAgent: text().notNull().default(''),
});

export const account = sqliteTable('account', {
  id: integer().primaryKey(),
  name: text().notNull(),
  address: text().notNull(),
  smtpHost: text().notNull(),
  smtpPort: integer().notNull(),
  smtpSecurity: text().$type<SmtpSecurity>().notNull(),
  smtpUser: text().notNull(),
  /** Encrypted with the key file; null where the server asks for no login. */
  smtpPasswordSealed: text(),
  /** What the sealed secret is: a password, or a token for XOAUTH2. */
  smtpAuth: text().$type<SmtpAuth>().notNull().default('password'),
});

/** What a mail program signs in with to hand its mail in. */
export const appPassword = sqliteTable('app_password', {
  id: integer().primaryKey(),
  name: text().notNull(),
  /** SHA-256: the password itself is 120 random bits, and shown once. */
  hash: text().notNull().unique(),
  createdAt: integer().notNull(),
  lastUsedAt: integer(),
});

export const person = sqliteTable(
  'person',
  {
    id: integer().primaryKey(),
    addressKey: text().notNull().unique(),
    address: text().notNull(),
    name: text().notNull(),
    company: text().notNull().default(''),
    /** How many messages went to them. */
    messages: integer().notNull().default(0),
    createdAt: integer().notNull(),
    /** They are written to without tracking: by the sender's choice, or by their own (optedOutAt). */
    doNotTrack: integer({ mode: 'boolean' }).notNull().default(false),
    optedOutAt: integer(),
    phone: text().notNull().default(''),
    /** IANA name of the zone they live in; empty where it is not known. */
    zone: text().notNull().default(''),
    /** For oneself; never sent. */
    note: text().notNull().default(''),
    /** Since when they are muted. */
    mutedAt: integer(),
    /** Until when they are not proposed to be got in touch with. */
    snoozedUntil: integer(),
    /** What happened until then is no reason any more to get in touch with them. */
    resolvedAt: integer(),
    /** The person whose second address this is; null for all who stand for themselves. */
    mergedInto: integer(),
    /**
     * When a message last went to them or a reply came. The database keeps it true by itself: the triggers
     * person_contact_… of the migrations follow each change of a copy.
     */
    lastContactAt: integer(),
    /** Of mail that was sent before Kiraku and is not here itself: how many of `messages` it is, and the last of it. */
    earlierMessages: integer().notNull().default(0),
    earlierContactAt: integer(),
  },
  (table) => [index('person_last_contact').on(table.lastContactAt)],
);

/** The user’s own words for a person. */
export const personTag = sqliteTable(
  'person_tag',
  {
    personId: integer()
      .notNull()
      .references(() => person.id, { onDelete: 'cascade' }),
    tag: text().notNull(),
  },
  (table) => [primaryKey({ columns: [table.personId, table.tag] }), index('person_tag_tag').on(table.tag)],
);

/** A browser that is notified although no window of Kiraku is open in it (RFC 8030), with its keys (RFC 8291). */
export const pushDevice = sqliteTable('push_device', {
  id: integer().primaryKey(),
  name: text().notNull(),
  endpoint: text().notNull().unique(),
  p256dh: text().notNull(),
  auth: text().notNull(),
  createdAt: integer().notNull(),
  notifiedAt: integer(),
});

/** A filter of the list that was given a name. */
export const savedView = sqliteTable('saved_view', {
  id: integer().primaryKey(),
  name: text().notNull().unique(),
  query: text().notNull(),
  /** What Sent begins with: of one at most. */
  isStart: integer({ mode: 'boolean' }).notNull().default(false),
});

/** A message to begin others from. Deleted, it stays for the messages that came from it. */
export const template = sqliteTable('template', {
  id: integer().primaryKey({ autoIncrement: true }),
  name: text().notNull(),
  subject: text().notNull(),
  html: text().notNull(),
  /** What a message that begins with it is to be reminded of. */
  reminder: text({ mode: 'json' }).$type<DraftReminder>(),
  /** What such a message carries. */
  files: text({ mode: 'json' }).$type<DraftFile[]>().notNull().default([]),
  /** Where it stands in their list; empty for the top of it. */
  folder: text().notNull().default(''),
  createdAt: integer().notNull(),
  updatedAt: integer().notNull(),
  deletedAt: integer(),
});

export const signature = sqliteTable('signature', {
  id: integer().primaryKey(),
  name: text().notNull(),
  html: text().notNull(),
});

/** An inline picture, named by the SHA-256 of its bytes: messages and templates refer to it by `cid:` (RFC 2392). */
export const picture = sqliteTable('picture', {
  id: text().primaryKey(),
  mediaType: text().notNull(),
  bytes: blob({ mode: 'buffer' }).notNull(),
  createdAt: integer().notNull(),
});

/** One text for several people, each of whom gets a message of their own. */
export const round = sqliteTable('round', {
  id: integer().primaryKey({ autoIncrement: true }),
  name: text().notNull(),
  /** That it is done is not written down: it is when none of its messages waits. */
  state: text().$type<Exclude<RoundState, 'done'>>().notNull(),
  /** Why it was paused by itself, in words. */
  pauseReason: text(),
  wordings: text({ mode: 'json' }).$type<Wording[]>().notNull(),
  content: text({ mode: 'json' }).$type<RoundContent>().notNull(),
  pace: text({ mode: 'json' }).$type<RoundPace>().notNull(),
  recentDays: integer().notNull(),
  /** From which probability on the rest gets the better wording; null for never. */
  decideAt: real(),
  /** The wording that the rest gets; null while all are in use. */
  restWording: integer(),
  /** From this number it follows who gets which wording. */
  seed: integer().notNull(),
  revision: integer().notNull(),
  createdAt: integer().notNull(),
  /** When it was started, or last resumed. */
  startedAt: integer(),
});

/** Whether a message stands in the list: a draft does not. */
const isListed = sql`last_activity_at > 0`;

export const message = sqliteTable(
  'message',
  {
    id: integer().primaryKey({ autoIncrement: true }),
    state: text().$type<MessageState>().notNull(),
    senderName: text().notNull(),
    senderAddress: text().notNull(),
    recipients: text({ mode: 'json' }).$type<Recipient[]>().notNull(),
    subject: text().notNull(),
    trackOpens: integer({ mode: 'boolean' }).notNull(),
    trackClicks: integer({ mode: 'boolean' }).notNull(),
    revision: integer().notNull(),
    origin: text().$type<MessageOrigin>().notNull().default('written'),
    /** Why nothing of it is tracked, in words; null where it is, or was not wanted. */
    untrackedReason: text(),
    /** Header fields that were taken out of what was submitted, since they no longer fit. */
    removedFields: text({ mode: 'json' }).$type<string[]>().notNull().default([]),
    disclose: integer({ mode: 'boolean' }).notNull().default(false),
    requestDsn: integer({ mode: 'boolean' }).notNull().default(false),
    requestMdn: integer({ mode: 'boolean' }).notNull().default(false),
    /** Never sent. */
    note: text().notNull().default(''),
    /** For how long after sending activity on it counts; null as the settings say. */
    trackForDays: integer(),
    templateId: integer().references(() => template.id),
    /** The round it is a part of; null for all others. */
    roundId: integer().references(() => round.id, { onDelete: 'set null' }),
    /** Message-IDs of the conversation, oldest first (RFC 5322, section 3.6.4); the last one is answered. */
    conversation: text({ mode: 'json' }).$type<string[]>().notNull().default([]),
    recurrence: text({ mode: 'json' }).$type<Recurrence>(),
    /** What is to remind of it, and what is to follow it, from when it leaves. */
    reminder: text({ mode: 'json' }).$type<DraftReminder>(),
    plan: text({ mode: 'json' }).$type<DraftPlan>(),
    /** What travels with it. Of what was sent as a link, `sent_file` says how it stands now. */
    files: text({ mode: 'json' }).$type<DraftFile[]>().notNull().default([]),
    /** Whether it left with tracked links, and with tracked files. */
    hasLinks: integer({ mode: 'boolean' }).notNull().default(false),
    hasFiles: integer({ mode: 'boolean' }).notNull().default(false),
    createdAt: integer().notNull(),
    updatedAt: integer().notNull(),
    queuedAt: integer(),
    /** When a scheduled message is to leave; null for all others. */
    sendAt: integer(),
    sentAt: integer(),
    /** The last counted event, else the sending: the order of the list. Null for drafts. */
    lastActivityAt: integer(),
    /** Archive, or taken out of the list; null while it is at hand. Its links go on leading to their targets. */
    folder: text().$type<'archived' | 'deleted'>(),
    /** Since when it is muted. */
    mutedAt: integer(),
    /** When some of the activity to it was forgotten, by the time that was set; null where all is there. */
    forgottenAt: integer(),
    ...tally,
  },
  (table) => [
    // All that the list is narrowed and sorted by: whatever is asked, it is read from here and not from the rows.
    index('message_list').on(
      ...([table.folder, table.lastActivityAt, table.state, table.opens, table.clicks, table.fileViews] as const),
      ...([table.replies, table.sentAt, table.queuedAt, table.sendAt, table.firstOpenAt] as const),
      ...([table.lastOpenAt, table.repliedAt, table.trackOpens, table.trackClicks, table.untrackedReason] as const),
      ...([table.templateId, sql`(note <> '')`, table.hasLinks, table.hasFiles] as const),
    ),
    // What shows no sign of reading: most of a long list is read, or shows none for good.
    index('message_no_sign')
      .on(
        ...([table.folder, table.lastActivityAt, table.state, table.sentAt, table.queuedAt, table.sendAt] as const),
        ...([table.trackOpens, table.trackClicks, table.untrackedReason, table.templateId, sql`(note <> '')`] as const),
        ...([table.hasLinks, table.hasFiles] as const),
        // All nought; SQLite reads the row where they are missing.
        ...([table.opens, table.clicks, table.fileViews, table.replies] as const),
      )
      .where(sql`opens = 0 and clicks = 0 and file_views = 0 and replies = 0`),
    // What each order of the list is read from, without a look at what lies beyond the page.
    index('message_sent')
      .on(table.folder, sql`coalesce(sent_at, send_at, queued_at)`)
      .where(isListed),
    index('message_opens').on(table.folder, table.opens).where(isListed),
    index('message_clicks').on(table.folder, table.clicks).where(isListed),
    index('message_file_views').on(table.folder, table.fileViews).where(isListed),
    index('message_first_open').on(table.folder, table.firstOpenAt).where(isListed),
    index('message_last_open').on(table.folder, table.lastOpenAt).where(isListed),
    index('message_time_to_open')
      .on(table.folder, sql`(first_open_at - sent_at)`)
      .where(isListed),
    index('message_time_to_reply')
      .on(table.folder, sql`(replied_at - sent_at)`)
      .where(isListed),
    // What is rare in a long list, and looked for.
    index('message_replied')
      .on(table.folder)
      .where(sql`${isListed} and replies > 0`),
    index('message_not_tracked')
      .on(table.folder)
      .where(
        sql`${isListed} and not ((track_opens or track_clicks) and untracked_reason is null) and state <> 'scheduled'`,
      ),
    index('message_noted')
      .on(table.folder)
      .where(sql`${isListed} and (note <> '')`),
    index('message_template').on(table.templateId).where(isNotNull(table.templateId)),
    index('message_subject').on(table.subject).where(isListed),
    index('message_round').on(table.roundId, table.state, table.sendAt).where(isNotNull(table.roundId)),
    index('message_draft')
      .on(table.updatedAt)
      .where(sql`state = 'draft'`),
    index('message_scheduled')
      .on(table.sendAt)
      .where(sql`state = 'scheduled'`),
  ],
);

/**
 * The message without tracking: what is shown here never counts as read. It stands apart from its message, whose row is
 * written with every event and read for every list.
 */
export const messageBody = sqliteTable('message_body', {
  messageId: integer()
    .primaryKey()
    .references(() => message.id, { onDelete: 'cascade' }),
  html: text().notNull(),
});

/** What a message of a round has besides its own: who it is for within the round. */
export const roundMember = sqliteTable('round_member', {
  messageId: integer()
    .primaryKey()
    .references(() => message.id, { onDelete: 'cascade' }),
  /** Order in the round, from 0. */
  position: integer().notNull(),
  /** Which wording is theirs, from 0. */
  wording: integer().notNull(),
  /** They got it because it was the better one, and not by chance. */
  isRest: integer({ mode: 'boolean' }).notNull().default(false),
  /** What else is known of them: cells of a sheet, by the names of their columns in lower case. */
  columns: text({ mode: 'json' }).$type<Record<string, string>>().notNull(),
  /** The draft’s revision when the round’s text was last filled in: at any other, it was changed by hand. */
  filledRevision: integer().notNull(),
  leftOut: integer({ mode: 'boolean' }).notNull().default(false),
});

/** The message as one recipient got it: what a token identifies. */
export const copy = sqliteTable(
  'copy',
  {
    id: integer().primaryKey({ autoIncrement: true }),
    messageId: integer()
      .notNull()
      .references(() => message.id, { onDelete: 'cascade' }),
    personId: integer()
      .notNull()
      .references(() => person.id),
    kind: text().$type<RecipientKind>().notNull(),
    name: text().notNull(),
    address: text().notNull(),
    state: text().$type<CopyState>().notNull(),
    /** Copies of one mail that a mail program submitted share the Message-ID it gave. */
    messageIdHeader: text().notNull(),
    imageToken: text().notNull().unique(),
    sentAt: integer(),
    /** The mail server's words, where it refused the copy or asked to try again. */
    lastError: text(),
    /** What became of the request for a delivery receipt (RFC 3461); null where none was asked for. */
    dsnState: text().$type<DsnState>(),
    /** What became of the request for a read receipt (RFC 8098); null where none was asked for. */
    mdnState: text().$type<MdnState>(),
    ...tally,
  },
  (table) => [
    index('copy_message').on(table.messageId),
    index('copy_message_id_header').on(table.messageIdHeader),
    // By these two it is known at once when somebody was last in touch with.
    index('copy_person').on(table.personId, table.sentAt),
    index('copy_replied').on(table.personId, table.lastReplyAt).where(isNotNull(table.lastReplyAt)),
    index('copy_not_sent')
      .on(table.state)
      .where(sql`state <> 'sent'`),
  ],
);

export const link = sqliteTable(
  'link',
  {
    id: integer().primaryKey({ autoIncrement: true }),
    messageId: integer()
      .notNull()
      .references(() => message.id, { onDelete: 'cascade' }),
    position: integer().notNull(),
    text: text().notNull(),
    url: text().notNull(),
    tracked: integer({ mode: 'boolean' }).notNull(),
    clicks: integer().notNull().default(0),
    lastClickAt: integer(),
  },
  (table) => [
    index('link_message').on(table.messageId),
    index('link_followed')
      .on(table.text, table.messageId)
      .where(sql`clicks > 0`),
  ],
);

/** The redirect of one link in one copy. */
export const copyLink = sqliteTable(
  'copy_link',
  {
    token: text().primaryKey(),
    copyId: integer()
      .notNull()
      .references(() => copy.id, { onDelete: 'cascade' }),
    linkId: integer()
      .notNull()
      .references(() => link.id, { onDelete: 'cascade' }),
  },
  (table) => [index('copy_link_copy').on(table.copyId), index('copy_link_link').on(table.linkId)],
);

/** A file of the library. Deleted, it stays for the messages that carried it. */
export const file = sqliteTable('file', {
  id: integer().primaryKey({ autoIncrement: true }),
  name: text().notNull(),
  addedAt: integer().notNull(),
  deletedAt: integer(),
});

/** One state of a file. Its bytes lie beside the database, by their SHA-256. */
export const fileVersion = sqliteTable(
  'file_version',
  {
    id: integer().primaryKey({ autoIncrement: true }),
    fileId: integer()
      .notNull()
      .references(() => file.id, { onDelete: 'cascade' }),
    number: integer().notNull(),
    sha256: text().notNull(),
    size: integer().notNull(),
    mediaType: text().notNull(),
    kind: text().$type<FileKind>().notNull(),
    pages: integer(),
    preparation: text().$type<Preparation>().notNull(),
    problem: text(),
    /** What an office file was turned into, to be shown page by page. */
    pagesSha256: text(),
    /** A picture of its first page; null for what has no pages. */
    firstPageSha256: text(),
    addedAt: integer().notNull(),
  },
  (table) => [
    index('file_version_file').on(table.fileId),
    // By which content of a file is looked for that nobody uses any more.
    index('file_version_sha256').on(table.sha256),
    index('file_version_pages_sha256').on(table.pagesSha256).where(isNotNull(table.pagesSha256)),
    index('file_version_first_page_sha256').on(table.firstPageSha256).where(isNotNull(table.firstPageSha256)),
    index('file_version_unprepared')
      .on(table.id)
      .where(sql`preparation in ('checking', 'waiting', 'converting')`),
  ],
);

/** A file as a message carried it: what holds for its link. */
export const sentFile = sqliteTable(
  'sent_file',
  {
    id: integer().primaryKey({ autoIncrement: true }),
    messageId: integer()
      .notNull()
      .references(() => message.id, { onDelete: 'cascade' }),
    fileId: integer()
      .notNull()
      .references(() => file.id),
    /** As it was called when it left. */
    name: text().notNull(),
    versionId: integer()
      .notNull()
      .references(() => fileVersion.id),
    followsNewest: integer({ mode: 'boolean' }).notNull(),
    mayDownload: integer({ mode: 'boolean' }).notNull(),
    asksAddress: integer({ mode: 'boolean' }).notNull(),
    endsAt: integer(),
    closedAt: integer(),
    views: integer().notNull().default(0),
    lastViewAt: integer(),
  },
  (table) => [
    index('sent_file_message').on(table.messageId),
    index('sent_file_file').on(table.fileId),
    index('sent_file_version').on(table.versionId),
  ],
);

/** The address of one file in one copy. */
export const copyFile = sqliteTable(
  'copy_file',
  {
    token: text().primaryKey(),
    copyId: integer()
      .notNull()
      .references(() => copy.id, { onDelete: 'cascade' }),
    sentFileId: integer()
      .notNull()
      .references(() => sentFile.id, { onDelete: 'cascade' }),
  },
  (table) => [index('copy_file_copy').on(table.copyId), index('copy_file_sent_file').on(table.sentFileId)],
);

/** One reader with one file, from opening it on. What was read are its events. */
export const reading = sqliteTable(
  'reading',
  {
    id: integer().primaryKey({ autoIncrement: true }),
    /** Its window names it by this; unguessable. */
    key: text().notNull().unique(),
    copyId: integer()
      .notNull()
      .references(() => copy.id, { onDelete: 'cascade' }),
    sentFileId: integer()
      .notNull()
      .references(() => sentFile.id, { onDelete: 'cascade' }),
    /** Which state of the file was shown. */
    versionId: integer().notNull(),
    /** The event of its opening. */
    eventId: integer().notNull(),
    startedAt: integer().notNull(),
    lastAt: integer().notNull(),
    /** What the reader gave, where it was asked for. */
    givenAddress: text(),
  },
  (table) => [
    index('reading_sent_file').on(table.sentFileId),
    index('reading_copy').on(table.copyId),
    index('reading_event').on(table.eventId),
  ],
);

/** A mail as a mail program submitted it, without Bcc: the sender's own copy, and what a copy is made from again. */
export const submission = sqliteTable('submission', {
  messageId: integer()
    .primaryKey()
    .references(() => message.id, { onDelete: 'cascade' }),
  raw: blob({ mode: 'buffer' }).notNull(),
});

/** Mail that is to leave. A row goes only when the server has said “250”, or has refused it for good. */
export const outbox = sqliteTable(
  'outbox',
  {
    copyId: integer()
      .primaryKey()
      .references(() => copy.id, { onDelete: 'cascade' }),
    envelopeFrom: text().notNull(),
    envelopeTo: text().notNull(),
    /** What its writer asks of delivery reports (RFC 3461); null for nothing besides what the message asks. */
    dsn: text({ mode: 'json' }).$type<Dsn>(),
    /** The mail, or what of it is this copy’s alone. */
    raw: blob({ mode: 'buffer' }).notNull(),
    /** How it is put together with what was submitted; null where `raw` is all of it. */
    pieces: text({ mode: 'json' }).$type<Piece[]>(),
    attempts: integer().notNull().default(0),
    createdAt: integer().notNull(),
    nextAttemptAt: integer().notNull(),
  },
  (table) => [index('outbox_next_attempt').on(table.nextAttemptAt)],
);

/** Each User-Agent header once, with what it tells. */
export const agent = sqliteTable('agent', {
  id: integer().primaryKey(),
  userAgent: text().notNull().unique(),
  device: text(),
  system: text(),
  program: text(),
  nature: text().$type<AgentNature>().notNull(),
});

export const event = sqliteTable(
  'event',
  {
    /** Grows in the order of commits: the live stream resumes after it. */
    id: integer().primaryKey({ autoIncrement: true }),
    at: integer().notNull(),
    kind: text().$type<EventKind>().notNull(),
    counted: integer({ mode: 'boolean' }).notNull(),
    reason: text(),
    messageId: integer()
      .notNull()
      .references(() => message.id, { onDelete: 'cascade' }),
    // Copies and links go only together with their message, so these need no foreign key, and no index for one.
    copyId: integer().notNull(),
    linkId: integer(),
    sentFileId: integer(),
    /** The mail that said so. */
    incomingId: integer(),
    readingId: integer(),
    /** Of a page that was read: which visit of its reading, which page, for how long. */
    visit: integer(),
    page: integer(),
    readMs: integer(),
    ip: text(),
    agentId: integer(),
    // What a hit is judged by besides, kept so that it can be judged anew; null and false are the usual.
    method: text(),
    purpose: text(),
    ownDevice: integer({ mode: 'boolean' }).notNull().default(false),
    dnt: integer({ mode: 'boolean' }).notNull().default(false),
    hosted: integer({ mode: 'boolean' }).notNull().default(false),
    active: integer({ mode: 'boolean' }).notNull().default(false),
    /** Where the address is, as closely as the settings want it known. */
    place: text(),
    /** Whether it notified, or is to. */
    notifies: integer({ mode: 'boolean' }).notNull().default(true),
    /** How likely it is a person’s, in percent, and names of the strongest evidence; null where a fact decides. */
    likelihood: integer(),
    evidence: text(),
    /** The network that it came over, where that is remembered, and what it taught of it. */
    networkId: integer(),
    lesson: text().$type<Lesson>(),
    /** The sender’s own verdict, which stands over every rule: whether it counts. */
    override: integer({ mode: 'boolean' }),
    /** How many requests a flood’s one row stands for. */
    times: integer().notNull().default(1),
  },
  (table) => [
    // All that a trail draws: its marks lie together here, where the rows of one message are strewn over the months.
    index('event_message_at').on(
      ...([table.messageId, table.at, table.kind, table.counted] as const),
      ...([table.linkId, table.sentFileId, table.incomingId] as const),
    ),
    index('event_at').on(table.at),
    index('event_reading')
      .on(table.readingId, table.visit)
      .where(sql`reading_id is not null`),
    index('event_network')
      .on(table.networkId, table.at)
      .where(sql`network_id is not null`),
  ],
);

/**
 * That a data centre asked for the page to opt out: evidence for what else it does, and no activity. Who asks for it from
 * elsewhere is not recorded.
 */
export const optOutVisit = sqliteTable(
  'opt_out_visit',
  {
    copyId: integer()
      .notNull()
      .references(() => copy.id, { onDelete: 'cascade' }),
    /** As the core names the network of a hit. */
    network: text().notNull(),
    /** The last time. */
    at: integer().notNull(),
  },
  (table) => [primaryKey({ columns: [table.copyId, table.network] }), index('opt_out_visit_at').on(table.at)],
);

/**
 * What networks were seen to be over all messages. Those of data centres, and others once a filter was seen there: where
 * people live is not remembered.
 */
export const network = sqliteTable(
  'network',
  {
    id: integer().primaryKey({ autoIncrement: true }),
    /** As the core names the network of a hit: an address, or a prefix. */
    prefix: text().notNull().unique(),
    // The core’s NetworkCounts.
    filter: real().notNull().default(0),
    people: real().notNull().default(0),
    at: integer().notNull(),
    /** What the user says that it is. */
    namedAs: text().$type<NetworkKind>(),
  },
  (table) => [index('network_at').on(table.at)],
);

/** What changed besides events, for the live stream: a message's state, or the list of drafts (messageId null). */
export const change = sqliteTable('change', {
  id: integer().primaryKey({ autoIncrement: true }),
  at: integer().notNull(),
  messageId: integer(),
  /** The event whose verdict was revised. */
  eventId: integer(),
  /** The reminder whose time has come. */
  reminderId: integer(),
  /** The check that has found that something does not work. */
  checkName: text().$type<CheckName>(),
});

/** A mail that came back for something that was sent here. All other mail is left where it is. */
export const incoming = sqliteTable(
  'incoming',
  {
    id: integer().primaryKey({ autoIncrement: true }),
    /** Its Message-ID, else the SHA-256 of its bytes: a mail that comes by two ways is one. */
    identity: text().notNull().unique(),
    kind: text().$type<IncomingKind>().notNull(),
    at: integer().notNull(),
    messageId: integer()
      .notNull()
      .references(() => message.id, { onDelete: 'cascade' }),
    /** Whose it is; null where it may be any recipient’s. */
    copyId: integer(),
    /** With angle brackets: what a reply to it goes on with. */
    messageIdHeader: text(),
    fromName: text().notNull(),
    fromAddress: text().notNull(),
    subject: text().notNull(),
    /** What its writer wrote, without quote and signature; of a report what it means, in a sentence. */
    words: text().notNull(),
    /** Why it only probably belongs here. */
    doubt: text(),
    /** What the user said of the doubt. */
    verdict: text().$type<IncomingVerdict>(),
    /** Cleaned; empty for what was not written by anybody. */
    html: text().notNull(),
    /** Why not all of it is shown. */
    problem: text(),
  },
  (table) => [index('incoming_message').on(table.messageId)],
);

/** A mail as it came, of which not all could be read: to be saved, and opened elsewhere. */
export const incomingOriginal = sqliteTable('incoming_original', {
  incomingId: integer()
    .primaryKey()
    .references(() => incoming.id, { onDelete: 'cascade' }),
  raw: blob({ mode: 'buffer' }).notNull(),
});

/** A mail that was submitted or brought and was not taken: why, and as it came where it came so far. */
export const refusedMail = sqliteTable('refused_mail', {
  id: integer().primaryKey({ autoIncrement: true }),
  at: integer().notNull(),
  way: text().$type<RefusedWay>().notNull(),
  fromAddress: text().notNull(),
  toAddress: text().notNull(),
  subject: text().notNull(),
  /** In words for the user. */
  problem: text().notNull(),
  raw: blob({ mode: 'buffer' }),
});

/**
 * A mail of the mailbox that is being read in, or could not be. Written before it is read, so that one which ends the
 * process is known after the restart.
 */
export const mailboxFailure = sqliteTable(
  'mailbox_failure',
  {
    id: integer().primaryKey({ autoIncrement: true }),
    path: text().notNull(),
    uidValidity: text().notNull(),
    uid: integer().notNull(),
    attempts: integer().notNull(),
    lastAttemptAt: integer().notNull(),
    /** When the mailbox got the mail. */
    receivedAt: integer().notNull(),
    fromAddress: text().notNull().default(''),
    subject: text().notNull().default(''),
    problem: text().notNull().default(''),
  },
  (table) => [uniqueIndex('mailbox_failure_uid').on(table.path, table.uidValidity, table.uid)],
);

/** Up to where a folder of the mailbox was looked through (RFC 9051, section 2.3.1). */
export const mailboxFolder = sqliteTable('mailbox_folder', {
  path: text().primaryKey(),
  /** As text: it may have 63 bits. */
  uidValidity: text().notNull(),
  lastUid: integer().notNull(),
});

/** A clean copy of what was sent, on its way into the folder of sent mail. */
export const sentCopy = sqliteTable('sent_copy', {
  messageId: integer()
    .primaryKey()
    .references(() => message.id, { onDelete: 'cascade' }),
});

/** An import of mail that was sent before Kiraku, so that it can be undone. */
export const historyImport = sqliteTable('history_import', {
  id: integer().primaryKey({ autoIncrement: true }),
  at: integer().notNull(),
  source: text().notNull(),
  withMessages: integer({ mode: 'boolean' }).notNull(),
});

export const historyMessage = sqliteTable(
  'history_message',
  {
    messageId: integer()
      .primaryKey()
      .references(() => message.id, { onDelete: 'cascade' }),
    importId: integer()
      .notNull()
      .references(() => historyImport.id),
  },
  (table) => [index('history_message_import').on(table.importId)],
);

/** To whom the imported mail went. */
export const historyPerson = sqliteTable(
  'history_person',
  {
    importId: integer()
      .notNull()
      .references(() => historyImport.id),
    personId: integer()
      .notNull()
      .references(() => person.id, { onDelete: 'cascade' }),
    /** Nobody knew them before. */
    isNew: integer({ mode: 'boolean' }).notNull(),
    /** How many messages to them it counted, and when the last of these was; nought where it imported the messages themselves. */
    messages: integer().notNull(),
    lastContactAt: integer().notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.importId, table.personId] }),
    index('history_person_person').on(table.personId),
  ],
);

export const reminder = sqliteTable(
  'reminder',
  {
    id: integer().primaryKey({ autoIncrement: true }),
    state: text().$type<ReminderState>().notNull(),
    dueAt: integer().notNull(),
    condition: text().$type<Condition>().notNull(),
    note: text().notNull(),
    byEmail: integer({ mode: 'boolean' }).notNull(),
    zone: text().notNull(),
    messageId: integer().references(() => message.id, { onDelete: 'cascade' }),
    personId: integer().references(() => person.id, { onDelete: 'set null' }),
    reason: text(),
    createdAt: integer().notNull(),
    endedAt: integer(),
    /** Whether the email about it is still to be sent. */
    emailPending: integer({ mode: 'boolean' }).notNull().default(false),
  },
  (table) => [
    index('reminder_open')
      .on(table.dueAt)
      .where(sql`state in ('waiting', 'due')`),
    index('reminder_message').on(table.messageId),
    index('reminder_person').on(table.personId).where(isNotNull(table.personId)),
    index('reminder_ended').on(table.endedAt),
  ],
);

/** Messages that follow one automatically while no reply comes. */
export const plan = sqliteTable(
  'plan',
  {
    id: integer().primaryKey({ autoIncrement: true }),
    messageId: integer()
      .notNull()
      .unique()
      .references(() => message.id, { onDelete: 'cascade' }),
    state: text().$type<PlanState>().notNull(),
    zone: text().notNull(),
    reason: text(),
    endedAt: integer(),
  },
  (table) => [
    index('plan_running')
      .on(table.id)
      .where(sql`state = 'running'`),
    index('plan_ended').on(table.endedAt),
  ],
);

export const planStep = sqliteTable(
  'plan_step',
  {
    id: integer().primaryKey({ autoIncrement: true }),
    planId: integer()
      .notNull()
      .references(() => plan.id, { onDelete: 'cascade' }),
    templateId: integer()
      .notNull()
      .references(() => template.id),
    condition: text().$type<StepCondition>().notNull(),
    workingDays: integer().notNull(),
    /** “09:30”; null for the hour at which they are most likely to read. */
    time: text(),
    state: text().$type<StepState>().notNull(),
    dueAt: integer(),
    /** The message that it became. */
    messageId: integer().references(() => message.id, { onDelete: 'set null' }),
    reason: text(),
  },
  (table) => [
    index('plan_step_plan').on(table.planId),
    index('plan_step_message').on(table.messageId),
    index('plan_step_template').on(table.templateId),
    index('plan_step_due')
      .on(table.dueAt)
      .where(sql`state = 'planned'`),
  ],
);
