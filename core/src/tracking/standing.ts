import type { Mark, MessageSummary } from '../contract/index.js';
import { capital, counted, DAY, durationWords, exactWords, HOUR, MINUTE, whenWords } from '../time/words.js';
import { addToTally, EMPTY_TALLY } from './tally.js';

/** `now`: happening this moment; `needs-you`: something to do; `plain`: all else. */
export type Tone = 'now' | 'needs-you' | 'plain';

export interface Standing {
  tone: Tone;
  words: string;
}

/** What is as recent as this happens now. */
export const HAPPENING_MS = 10 * MINUTE;
/** So many opens within the hour: they are thinking about it. */
export const HEATING_OPENS = 3;
/** An open after so long is a coming back. */
export const SILENCE_MS = 14 * DAY;

interface View {
  message: MessageSummary;
  now: number;
  zone?: string;
}

/** A message that should have left longer ago than this was missed while the machine was off, and asks. */
const MISSED_MS = 5 * MINUTE;

/** The sentences in the order of what matters most; the first whose words are not null stands. */
const SENTENCES: { tone: Tone | ((view: View) => Tone); words(view: View): string | null }[] = [
  {
    tone: 'needs-you',
    words: ({ message }) =>
      message.state === 'failed' ? `Could not be delivered: ${message.trouble ?? 'refused'}` : null,
  },
  {
    tone: ({ message, now }) => (now - (message.sendAt ?? now) > MISSED_MS ? 'needs-you' : 'plain'),
    words: ({ message: { state, sendAt }, now, zone }) => {
      if (state !== 'scheduled' || sendAt === null) return null;
      if (now - sendAt > MISSED_MS)
        return `Should have left ${whenWords(sendAt, now, zone)}: send it now, or call it back`;
      return sendAt - now < MINUTE ? 'Leaves in a moment' : `Leaves ${exactWords(sendAt, zone)}`;
    },
  },
  {
    tone: 'plain',
    words: ({ message }) => {
      if (message.state !== 'queued') return null;
      return message.trouble ? `Waiting to be tried again: ${message.trouble}` : 'On its way out';
    },
  },
  {
    tone: 'plain',
    words: ({ message: { tally, sentAt } }) =>
      tally.answeredAt === null
        ? null
        : `Answered after ${durationWords(tally.answeredAt - (sentAt ?? tally.answeredAt))}`,
  },
  { tone: 'now', words: readingNow },
  { tone: 'now', words: heatingUp },
  { tone: 'needs-you', words: cameBack },
  { tone: lively, words: opened },
  {
    tone: lively,
    words: ({ message }) => {
      const did = doings(message).join('; ');
      if (did === '') return null;
      return message.trackOpens ? `Read, images blocked: ${did}` : capital(did);
    },
  },
  {
    tone: 'plain',
    words: ({ message: { untracked, trackOpens, trackLinks } }) => {
      if (untracked !== null) return `Sent, not tracked: ${untracked}`;
      return trackOpens || trackLinks ? null : 'Sent without tracking';
    },
  },
  {
    tone: 'plain',
    words: ({ message: { tally, forgottenAt }, now, zone }) =>
      forgottenAt === null || tally.lastEventAt !== null
        ? null
        : `What happened to it was forgotten ${whenWords(forgottenAt, now, zone)}, as you have set`,
  },
  {
    tone: 'plain',
    words: ({ message: { tally, marks } }) => {
      const machines = marks.filter(({ kind, counted: counts }) => kind === 'answered' && !counts).length;
      const parts = [
        machines > 0 && 'a machine answered',
        tally.setAside > machines && `${automatic(tally.setAside - machines)} set aside`,
      ];
      return ['No sign of reading yet', ...parts.filter(Boolean)].join('; ');
    },
  },
];

/** Whether something is recent enough to be told as happening now. */
export function isHappening(at: number, now: number): boolean {
  return now - at < HAPPENING_MS;
}

/** One sentence that says where a sent message stands. `now` in epoch milliseconds; `zone` an IANA name. */
export function standing(message: MessageSummary, now: number, zone?: string): Standing {
  const view = { message, now, zone };
  for (const sentence of SENTENCES) {
    const words = sentence.words(view);
    if (words === null) continue;
    const tone = typeof sentence.tone === 'function' ? sentence.tone(view) : sentence.tone;
    return { tone, words: message.state === 'sent' && message.trouble ? `${words}. ${message.trouble}` : words };
  }
  throw new Error('The last sentence always has words');
}

/** The text alternative of a trail: what its marks say, in words. */
export function trailWords(marks: readonly Mark[], sentAt: number | null, now: number, zone?: string): string {
  const tally = marks.reduce(addToTally, EMPTY_TALLY);
  const parts = [
    sentAt === null ? 'Not sent yet' : `Sent ${whenWords(sentAt, now, zone)}`,
    tally.lastOpenAt !== null && `${times('opened', tally.opens)}, last ${whenWords(tally.lastOpenAt, now, zone)}`,
    tally.lastClickAt !== null && `${counted(tally.clicks, 'click')}, last ${whenWords(tally.lastClickAt, now, zone)}`,
    tally.fileViews > 0 && counted(tally.fileViews, 'file view'),
    tally.answeredAt !== null && `answered ${whenWords(tally.answeredAt, now, zone)}`,
    tally.setAside > 0 && `${tally.setAside} set aside`,
    tally.lastEventAt === null && 'no sign of reading yet',
  ];
  return parts.filter(Boolean).join('; ');
}

/** “opened once”, “opened 4 times”. */
export function times(verb: string, count: number): string {
  return count === 1 ? `${verb} once` : `${verb} ${count} times`;
}

function lively({ message, now }: View): Tone {
  return message.tally.lastEventAt !== null && isHappening(message.tally.lastEventAt, now) ? 'now' : 'plain';
}

function heatingUp({ message, now }: View): string | null {
  const recent = message.marks.filter((mark) => mark.counted && mark.kind === 'opened' && now - mark.at < HOUR);
  if (recent.length < HEATING_OPENS) return null;
  return `${capital(times('opened', recent.length))} within the hour${tail(message)}`;
}

function cameBack({ message, now, zone }: View): string | null {
  const [last, before] = message.marks.filter((mark) => mark.counted && mark.kind === 'opened').reverse();
  if (!last || !before || last.at - before.at < SILENCE_MS || now - last.at > DAY) return null;
  return `Came back after ${durationWords(last.at - before.at)}: opened ${whenWords(last.at, now, zone)}`;
}

function opened({ message, now, zone }: View): string | null {
  const { opens, lastOpenAt } = message.tally;
  if (lastOpenAt === null) return null;
  const when = whenWords(lastOpenAt, now, zone);
  return `${capital(times('opened', opens))}, ${opens === 1 ? when : `last ${when}`}${tail(message)}`;
}

/** A file that was opened last, and is being read. */
function readingNow({ message, now }: View): string | null {
  const last = message.marks.findLast((mark) => mark.counted);
  const { lastEventAt } = message.tally;
  if (last?.kind !== 'file_viewed' || lastEventAt === null || !isHappening(lastEventAt, now)) return null;
  return `Reading ${last.label ? `“${last.label}”` : 'a file'}`;
}

/** What they did besides opening it, as the end of a sentence. */
function tail(message: MessageSummary): string {
  return doings(message)
    .map((did) => `; ${did}`)
    .join('');
}

/** “followed “price list””, “viewed 3 files”: links before files. */
function doings({ marks, tally }: MessageSummary): string[] {
  const did = (kind: Mark['kind'], verb: string, what: string, count: number) =>
    count === 0 ? [] : [namedWords(marks, kind, verb, what, count)];
  return [
    ...did('clicked', 'followed', 'link', tally.clicks),
    ...did('file_viewed', 'viewed', 'file', tally.fileViews),
  ];
}

function namedWords(marks: readonly Mark[], kind: Mark['kind'], verb: string, what: string, count: number): string {
  const names = marks.flatMap((mark) => (mark.counted && mark.kind === kind && mark.label ? [mark.label] : []));
  const distinct = [...new Set(names)];
  if (distinct.length === 0) return times(`${verb} a ${what}`, count);
  if (distinct.length > 2) return `${verb} ${distinct.length} ${what}s`;
  return `${verb} ${distinct.map((name) => `“${name}”`).join(' and ')}`;
}

function automatic(count: number): string {
  return counted(count, 'automatic fetch', 'automatic fetches');
}
