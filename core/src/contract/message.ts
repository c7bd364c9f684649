import type { EventKind, EventView, TrailEvent } from './event.js';
import type { DraftFile, SentFile } from './file.js';
import type { DraftPlan, DraftReminder } from './draftFollowup.js';
import type { Disposition } from './incoming.js';
import type { Mailbox, Recipient } from './mailbox.js';
import type { Page } from './page.js';
import type { Tally } from './tally.js';

/** `scheduled`: it leaves at a time, and can be called back until then. */
export type MessageState = 'draft' | 'scheduled' | 'queued' | 'sent' | 'failed';
export type CopyState = 'queued' | 'sent' | 'failed';
/** Written at the desk, submitted by a mail program, or sent before Kiraku and imported. */
export type MessageOrigin = 'written' | 'submitted' | 'imported';
/**
 * What became of the request for a delivery receipt: the outgoing server offers none (RFC 3461), it was asked, or what it
 * said since. A mail that is refused later has failed without any request.
 */
export type DsnState = 'not-offered' | 'asked' | 'delayed' | 'relayed' | 'delivered' | 'failed';
/** What became of the request for a read receipt: it was asked for, or what the recipient’s program said (RFC 8098). */
export type MdnState = 'asked' | Disposition;

/** How a message repeats. */
export interface Recurrence {
  /** An RRULE value (RFC 5545, section 3.3.10), without DTSTART. */
  rule: string;
  /** By whose clocks (IANA). */
  zone: string;
}

/** What a draft consists of, and what the page sends to save it. */
export interface DraftContent {
  recipients: Recipient[];
  subject: string;
  /** The body as HTML, as the editor wrote it. */
  html: string;
  trackOpens: boolean;
  trackClicks: boolean;
  /** Whether a line tells recipients about tracking, and leads to the page to opt out. */
  disclose: boolean;
  /** Whether the mail server is asked to report when it has delivered (RFC 3461). */
  requestDsn: boolean;
  /** Whether the recipient's program is asked to report when it was shown (RFC 8098). */
  requestMdn: boolean;
  /** For how many days after sending activity on it counts; null for as long as the settings say. */
  trackForDays: number | null;
  /** For oneself; never sent. */
  note: string;
  templateId: number | null;
  /** Message-IDs of the conversation that it goes on with, oldest first. */
  conversation: string[];
  /** What is to remind of it, and what is to follow it, from when it leaves; null for nothing. */
  reminder: DraftReminder | null;
  plan: DraftPlan | null;
  /** What travels with it. Where the message has no place for a file’s link, it follows at the end. */
  files: DraftFile[];
}

export interface Draft extends DraftContent {
  id: number;
  /** Counts up with each save; a save must name the revision it started from. */
  revision: number;
  updatedAt: number;
}

/** A row of the list of drafts. */
export type DraftRow = Pick<Draft, 'id' | 'recipients' | 'subject' | 'updatedAt'>;

export interface DraftsPage extends Page {
  drafts: DraftRow[];
  /** How many there are. */
  total: number;
}

/** A row of the sent list. */
export interface MessageSummary {
  id: number;
  state: Exclude<MessageState, 'draft'>;
  subject: string;
  recipients: Recipient[];
  origin: MessageOrigin;
  /** Why nothing of it is tracked although it was wanted; null where it is. */
  untrackedReason: string | null;
  /** How it repeats; only while it is scheduled. */
  recurrence: Recurrence | null;
  /** Company of the first recipient, as far as it is known. */
  company: string;
  trackOpens: boolean;
  trackClicks: boolean;
  /** When Send was pressed. */
  queuedAt: number;
  /** When a scheduled message is to leave. */
  sendAt: number | null;
  /** When the first copy was accepted by the outgoing mail server. */
  sentAt: number | null;
  /** The last counted event, or the sending where there was none yet. */
  lastActivityAt: number;
  /** When some of the activity to it was forgotten; null where all is there. */
  forgottenAt: number | null;
  tally: Tally;
  /** The newest events of the trail, oldest first. */
  trailEvents: TrailEvent[];
  /** Which of several recipients did something last, and which replied first; null where there is one, or none did. */
  lastActor: Mailbox | null;
  firstReplier: Mailbox | null;
  /** How many recipients show no sign of reading. */
  withoutSign: number;
  /** What the mail server said, where a copy was refused or is being tried again. */
  lastError: string | null;
  /** It notifies nobody. */
  muted: boolean;
  archived: boolean;
  hasNote: boolean;
}

/** The message as one recipient got it. */
export interface CopyView {
  id: number;
  personId: number;
  recipient: Recipient;
  company: string;
  /** As one writes it; empty where none is known. */
  phone: string;
  state: CopyState;
  messageIdHeader: string;
  sentAt: number | null;
  lastError: string | null;
  nextAttemptAt: number | null;
  dsnState: DsnState | null;
  mdnState: MdnState | null;
  /** Whether they are written to without tracking. */
  doNotTrack: boolean;
  tally: Tally;
  /** Who reads it, as far as one can tell, in the order of their first open. */
  readers: Reader[];
  /** Whether it seems to have gone on to somebody else; null where nothing suggests it. */
  passedOn: PassedOn | null;
}

/** Somebody who, as far as one can tell, reads a copy: one device with one program, over whatever networks it went. */
export interface Reader {
  device: string | null;
  system: string | null;
  program: string | null;
  /** Where they were seen, each place once, the latest last. */
  places: string[];
  hits: number;
  firstAt: number;
  lastAt: number;
}

/** How likely it is that a copy went on to somebody else; never a fact. */
export interface PassedOn {
  certainty: 'perhaps' | 'likely';
  reason: string;
}

/** A link of the message with what is known about it over all copies. */
export interface LinkView {
  id: number;
  /** Order in the message, from 0; the same address twice is two links. */
  position: number;
  text: string;
  url: string;
  tracked: boolean;
  clicks: number;
  lastClickAt: number | null;
}

/** A mark of the chart: by whom, on what. */
export interface ChartEvent extends TrailEvent {
  messageId: number;
  copyId: number;
  device: string | null;
  system: string | null;
  program: string | null;
}

/** This message only, or the whole conversation that it belongs to. */
export const HISTORY_SCOPES = ['message', 'conversation'] as const;
export type HistoryScope = (typeof HISTORY_SCOPES)[number];

/** Which part of a history is shown. */
export interface HistoryFilter {
  scope: HistoryScope;
  kind: EventKind | null;
  /** Number of a recipient’s copy, and of a link. */
  copy: number | null;
  link: number | null;
  /** With what was not counted. */
  notCounted: boolean;
  /** From this time on, and before the other; epoch milliseconds. */
  from: number | null;
  to: number | null;
}

export interface MessageDetail {
  summary: MessageSummary;
  note: string;
  /** The name of the template it came from. */
  template: string | null;
  disclose: boolean;
  requestMdn: boolean;
  /** For how many days after sending activity on it counts; null for as long as the settings say. */
  trackForDays: number | null;
  /** Why it does not repeat although it was to; null where it does, or was not to. */
  recurrenceProblem: string | null;
  /** Header fields that were taken out of what another mail program submitted: they no longer fitted. */
  removedFields: string[];
  sender: Mailbox;
  copies: CopyView[];
  links: LinkView[];
  files: SentFile[];
  /** The newest events, newest first. */
  events: EventView[];
  eventsTotal: number;
}

/** A part of the activity, the newest first. */
export interface HistoryPage extends Page {
  events: EventView[];
}

/** A mail that has not left, or could not. */
export interface OutboxCopy {
  copyId: number;
  messageId: number;
  subject: string;
  recipient: Recipient;
  state: CopyState;
  attempts: number;
  /** Since when it waits. */
  createdAt: number;
  /** When it is tried again; null for one that failed. */
  nextAttemptAt: number | null;
  /** The mail server's own words. */
  lastError: string | null;
}

/** A draft as its recipients will see it. */
export interface Preview {
  /** The message, showing its pictures by itself. */
  html: string;
  text: string;
  /** The mail as it will leave, cut short where it is very long. */
  source: string;
}

export interface TemplateView {
  id: number;
  name: string;
  subject: string;
  html: string;
  /** What a message that begins with it is to be reminded of; null for nothing. */
  reminder: DraftReminder | null;
  /** What such a message carries. Where its text has no place for a file’s link, it follows at the end. */
  files: DraftFile[];
  /** Where it stands in their list; empty for the top of it. */
  folder: string;
  updatedAt: number;
}

/** A template in their list, with what became of the messages that began with it. */
export interface TemplateRow extends TemplateView {
  /** How many were sent, when last, and how many of them were replied to. */
  messages: number;
  lastSentAt: number | null;
  replied: number;
}

export interface SignatureView {
  id: number;
  name: string;
  html: string;
}
