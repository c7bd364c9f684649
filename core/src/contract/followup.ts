import type { Condition, DraftStep } from './draftFollowup.js';
import type { Mailbox } from './mailbox.js';
import type { MessageSummary } from './message.js';

/** `due`: it asks for something. `resolved`: what it waited for has happened, so it never asked. */
export type ReminderState = 'waiting' | 'due' | 'done' | 'resolved';

export interface ReminderView {
  id: number;
  state: ReminderState;
  dueAt: number;
  condition: Condition;
  note: string;
  byEmail: boolean;
  /** By whose clocks (IANA). */
  zone: string;
  /** What it is about; null for what is about nothing that was sent. */
  message: MessageSummary | null;
  /** Whom it is about, where that is one person. */
  person: (Mailbox & { id: number; phone: string }) | null;
  /** Why it went away by itself; null where it did not. */
  reason: string | null;
  /** When it was done, or went away by itself. */
  endedAt: number | null;
}

/** `skipped`: its condition no longer held, and the next one was looked at. */
export type StepState = 'planned' | 'sent' | 'skipped' | 'stopped';
export type PlanState = 'running' | 'stopped' | 'done';

export interface StepView extends DraftStep {
  id: number;
  state: StepState;
  /** When it is to leave, or left; null as long as one before it has not. */
  dueAt: number | null;
  template: string;
  /** The message that it became. */
  messageId: number | null;
  /** Why it waits although its time has come; null where it does not. */
  reason: string | null;
}

export interface PlanView {
  id: number;
  state: PlanState;
  /** The message that it follows. */
  message: MessageSummary;
  zone: string;
  /** Why it was stopped. */
  reason: string | null;
  endedAt: number | null;
  steps: StepView[];
}

/** How many reminders and automatic follow-ups are open. */
export interface OpenFollowups {
  due: number;
  waiting: number;
  /** Plans of which a message is still to be sent. */
  running: number;
}

/** Reminders and automatic follow-ups. */
export interface FollowupsView {
  reminders: ReminderView[];
  plans: PlanView[];
  /** How many are open in all: those that are due first are among these. */
  open: OpenFollowups;
  /** Whether a reply would be seen: else no step is sent. */
  replyProblem: string | null;
}

/** At which hour somebody is most likely to read, and how far that can be relied on. */
export interface BestSendTime {
  /** From Monday (0). */
  weekday: number;
  hour: number;
  /** When that is next, in epoch milliseconds. */
  at: number;
  /** That an open of theirs falls within this hour, of all hours of a week. */
  probability: number;
  /** In words: by whose opens, and how many. */
  basis: string;
}

/** How the calendar of what is to come can be subscribed to. */
export interface CalendarRequest {
  /** Whether at the public address, so that programs which cannot reach the desk can. */
  isPublic: boolean;
  /** Whether it says of whom and of what it is, and not only when. */
  withNames: boolean;
}

export interface CalendarView extends CalendarRequest {
  /** Its secret address: whole at the public address, without its origin at the desk; null where there is none. */
  address: string | null;
}
