import type {
  Evidence,
  RoundMember,
  RoundPace,
  RoundRow,
  RoundState,
  RoundView,
  RoundWarning,
  Wording,
  WordingComparison,
} from '../contract/round.js';
import type { MemberOrder, MembersShown } from '../rounds/members.js';
import { LIKELY_BETTER } from '../rounds/comparison.js';
import { appointmentWords, capital, counted, DAY, hourWords, shortWords } from '../time/words.js';
import { messageStatus, type MessageStatus } from './message.js';
import { WEEKDAY_NAMES } from './person.js';
import { joined, namesText, quoted } from './words.js';

export const ROUND_STATE_LABELS: Record<RoundState, string> = {
  preparing: 'Not started',
  running: 'Running',
  paused: 'Paused',
  stopped: 'Stopped',
  done: 'Finished',
};

export const PACE_LABELS: Record<RoundPace['kind'], string> = {
  'at-once': 'All at once',
  hourly: 'A few an hour',
  'best-time': 'Each at their best time',
};

export const WARNING_LABELS: Record<RoundWarning, string> = {
  'opted-out': 'opted out: gets no message',
  bounced: 'not reached last time',
  twice: 'twice in this round',
  recently: 'written to lately',
  'not-tracked': 'not tracked',
};

export const EVIDENCE_LABELS: Record<Evidence, string> = {
  replied: 'Replied',
  clicked: 'Clicked',
  read: 'Read',
};

export const MEMBERS_SHOWN_LABELS: Record<MembersShown, string> = {
  all: 'everyone',
  sent: 'those it was sent to',
  replied: 'those who replied',
  clicked: 'those who clicked a link',
  read: 'those who read it',
  'not-replied': 'those who read it and did not reply',
  'no-sign': 'those without a sign of reading',
  failed: 'those it did not reach',
  waiting: 'those whose message waits',
  'left-out': 'those left out',
};

export const MEMBER_ORDER_LABELS: Record<MemberOrder, string> = {
  contact: 'whom to contact first',
  activity: 'last activity',
  plan: 'when it is sent',
};

/** How many stand where. */
type RoundCounts = Pick<RoundRow, 'people' | 'sent' | 'failed' | 'waiting'>;

const MAX_NAMED_MEMBERS = 3;

/** “A”, “B”, “C”. */
export function wordingName(wording: number): string {
  return String.fromCharCode('A'.charCodeAt(0) + wording);
}

/** Which wording is shown: “either wording”, “wording A”. */
export function wordingChoiceText(wording: number | 'rest' | null): string {
  if (wording === null) return 'any wording';
  return wording === 'rest' ? 'the wording for the rest' : `wording ${wordingName(wording)}`;
}

/** “12 people, each with a message of their own · 9 sent · 3 wait”. */
export function roundText({ people, sent, failed, waiting }: RoundCounts): string {
  const parts = [
    `${counted(people, 'person', 'people')}, each with a message of their own`,
    sent > 0 && `${sent} sent`,
    failed > 0 && `${failed} not delivered`,
    waiting > 0 && counted(waiting, 'waits', 'wait'),
  ];
  return joined(parts, ' · ');
}

/** When the messages of a round leave: “12 an hour, Monday to Friday, 9:00–11:00 by their clocks”. */
export function paceText({ kind, perHour, fromHour, toHour, weekdays }: Omit<RoundPace, 'zone'>): string {
  if (kind === 'at-once') return 'All at once';
  const hours = `${weekdaysText(weekdays)}, ${hourWords(fromHour)}–${hourWords(toHour % 24)} by their clocks`;
  if (kind === 'hourly') return `${perHour} an hour, ${hours}`;
  return `Each at their best time; where nothing is known of it, ${hours}`;
}

/** “Monday to Friday”, “Monday, Wednesday”. */
function weekdaysText(weekdays: readonly number[]): string {
  const sorted = [...weekdays].sort();
  const [first, last] = [sorted[0]!, sorted.at(-1)!];
  if (sorted.length === 7) return 'every day';
  if (sorted.length > 2 && last - first === sorted.length - 1)
    return `${WEEKDAY_NAMES[first]} to ${WEEKDAY_NAMES[last]}`;
  return sorted.map((weekday) => WEEKDAY_NAMES[weekday]).join(', ');
}

const RECALLED = 'Moved back to drafts: pause and resume the round to send it';

/**
 * How somebody of a round stands.
 *
 * @param isRunning whether the round runs: what has no time then was recalled by itself
 */
export function memberStatus(member: RoundMember, now: number, isRunning = false): MessageStatus {
  if (member.summary) return messageStatus(member.summary, now);
  if (member.leftOut) return { tone: 'plain', text: 'Left out' };
  const problem = memberProblem(member);
  if (problem !== null) return { tone: 'needs-you', text: problem };
  if (isRunning && member.state === 'draft') return { tone: 'needs-you', text: RECALLED };
  const notes = [member.edited && 'changed by hand', ...member.warnings.map((name) => WARNING_LABELS[name])];
  return { tone: 'plain', text: capital(joined(notes, ' · ')) || 'Ready' };
}

/** Why a message of a round cannot leave; null where it can. */
export function memberProblem({ unfilled, warnings }: Pick<RoundMember, 'unfilled' | 'warnings'>): string | null {
  if (warnings.includes('opted-out')) return capital(WARNING_LABELS['opted-out']);
  if (unfilled.length === 0) return null;
  return `Nothing is known for ${namesText(unfilled, MAX_NAMED_MEMBERS)}: fill it in by hand, or leave them out`;
}

/** “sent Mon 9:12”, “leaves Wed 9:20”; nothing where neither is known. */
export function memberTimeText({ state, sendAt, summary }: RoundMember, now: number): string {
  if (state === 'scheduled' && sendAt !== null)
    return `leaves ${isSoon(sendAt, now) ? shortWords(sendAt, now) : appointmentWords(sendAt)}`;
  return summary?.sentAt ? `sent ${shortWords(summary.sentAt, now)}` : '';
}

/** Near enough to be named by its weekday. */
function isSoon(at: number, now: number): boolean {
  return at - now < 5 * DAY;
}

/** How many of a round are pointed out, and why: “2 people were written to lately.” */
export function warningSentence(warning: RoundWarning, count: number): string {
  return `${counted(count, 'person', 'people')}: ${WARNING_LABELS[warning]}.`;
}

/** What the mail server has made of a round’s pace; nothing where it has not. */
export function slowedText(slowedBy: number): string {
  return slowedBy > 1 ? `The mail server asked to wait: ${slowedBy} times slower for now` : '';
}

/** Which wording did better, by the strongest evidence that can be counted; how that may be read. */
export function wordingsSentences({ comparisons, state }: Pick<RoundView, 'comparisons' | 'state'>): string[] {
  const [first] = comparisons;
  if (!first) return [];
  const isOpen = state !== 'done' && state !== 'stopped';
  return [betterSentence(first), ...(isOpen ? [STILL_RUNNING] : [])];
}

const STILL_RUNNING =
  'The round still runs. An early lead often goes; the probability holds whenever you look, and is worth most once replies had a week.';

const VERBS: Record<Evidence, string> = { replied: 'replies', clicked: 'clicks', read: 'readers' };

/** “B gets more replies: 97 % likely.”; where it is not so sure, how many more messages it would take. */
export function betterSentence({ evidence, probabilities, best, needed }: WordingComparison): string {
  const probability = probabilities[best]!;
  const share = `${Math.min(Math.round(probability * 100), 99)} % likely`;
  if (probability >= LIKELY_BETTER) return `${wordingName(best)} gets more ${VERBS[evidence]}: ${share}.`;
  const more = needed === null ? '' : ` About ${rounded(needed)} more messages would show a difference of this size.`;
  if (isEven(probabilities)) return `By ${VERBS[evidence]}, no difference so far. Not enough to say.${more}`;
  return `${wordingName(best)} may get more ${VERBS[evidence]}: ${share}. Not enough to say.${more}`;
}

function isEven(probabilities: readonly number[]): boolean {
  return Math.max(...probabilities) - 1 / probabilities.length < 0.02;
}

/** To two digits: more would pretend to be known. */
function rounded(count: number): string {
  return String(Number(count.toPrecision(count < 100 ? 1 : 2)));
}

/** “A “Quieter lunch hours””. */
export function wordingText({ subject }: Pick<Wording, 'subject'>, wording: number): string {
  return `${wordingName(wording)} ${subject === '' ? 'without a subject' : quoted(subject)}`;
}

/** Why a round was paused by itself. */
export function refusedReason(words: string | null): string {
  return `The mail server refused several messages in a row${words === null ? '' : `: ${words}`}`;
}

/** How likely each wording is the best by one sort of evidence: “Best: A 22 %, B 78 % likely.” */
export function likelyBestText({ probabilities }: WordingComparison): string {
  const shares = probabilities.map((share, wording) => `${wordingName(wording)} ${Math.round(share * 100)} %`);
  return `Best: ${shares.join(', ')} likely.`;
}

/** By how much the best did better than the next, and between which bounds that may lie. */
export function differenceSentence({ best, next, difference: { difference, low, high } }: WordingComparison): string {
  const points = (share: number) => Math.round(share * 100);
  const more = points(difference) === 0 ? 'as many as' : `${points(difference)} more than`;
  const range = `likely between ${points(low)} and ${points(high)}`.replaceAll('-', '−');
  return `In 100 messages, ${wordingName(best)} gets ${more} ${wordingName(next)}, ${range}.`;
}
