import type { Condition, Mailbox, OpenFollowups, ReminderView, StepView } from '../contract/index.js';
import { capital, counted, whenWords } from '../time/words.js';
import { subjectText } from './event.js';
import { joined, personText } from './words.js';

/** By what a reminder or a follow-up waits: its condition, how it stands so far, and what to say where it no longer holds. */
const CONDITIONS: Record<Condition, { text: string; soFar: string }> = {
  'not-replied': { text: 'if there is no reply', soFar: 'no reply yet' },
  'not-opened': { text: 'if not opened', soFar: 'not opened yet' },
  'not-clicked': { text: 'if no link is clicked', soFar: 'no link clicked yet' },
  always: { text: 'in any case', soFar: 'your reminder' },
};

/** “if there is no reply”. */
export function conditionText(condition: Condition): string {
  return CONDITIONS[condition].text;
}

/** “no reply yet”. */
export function soFarText(condition: Condition): string {
  return CONDITIONS[condition].soFar;
}

/** What a reminder says: what it is about, and what is so, or the private note. */
export function reminderText(reminder: {
  condition: Condition;
  note: string;
  subject: string | null;
  person: Mailbox | null;
}): [title: string, detail: string] {
  const { condition, note, subject, person } = reminder;
  const who = person ? personText(person) : '';
  if (subject === null) return [note || `Get in touch with ${who}`, note && who];
  return [`${joined([who, subjectText({ subject })], ': ')}, ${soFarText(condition)}`, note];
}

/** How many reminders are due. */
export function dueTotalText(total: number): string {
  return counted(total, 'reminder');
}

/** “due since 20 Nov”. */
export function dueSinceText({ dueAt }: Pick<ReminderView, 'dueAt'>, now: number): string {
  return `due since ${whenWords(dueAt, now).replace(/^on /, '')}`;
}

/** When an open reminder is due, and under which condition. `at` is its time as it is shown. */
export function dueText({ state, dueAt, condition, message }: ReminderView, at: string, now: number): string {
  if (state === 'due') return joined([capital(dueSinceText({ dueAt }, now)), message && soFarText(condition)], ': ');
  return joined([at, message && conditionText(condition)], ', ');
}

/** Why a reminder has ended, and when. */
export function endedText({ state, reason, endedAt }: ReminderView, now: number): string {
  const when = endedAt !== null && whenWords(endedAt, now);
  return state === 'resolved' ? `${joined([reason, when])}: not needed any more` : joined(['Done', when]);
}

/** Where one follow-up of a plan stands, completing its name. `at` is the time at which it is due, as it is shown. */
export function stepText({ state, reason, workingDays, time }: StepView, at: string | null): string {
  if (state === 'sent') return 'was sent';
  if (state === 'skipped') return `was skipped: ${reason?.toLowerCase()}`;
  if (state === 'stopped') return 'is not sent';
  if (reason !== null) return `waits: ${reason.charAt(0).toLowerCase()}${reason.slice(1)}`;
  if (at !== null) return `will be sent ${at}`;
  return `${counted(workingDays, 'working day')} after the previous message, ${time ?? 'at the best time'}`;
}

/** Why a plan has ended: “All messages were sent”, “Replied: no more messages are sent”. */
export function planEndText(isDone: boolean, reason: string | null): string {
  return isDone ? 'All messages were sent' : `${capital(reason ?? 'Stopped')}: no more messages are sent`;
}

/** How many reminders and plans are open. */
export function followupsSentence({ due, waiting, running }: OpenFollowups): string {
  const plans = `${counted(running, 'conversation')} with automatic follow-ups.`;
  return `${counted(due, 'reminder')} due, ${waiting} waiting; ${plans}`;
}

/** That more are open than are shown; nothing where all are. */
export function laterFollowupsSentence(open: OpenFollowups, shown: OpenFollowups): string {
  const reminders = open.due + open.waiting - shown.due - shown.waiting;
  const plans = open.running - shown.running;
  const more = [
    reminders > 0 && counted(reminders, 'more reminder'),
    plans > 0 && `${counted(plans, 'more conversation')} with automatic follow-ups`,
  ].filter((text) => text !== false);
  return more.length === 0 ? '' : `Those due first are shown, and not ${more.join(' and ')}.`;
}

/** What was set: “A reminder for Mon 30 Nov, 09:00”, “2 reminders for …”. `at` is the time as it is shown. */
export function remindersSetText(count: number, at: string): string {
  return `${count === 1 ? 'A reminder' : counted(count, 'reminder')} for ${at}`;
}

/** A time that was read from words. `at` is the time as it is shown. */
export function readTimeSentence(at: string, isFromSending: boolean): string {
  return `${isFromSending ? 'Sent now, that is' : 'That is'} ${at}.`;
}

/** What stands in a calendar that names nobody. */
export const CALENDAR_TITLES = { reminder: 'Reminder', followup: 'Automatic follow-up' } as const;
