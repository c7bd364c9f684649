import type { TrailEvent } from './event.js';
import type { Mailbox } from './mailbox.js';
import type { MessageSummary } from './message.js';
import type { Page } from './page.js';

/** What is known of a person and can stand in a file. */
export const PERSON_FIELDS = ['name', 'address', 'company', 'phone', 'zone', 'note', 'tags', 'doNotTrack'] as const;
export type PersonField = (typeof PERSON_FIELDS)[number];

/** Which column of a sheet holds which field; −1 where none seems to. */
export type Columns = Record<PersonField, number>;

/** Somebody who was written to. */
export interface PersonView {
  id: number;
  name: string;
  address: string;
  company: string;
  /** How many messages went to them: suggestions come most written-to first. */
  messages: number;
  /** They are written to without tracking. */
  doNotTrack: boolean;
}

/** What is known of an address that a message is to go to. */
export interface RecipientView extends Mailbox {
  /** The number of their person; null where nobody is known. Two addresses can be one person’s. */
  personId: number | null;
  company: string;
  /** How many messages went to them. */
  messages: number;
  /** They are written to without tracking. */
  doNotTrack: boolean;
  /** What an unknown address was perhaps meant to be; null where nothing is near. */
  lookalike: string | null;
}

/** A row of the list of people. */
export interface PersonRow extends PersonView {
  phone: string;
  zone: string;
  muted: boolean;
  /** When they declined tracking themselves. */
  optedOutAt: number | null;
  /** What they did over all their messages. */
  opens: number;
  clicks: number;
  replies: number;
  lastEventAt: number | null;
  /** The user’s own words for them, by alphabet. */
  tags: string[];
  /** When the last message went to them or a reply came from them. */
  lastContactAt: number | null;
  /** When the next reminder about them is due, or was. */
  nextReminderAt: number | null;
}

/** Whom the list of people shows. */
export const PEOPLE_SHOWN = [
  'all',
  'replied',
  'not-replied',
  'not-written',
  'reminder',
  'muted',
  'not-tracked',
] as const;
export type PeopleShown = (typeof PEOPLE_SHOWN)[number];

export const PEOPLE_ORDERS = ['name', 'lastContact', 'longestSilence', 'messages', 'company'] as const;
export type PeopleOrder = (typeof PEOPLE_ORDERS)[number];

/** Everything that narrows and sorts the list of people. */
export interface PeopleFilter {
  show: PeopleShown;
  /** One of the user’s tags; empty for any. */
  tag: string;
  /** Last contact from this time on, and before the other; epoch milliseconds. */
  contactFrom: number | null;
  contactTo: number | null;
  /** Part of a name, an address, a company or a tag. */
  words: string;
  order: PeopleOrder;
}

/** A tag, with how many people have it. */
export interface TagView {
  tag: string;
  people: number;
}

export interface PeoplePage extends Page {
  people: PersonRow[];
  /** How many there are by the filter. */
  total: number;
}

/** People who share a mail domain. */
export interface CompanyRow {
  domain: string;
  /** The name that most of them have as their company; empty where none is known. */
  company: string;
  people: number;
  messages: number;
}

/** People who may be one: they have the same name. */
export interface Duplicates {
  name: string;
  people: Pick<PersonView, 'id' | 'name' | 'address' | 'company' | 'messages'>[];
}

/** When and with what somebody reads, and what became of all they were sent. */
export interface PersonReading {
  /** Times of counted opens, newest first; of very many, the newest. */
  readTimes: number[];
  /** With what they read most, the most used first. */
  devices: { device: string | null; system: string | null; program: string | null; opens: number }[];
  /** The newest events over all their messages, oldest first. */
  trailEvents: TrailEvent[];
  firstSentAt: number | null;
  /** The newest messages to them. */
  messages: MessageSummary[];
  messagesTotal: number;
  eventsTotal: number;
  lastContactAt: number | null;
  nextReminderAt: number | null;
  /** Other addresses of theirs. */
  merged: Pick<PersonView, 'id' | 'address'>[];
}

export type SheetFormat = 'csv' | 'vcard';
export const IMPORT_ACTIONS = ['new', 'change', 'same', 'refused'] as const;
export type ImportAction = (typeof IMPORT_ACTIONS)[number];

/** What becomes of one entry of a file of people. */
export interface ImportRow {
  /** In the file, from 1. */
  entry: number;
  action: ImportAction;
  name: string;
  address: string;
  /** Why it is refused; null where it is not. */
  problem: string | null;
}

/** What an import would do, or has done. */
export interface ImportReport {
  /** The heads of a CSV file’s columns, with the first entry for each. */
  heads: string[];
  sample: string[];
  columns: Columns;
  counts: Record<ImportAction, number>;
  /** The first entries, those that are refused before the others. */
  rows: ImportRow[];
  applied: boolean;
}
