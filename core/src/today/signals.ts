import { isOf } from '../activity/kinds.js';
import type { TrailEvent } from '../contract/event.js';
import type { PassedOn } from '../contract/message.js';
import type { SignalPart } from '../contract/today.js';
import {
  busyText,
  comebackText,
  heatingUpText,
  noReplySinceText,
  openedText,
  passedOnText,
} from '../sentences/signal.js';
import { DAY, HOUR } from '../time/words.js';
import { COMEBACK_MS, HEATING_UP_OPENS, isNow } from '../tracking/recency.js';

/** What one recipient did with one message, as far as it counts. */
export interface CopyActivity {
  /** Counted marks, oldest first. */
  trailEvents: readonly TrailEvent[];
  repliedAt: number | null;
  passedOn: PassedOn | null;
}

interface View extends CopyActivity {
  now: number;
  opens: readonly TrailEvent[];
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

/** From then on it is said for how long somebody who has read has not replied. */
const NO_REPLY_MS = 3 * DAY;

/**
 * What suggests that somebody be got in touch with. The weights are an order of urgency, not a measurement: who is
 * reading this minute can be reached on the phone this minute; a link followed five days ago can wait for five more.
 */
const SIGNALS: readonly Signal[] = [
  {
    name: 'reading',
    points: 50,
    fadesMs: null,
    given: ({ trailEvents, now }) => {
      const last = trailEvents.at(-1);
      return last && isNow(last.at, now) ? { at: last.at, words: busyText(last) } : null;
    },
  },
  {
    name: 'heating',
    points: 40,
    fadesMs: 6 * HOUR,
    given: ({ opens }) => {
      const last = opens.at(-1);
      const together = last ? opens.filter((open) => last.at - open.at < HOUR) : [];
      return last && together.length >= HEATING_UP_OPENS
        ? { at: last.at, words: heatingUpText(together.length) }
        : null;
    },
  },
  {
    name: 'back',
    points: 35,
    fadesMs: 2 * DAY,
    given: ({ opens }) => {
      const [last, before] = [...opens].reverse();
      return last && before && last.at - before.at >= COMEBACK_MS
        ? { at: last.at, words: comebackText(last.at - before.at) }
        : null;
    },
  },
  {
    name: 'file',
    points: 30,
    fadesMs: 7 * DAY,
    given: ({ trailEvents }) => lastOf(trailEvents, 'file_viewed', 'read', 'a file'),
  },
  {
    name: 'link',
    points: 25,
    fadesMs: 7 * DAY,
    given: ({ trailEvents }) => lastOf(trailEvents, 'clicked', 'clicked', 'a link'),
  },
  {
    name: 'passed-on',
    points: 15,
    fadesMs: 7 * DAY,
    given: ({ trailEvents, passedOn }) => {
      const last = trailEvents.at(-1);
      return passedOn && last ? { at: last.at, words: passedOnText(passedOn) } : null;
    },
  },
  {
    name: 'opened',
    points: 15,
    fadesMs: 8 * DAY,
    given: ({ opens, now }) => {
      const last = opens.at(-1);
      if (!last) return null;
      const silentMs = now - last.at < NO_REPLY_MS ? null : now - last.at;
      return { at: last.at, words: openedText(opens.length, silentMs) };
    },
  },
];

/**
 * What speaks for getting in touch with a recipient now, the weightiest first. A reply ends everything before it.
 * Pure: the same activity at the same time weigh the same.
 *
 * @param now epoch milliseconds
 */
export function signalsOf(activity: CopyActivity, now: number): SignalPart[] {
  // What servers and programs say automatically is no sign of anybody.
  const trailEvents = activity.trailEvents.filter(
    (mark) => mark.counted && isOf('activity', mark.kind) && mark.at > (activity.repliedAt ?? -Infinity),
  );
  const opens = trailEvents.filter((mark) => mark.kind === 'opened');
  const view = { ...activity, trailEvents, opens, now };
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

function lastOf(trailEvents: readonly TrailEvent[], kind: TrailEvent['kind'], verb: string, what: string) {
  const last = trailEvents.findLast((mark) => mark.kind === kind);
  return last ? { at: last.at, words: noReplySinceText(verb, last.label, what) } : null;
}
