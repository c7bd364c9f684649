import type { Condition, EventView, Mailbox, Mark, Notice, NoticeKind } from '../contract/index.js';
import { capital, counted, durationWords, HOUR, MINUTE } from '../time/words.js';
import { deviceWords, noticeWords, personWords, subjectWords } from '../tracking/notice.js';
import { HEATING_OPENS, SILENCE_MS, times } from '../tracking/standing.js';

/** An open after as long as this without one is told anew. */
export const PAUSE_MS = 30 * MINUTE;
/** What happens within this time is told together. */
const BURST_MS = 10 * MINUTE;

interface View {
  event: EventView;
  /** What the same recipient did with the same message before, as far as it counts, oldest first. */
  before: readonly Mark[];
  /** The opens among it. */
  opens: readonly Mark[];
}

/** What makes a notice of each kind, in the order in which they are looked for; the first that is given stands. */
const KINDS: readonly { kind: NoticeKind; given(view: View): boolean; words?(view: View): [string, string] }[] = [
  {
    kind: 'came_back',
    given: ({ event, opens }) => event.kind === 'opened' && opens.length > 0 && sinceLast(event, opens) >= SILENCE_MS,
    words: ({ event, opens }) => [
      `${personWords(event.recipient)} came back to ${subjectWords(event)}`,
      `After ${durationWords(sinceLast(event, opens))} of silence`,
    ],
  },
  {
    kind: 'heating_up',
    // With the open that makes it so, and not with those that follow.
    given: ({ event, opens }) => event.kind === 'opened' && within(event, opens, HOUR).length === HEATING_OPENS - 1,
    words: ({ event }) => [
      `${personWords(event.recipient)} is busy with ${subjectWords(event)}`,
      `${capital(times('opened', HEATING_OPENS))} within the hour`,
    ],
  },
  { kind: 'opened_first', given: ({ event, opens }) => event.kind === 'opened' && opens.length === 0 },
  { kind: 'opened_again', given: ({ event, opens }) => event.kind === 'opened' && sinceLast(event, opens) >= PAUSE_MS },
  { kind: 'clicked', given: ({ event }) => event.kind === 'clicked' },
  { kind: 'file_viewed', given: ({ event }) => event.kind === 'file_viewed' },
  { kind: 'answered', given: ({ event }) => event.kind === 'answered', words: answerWords },
  { kind: 'bounced', given: ({ event }) => event.kind === 'bounced' },
  { kind: 'opted_out', given: ({ event }) => event.kind === 'opted_out' },
];

/**
 * What an event is told as.
 *
 * @param before the counted marks of the same copy up to the event, oldest first
 * @returns null where it is not told: set aside, silenced, or of a kind that is not
 */
export function noticeOf(event: EventView, before: readonly Mark[]): Omit<Notice, 'by'> | null {
  if (!event.counted || !event.rings) return null;
  const view = { event, before, opens: before.filter((mark) => mark.kind === 'opened') };
  const found = KINDS.find(({ given }) => given(view));
  // Of all that is told, only opens come in bursts of which the later ones ring nobody.
  if (!found && event.kind !== 'opened') return null;
  const [title, detail] = found?.words?.(view) ?? [noticeWords(event), burstWords(view) ?? deviceWords(event)];
  const { eventId, at, messageId } = event;
  return { eventId, at, path: `/sent/${messageId}`, tag: tagOf(event), kind: found?.kind ?? null, title, detail };
}

/** A reminder whose time has come, as far as it is told. */
export interface ToldReminder {
  id: number;
  dueAt: number;
  condition: Condition;
  note: string;
  messageId: number | null;
  subject: string | null;
  person: Mailbox | null;
}

/** “Marit Oakes: “Panels for the reading room” is not answered”. */
export function noticeOfReminder({ id, dueAt, ...told }: ToldReminder): Omit<Notice, 'by'> {
  const { messageId } = told;
  const path = messageId === null ? '/followups' : `/sent/${messageId}`;
  const [title, detail] = reminderWords(told);
  return { eventId: 0, at: dueAt, path, tag: `reminder ${id}`, kind: 'reminder_due', title, detail };
}

const SO_FAR: Record<Condition, string> = {
  unanswered: 'not answered yet',
  unopened: 'not opened yet',
  unfollowed: 'no link followed yet',
  always: 'you wanted to be reminded',
};

/** “not answered yet”. */
export function soFarWords(condition: Condition): string {
  return SO_FAR[condition];
}

/** What a reminder says: what it is about, and what is so, or what one wrote for oneself. */
export function reminderWords({
  condition,
  note,
  subject,
  person,
}: Pick<ToldReminder, 'condition' | 'note' | 'subject' | 'person'>): [title: string, detail: string] {
  const who = person ? personWords(person) : '';
  if (subject === null) return [note || `Get in touch with ${who}`, note && who];
  const about = [who, subjectWords({ subject })].filter(Boolean).join(': ');
  return [`${about}, ${soFarWords(condition)}`, note];
}

/** How an answer begins stands below who gave it. */
function answerWords({ event }: View): [string, string] {
  return [`${personWords(event.recipient)} answered ${subjectWords(event)}`, event.label ?? ''];
}

/** What is told of one recipient doing the same with the same letter belongs together. */
export function tagOf({ copyId, kind }: Pick<EventView, 'copyId' | 'kind'>): string {
  return `${copyId} ${kind}`;
}

/** “Opened 3 times in 10 minutes”; null for what happened once. */
function burstWords({ event, before }: View): string | null {
  const alike = before.filter((mark) => mark.kind === event.kind);
  const count = within(event, alike, BURST_MS).length + 1;
  if (count === 1) return null;
  if (event.kind === 'opened') return `${capital(times('opened', count))} in 10 minutes`;
  return event.kind === 'clicked' ? `${counted(count, 'click')} in 10 minutes` : null;
}

function within(event: EventView, marks: readonly Mark[], lengthMs: number): Mark[] {
  return marks.filter((mark) => event.at - mark.at < lengthMs);
}

function sinceLast(event: EventView, marks: readonly Mark[]): number {
  return event.at - (marks.at(-1)?.at ?? -Infinity);
}
