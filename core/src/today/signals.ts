import type { Mark } from '../contract/event.js';
import type { PassedOn } from '../contract/message.js';
import type { SignalPart } from '../contract/today.js';
import { capital, DAY, durationWords, HOUR } from '../time/words.js';
import { HEATING_OPENS, isHappening, SILENCE_MS, times } from '../tracking/standing.js';

/** What one recipient did with one message, as far as it counts. */
export interface Doings {
  /** Counted marks, oldest first. */
  marks: readonly Mark[];
  answeredAt: number | null;
  passedOn: PassedOn | null;
}

interface View extends Doings {
  now: number;
  opens: readonly Mark[];
}

interface Signal {
  name: string;
  /** What it weighs when it is fresh. */
  points: number;
  /** After this time it weighs nothing; it fades evenly until then. Null: it weighs all as long as it is given. */
  fadesMs: number | null;
  /** When it was last given, with its words; null where it was not. */
  given(view: View): { at: number; words: string } | null;
}

const LOOKS = new Set<Mark['kind']>(['opened', 'clicked', 'file_viewed', 'page_viewed', 'downloaded']);
/** From then on it is said for how long somebody who has read has not answered. */
const QUIET_MS = 3 * DAY;

/**
 * What suggests that somebody be got in touch with. The weights are an order of urgency, not a measurement: who is
 * reading this minute can be reached on the phone this minute; a link followed five days ago can wait for five more.
 */
const SIGNALS: readonly Signal[] = [
  {
    name: 'reading',
    points: 50,
    fadesMs: null,
    given: ({ marks, now }) => {
      const last = marks.at(-1);
      return last && isHappening(last.at, now) ? { at: last.at, words: busyWords(last) } : null;
    },
  },
  {
    name: 'heating',
    points: 40,
    fadesMs: 6 * HOUR,
    given: ({ opens }) => {
      const last = opens.at(-1);
      const together = last ? opens.filter((open) => last.at - open.at < HOUR) : [];
      return last && together.length >= HEATING_OPENS
        ? { at: last.at, words: `${capital(times('opened', together.length))} within an hour` }
        : null;
    },
  },
  {
    name: 'back',
    points: 35,
    fadesMs: 2 * DAY,
    given: ({ opens }) => {
      const [last, before] = [...opens].reverse();
      return last && before && last.at - before.at >= SILENCE_MS
        ? { at: last.at, words: `Came back after ${durationWords(last.at - before.at)} of silence` }
        : null;
    },
  },
  {
    name: 'file',
    points: 30,
    fadesMs: 7 * DAY,
    given: ({ marks }) => lastOf(marks, 'file_viewed', 'read', 'a file'),
  },
  {
    name: 'link',
    points: 25,
    fadesMs: 7 * DAY,
    given: ({ marks }) => lastOf(marks, 'clicked', 'followed', 'a link'),
  },
  {
    name: 'passed-on',
    points: 15,
    fadesMs: 7 * DAY,
    given: ({ marks, passedOn }) => {
      const last = marks.at(-1);
      return passedOn && last
        ? { at: last.at, words: `${capital(passedOn.likelihood)} passed on: ${passedOn.reason}` }
        : null;
    },
  },
  {
    name: 'opened',
    points: 15,
    fadesMs: 8 * DAY,
    given: ({ opens, now }) => {
      const last = opens.at(-1);
      if (!last) return null;
      const silence = now - last.at < QUIET_MS ? 'no answer yet' : `not answered for ${durationWords(now - last.at)}`;
      return { at: last.at, words: `${capital(times('opened', opens.length))}, and ${silence}` };
    },
  },
];

/**
 * What speaks for getting in touch with a recipient now, the weightiest first. An answer settles everything before it.
 * Pure: the same doings at the same time weigh the same.
 *
 * @param now epoch milliseconds
 */
export function signalsOf(doings: Doings, now: number): SignalPart[] {
  // What servers and programs say by themselves is no sign of anybody.
  const marks = doings.marks.filter(
    (mark) => mark.counted && LOOKS.has(mark.kind) && mark.at > (doings.answeredAt ?? -Infinity),
  );
  const opens = marks.filter((mark) => mark.kind === 'opened');
  const view = { ...doings, marks, opens, now };
  return SIGNALS.flatMap(({ name, points, fadesMs, given }) => {
    const signal = given(view);
    if (!signal) return [];
    const left = fadesMs === null ? 1 : Math.max(0, 1 - (now - signal.at) / fadesMs);
    const weight = Math.round(points * Math.min(1, left));
    return weight > 0 ? [{ name, points: weight, words: signal.words }] : [];
  }).sort((a, b) => b.points - a.points);
}

export function scoreOf(parts: readonly SignalPart[]): number {
  return parts.reduce((sum, { points }) => sum + points, 0);
}

function busyWords({ kind, label, page }: Mark): string {
  if (kind === 'page_viewed' && label && page) return `Is on page ${page} of “${label}”`;
  return kind === 'file_viewed' && label ? `Is reading “${label}”` : 'Busy with it this moment';
}

function lastOf(marks: readonly Mark[], kind: Mark['kind'], verb: string, what: string) {
  const last = marks.findLast((mark) => mark.kind === kind);
  return last
    ? { at: last.at, words: `${capital(verb)} ${last.label ? `“${last.label}”` : what}, and no answer since` }
    : null;
}
