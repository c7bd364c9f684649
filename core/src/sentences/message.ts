import type { LinkView, MessageDetail, MessageSummary, Recipient, SentFile, TrailEvent } from '../contract/index.js';
import { isOf } from '../activity/kinds.js';
import { OVERDUE_MS } from '../delivery/schedule.js';
import { MESSAGE_LIMITS } from '../message/limits.js';
import {
  appointmentWords,
  capital,
  counted,
  dateWords,
  DAY,
  durationWords,
  exactWords,
  HOUR,
  MINUTE,
  whenWords,
} from '../time/words.js';
import { COMEBACK_MS, HEATING_UP_OPENS, isNow } from '../tracking/recency.js';
import { addToTally, EMPTY_TALLY } from '../tracking/tally.js';
import { isolated, joined, namesText, personText, quoted, times } from './words.js';

/** `now`: it happens this moment; `needs-you`: something to do; `plain`: all else. */
export type Tone = 'now' | 'needs-you' | 'plain';

export interface MessageStatus {
  tone: Tone;
  text: string;
}

interface View {
  message: MessageSummary;
  now: number;
  zone?: string;
}

/** So many recipients of one kind are named above a message. */
const MAX_ADDRESSED_NAMES = 5;

/** The sentences in the order of what matters most; the first that applies is used. */
const SENTENCES: { tone: Tone | ((view: View) => Tone); text(view: View): string | null }[] = [
  {
    tone: 'needs-you',
    text: ({ message }) =>
      message.state === 'failed' ? `Could not be delivered: ${message.lastError ?? 'refused'}` : null,
  },
  {
    tone: ({ message, now }) => (now - (message.sendAt ?? now) > OVERDUE_MS ? 'needs-you' : 'plain'),
    text: ({ message: { state, sendAt }, now, zone }) => {
      if (state !== 'scheduled' || sendAt === null) return null;
      if (now - sendAt > OVERDUE_MS)
        return `Should have been sent ${whenWords(sendAt, now, zone)}: send it now, or move it back to drafts`;
      return sendAt - now < MINUTE ? 'Will be sent in a moment' : `Scheduled for ${appointmentWords(sendAt, zone)}`;
    },
  },
  {
    tone: 'plain',
    text: ({ message }) => {
      if (message.state !== 'queued') return null;
      return message.lastError ? `Will be retried: ${message.lastError}` : 'Sending';
    },
  },
  {
    tone: 'plain',
    text: ({ message }) => {
      const { tally, sentAt, firstReplier } = message;
      if (tally.repliedAt === null) return null;
      const after = `replied after ${durationWords(tally.repliedAt - (sentAt ?? tally.repliedAt))}`;
      return firstReplier ? `${personText(firstReplier)} ${after}${notYet(message)}` : capital(after);
    },
  },
  { tone: lively, text: oneOfSeveral },
  { tone: 'now', text: readingNow },
  { tone: 'now', text: heatingUp },
  { tone: 'needs-you', text: cameBack },
  { tone: lively, text: opened },
  {
    tone: lively,
    text: ({ message }) => {
      const did = activity(message).join('; ');
      if (did === '') return null;
      return message.trackOpens ? `Read, images blocked: ${did}` : capital(did);
    },
  },
  {
    tone: 'plain',
    text: ({ message: { untrackedReason, trackOpens, trackClicks } }) => {
      if (untrackedReason !== null) return `Sent, not tracked: ${untrackedReason}`;
      return trackOpens || trackClicks ? null : 'Sent without tracking';
    },
  },
  {
    tone: 'plain',
    text: ({ message: { tally, forgottenAt }, now, zone }) =>
      forgottenAt === null || tally.lastEventAt !== null
        ? null
        : `Its activity was deleted ${whenWords(forgottenAt, now, zone)}, as you set`,
  },
  {
    tone: 'plain',
    text: ({ message: { tally, trailEvents } }) => {
      const machines = trailEvents.filter(({ kind, counted: counts }) => kind === 'replied' && !counts).length;
      const parts = [
        machines > 0 && 'an automatic reply came',
        tally.notCounted > machines && `${automatic(tally.notCounted - machines)} not counted`,
      ];
      return ['No sign of reading yet', ...parts.filter(Boolean)].join('; ');
    },
  },
];

/**
 * One sentence that says where a message stands, with its tone.
 *
 * @param now epoch milliseconds
 * @param zone IANA name; the machine's own where it is left out
 * @example messageStatus(message, Date.now()).text // Opened 3 times, last 4 minutes ago; clicked “price list”
 */
export function messageStatus(message: MessageSummary, now: number, zone?: string): MessageStatus {
  const view = { message, now, zone };
  for (const sentence of SENTENCES) {
    const text = sentence.text(view);
    if (text === null) continue;
    const tone = typeof sentence.tone === 'function' ? sentence.tone(view) : sentence.tone;
    return { tone, text: message.state === 'sent' && message.lastError ? `${text}. ${message.lastError}` : text };
  }
  throw new Error('The last sentence always applies');
}

/** The text alternative of a trail. */
export function trailText(
  trailEvents: readonly TrailEvent[],
  sentAt: number | null,
  now: number,
  zone?: string,
): string {
  const tally = trailEvents.reduce(addToTally, EMPTY_TALLY);
  const parts = [
    sentAt === null ? 'Not sent yet' : `Sent ${whenWords(sentAt, now, zone)}`,
    tally.lastOpenAt !== null && `${times('opened', tally.opens)}, last ${whenWords(tally.lastOpenAt, now, zone)}`,
    tally.lastClickAt !== null && `${counted(tally.clicks, 'click')}, last ${whenWords(tally.lastClickAt, now, zone)}`,
    tally.fileViews > 0 && counted(tally.fileViews, 'file view'),
    tally.repliedAt !== null && `replied ${whenWords(tally.repliedAt, now, zone)}`,
    tally.notCounted > 0 && `${tally.notCounted} not counted`,
    tally.lastEventAt === null && 'no sign of reading yet',
  ];
  return parts.filter(Boolean).join('; ');
}

/** Who of several recipients did what last, and how many have not: “Marit Oakes opened it just now; 2 of 3 not yet”. */
function oneOfSeveral({ message, now, zone }: View): string | null {
  const { lastActor, trailEvents, tally } = message;
  if (!lastActor || tally.lastEventAt === null) return null;
  const last = trailEvents.findLast(({ counted: counts, kind }) => counts && isOf('activity', kind));
  if (!last) return null;
  const who = personText(lastActor);
  const did = isReading(message, now)
    ? `is reading ${last.label ? quoted(last.label) : 'a file'}`
    : `${LAST_ACTIONS[last.kind]?.(last.label ? quoted(last.label) : null) ?? 'opened it'} ${whenWords(tally.lastEventAt, now, zone)}`;
  return `${who} ${did}${notYet(message)}`;
}

/** What somebody did last, where it is not opening the message. */
const LAST_ACTIONS: Partial<Record<TrailEvent['kind'], (name: string | null) => string>> = {
  clicked: (name) => `clicked ${name ?? 'a link'}`,
  file_viewed: (name) => `viewed ${name ?? 'a file'}`,
  downloaded: (name) => `downloaded ${name ?? 'a file'}`,
};

function notYet({ withoutSign, recipients }: MessageSummary): string {
  return withoutSign === 0 ? '' : `; ${withoutSign} of ${recipients.length} not yet`;
}

/** Whether the last that was done is a file that is being read. */
function isReading({ trailEvents, tally: { lastEventAt } }: MessageSummary, now: number): boolean {
  const last = trailEvents.findLast((mark) => mark.counted);
  return last?.kind === 'file_viewed' && lastEventAt !== null && isNow(lastEventAt, now);
}

function lively({ message, now }: View): Tone {
  return message.tally.lastEventAt !== null && isNow(message.tally.lastEventAt, now) ? 'now' : 'plain';
}

function heatingUp({ message, now }: View): string | null {
  const recent = message.trailEvents.filter((mark) => mark.counted && mark.kind === 'opened' && now - mark.at < HOUR);
  if (recent.length < HEATING_UP_OPENS) return null;
  return `${capital(times('opened', recent.length))} within the hour${tail(message)}`;
}

function cameBack({ message, now, zone }: View): string | null {
  const [last, before] = message.trailEvents.filter((mark) => mark.counted && mark.kind === 'opened').reverse();
  if (!last || !before || last.at - before.at < COMEBACK_MS || now - last.at > DAY) return null;
  return `Came back after ${durationWords(last.at - before.at)}: opened ${whenWords(last.at, now, zone)}`;
}

function opened({ message, now, zone }: View): string | null {
  const { opens, uncertainOpens, lastOpenAt } = message.tally;
  if (lastOpenAt === null) return null;
  const when = whenWords(lastOpenAt, now, zone);
  const unsure = uncertainOpens > 0 ? `, ${opens === 1 ? '' : `${uncertainOpens} `}uncertain` : '';
  return `${capital(times('opened', opens))}${unsure}, ${opens === 1 ? when : `last ${when}`}${tail(message)}`;
}

/** A file that was opened last, and is being read. */
function readingNow({ message, now }: View): string | null {
  if (!isReading(message, now)) return null;
  const last = message.trailEvents.findLast((mark) => mark.counted)!;
  return `Reading ${last.label ? quoted(last.label) : 'a file'}`;
}

/** What they did besides opening it, as the end of a sentence. */
function tail(message: MessageSummary): string {
  return activity(message)
    .map((did) => `; ${did}`)
    .join('');
}

/** “followed “price list””, “viewed 3 files”: links before files. */
function activity({ trailEvents, tally }: MessageSummary): string[] {
  const did = (kind: TrailEvent['kind'], verb: string, what: string, count: number) =>
    count === 0 ? [] : [namedText(trailEvents, kind, verb, what, count)];
  return [...did('clicked', 'clicked', 'link', tally.clicks), ...did('file_viewed', 'viewed', 'file', tally.fileViews)];
}

function namedText(
  trailEvents: readonly TrailEvent[],
  kind: TrailEvent['kind'],
  verb: string,
  what: string,
  count: number,
): string {
  const names = trailEvents.flatMap((mark) => (mark.counted && mark.kind === kind && mark.label ? [mark.label] : []));
  const distinct = [...new Set(names)];
  if (distinct.length === 0) return times(`${verb} a ${what}`, count);
  if (distinct.length > 2) return `${verb} ${distinct.length} ${what}s`;
  return `${verb} ${distinct.map(quoted).join(' and ')}`;
}

function automatic(count: number): string {
  return counted(count, 'automatic request', 'automatic requests');
}

/** How a message was sent and what of it is not tracked: what status and counts do not say. Empty where there is nothing. */
export function messageNotes({ summary, template, disclose, trackForDays, recurrenceProblem }: MessageDetail): string {
  const { tally, trackOpens, trackClicks, origin, recurrence } = summary;
  return joined([
    tally.notCounted > 0 && `${tally.notCounted} not counted.`,
    recurrence !== null && repeatSentence(recurrenceProblem),
    origin === 'submitted' && 'Sent from another mail app.',
    origin === 'imported' && 'Sent before Kiraku, and imported.',
    template !== null && `From the template ${quoted(template)}.`,
    trackForDays !== null && `Activity counts ${trackingPeriod(trackForDays)}.`,
    disclose && 'It tells recipients about tracking.',
    !trackOpens && trackClicks && 'Opens are not tracked.',
    trackOpens && !trackClicks && 'Link clicks are not tracked.',
  ]);
}

function repeatSentence(problem: string | null): string {
  return problem === null
    ? 'It repeats: the next one is scheduled each time it is sent.'
    : `It does not repeat any more: ${problem}`;
}

function trackingPeriod(days: number): string {
  return days === MESSAGE_LIMITS.maxTrackForDays ? 'without end' : `for ${counted(days, 'day')} after sending`;
}

/** Which links were clicked, the first so many of them by name: “the proposal” clicked 2 times. Empty where none was. */
export function clicksSentence(links: readonly Pick<LinkView, 'text' | 'url' | 'clicks'>[], mostNamed: number): string {
  const clicked = links.filter(({ clicks }) => clicks > 0);
  if (clicked.length === 0) return '';
  const named = clicked
    .slice(0, mostNamed)
    .map(({ text, url, clicks }) => `${quoted(text || url)} ${times('clicked', clicks)}`);
  const more = clicked.length - named.length;
  return `${named.join('; ')}${more > 0 ? ` and ${counted(more, 'link')} more` : ''}.`;
}

/** To whom a message is addressed: “To Marit Oakes · Cc Jun Arai”. */
export function addressingText(recipients: readonly Recipient[]): string {
  const named = (label: string, kind: Recipient['kind']) => {
    const names = recipients.filter((one) => one.kind === kind).map(personText);
    return names.length > 0 && `${label} ${namesText(names, MAX_ADDRESSED_NAMES)}`;
  };
  return joined([named('To', 'to'), named('Cc', 'cc'), named('Bcc', 'bcc')], ' · ');
}

/** When a message was sent, or will be. */
export function sentTimeText({ sentAt, sendAt, queuedAt }: MessageSummary): string {
  return sendAt !== null ? `scheduled for ${appointmentWords(sendAt)}` : `sent ${exactWords(sentAt ?? queuedAt)}`;
}

/** What is known of a link, beside it. */
export function linkText({ tracked, clicks }: Pick<LinkView, 'tracked' | 'clicks'>): string {
  if (!tracked) return 'not tracked';
  return clicks === 0 ? 'no clicks' : times('clicked', clicks);
}

/** What is known of a file that was sent, beside its link. */
export function sentFileText({ views }: Pick<SentFile, 'views'>): string {
  return views === 0 ? 'not viewed' : times('viewed', views);
}

/** When a message was first opened. Empty where it was not. */
export function firstOpenSentence({ tally }: Pick<MessageSummary, 'tally'>, now: number): string {
  return tally.firstOpenAt === null ? '' : `First opened ${whenWords(tally.firstOpenAt, now)}.`;
}

/** A message among those of its conversation: “Panels for the reading room, 6 Nov”. */
export function datedSubjectText({ subject, sentAt, queuedAt }: MessageSummary, now: number): string {
  return `${isolated(subject || 'No subject')}, ${dateWords(sentAt ?? queuedAt, now)}`;
}
