import { wasRead } from '../activity/kinds.js';
import type { CopyView, DsnState, MdnState, OutboxCopy, Tally } from '../contract/index.js';
import { counted, whenWords } from '../time/words.js';
import { deviceText } from './event.js';
import { joined, times } from './words.js';

const DSN: Record<DsnState, string | null> = {
  'not-offered': 'You asked for a delivery receipt; your mail server offers none.',
  asked: 'No delivery receipt yet.',
  delayed: 'Not delivered yet: their server tries again.',
  relayed: 'Passed on to a server that sends no receipts.',
  delivered: 'Delivered to their mailbox.',
  failed: null,
};

const MDN: Record<MdnState, string> = {
  asked: 'You asked for a read receipt; none yet.',
  displayed: 'Read receipt: it was displayed.',
  deleted: 'Read receipt: it was deleted, perhaps unread.',
  denied: 'They declined to send a read receipt.',
  processed: 'Their mail app processed it; no more is known.',
};

const CERTAINTY = { perhaps: 'Perhaps', likely: 'Likely' };

/** What mail servers and programs reported about a copy, in sentences. */
export function receiptSentences({ dsnState, mdnState }: Pick<CopyView, 'dsnState' | 'mdnState'>): string[] {
  return [dsnState && DSN[dsnState], mdnState && MDN[mdnState]].flatMap((text) => text ?? []);
}

/** What became of one recipient’s copy: “2 opens, 1 click, last 4 minutes ago”. `now` in epoch milliseconds. */
export function copyText({ state, lastError, tally, doNotTrack }: CopyView, now: number): string {
  if (state === 'failed') return `Could not be delivered: ${lastError ?? 'rejected'}`;
  if (state === 'queued') return lastError ? `Will be retried: ${lastError}` : 'Sending';
  const { lastEventAt } = tally;
  const nothing = !wasRead(tally);
  if (nothing && doNotTrack) return 'Not tracked, at their request';
  if (nothing || lastEventAt === null) return 'No sign of reading yet';
  return `${countsText(tally)}, last ${whenWords(lastEventAt, now)}`;
}

interface Counts extends Pick<Tally, 'opens' | 'clicks' | 'replies'> {
  fileViews?: number;
  uncertainOpens?: number;
  uncertainClicks?: number;
  uncertainViews?: number;
}

/** “2 opens, 1 uncertain, 1 click, 3 replies”: what is nought is left out. */
export function countsText(counts: Counts): string {
  const { opens, clicks, fileViews = 0, replies } = counts;
  const unsure = (number = 0) => number > 0 && `${number} uncertain`;
  return joined(
    [
      opens > 0 && counted(opens, 'open'),
      unsure(counts.uncertainOpens),
      clicks > 0 && counted(clicks, 'click'),
      unsure(counts.uncertainClicks),
      fileViews > 0 && counted(fileViews, 'file view'),
      unsure(counts.uncertainViews),
      replies > 0 && counted(replies, 'reply', 'replies'),
    ],
    ', ',
  );
}

/** Who reads a copy, where that seems to be more than one, and whether it may have been passed on. */
export function readersSentences({ readers, passedOn }: Pick<CopyView, 'readers' | 'passedOn'>): string[] {
  const named = readers.map((reader) => joined([knownDevice(reader), ...reader.places], ', '));
  return [
    ...(readers.length > 1 ? [`Seems to be read on ${named.join('; ')}.`] : []),
    ...(passedOn ? [`${CERTAINTY[passedOn.certainty]} passed on: ${passedOn.reason}.`] : []),
  ];
}

/** With what a copy was read: “on phone, Safari, iOS; an unknown device”. Empty where nobody has read it. */
export function readersText(readers: CopyView['readers']): string {
  return readers.length === 0 ? '' : `on ${readers.map(knownDevice).join('; ')}`;
}

function knownDevice(reader: CopyView['readers'][number]): string {
  return deviceText(reader) || 'an unknown device';
}

/** How many copies wait in the outbox, and how many failed lately. */
export function outboxSentence(waiting: number, failed: number): string {
  return `${counted(waiting, 'copy', 'copies')} waiting, ${failed} failed in the past month; newest first.`;
}

/** “Sending”, “Tried once”, “Failed”. */
export function outboxStateText({ state, attempts }: Pick<OutboxCopy, 'state' | 'attempts'>): string {
  if (state === 'failed') return 'Failed';
  return attempts === 0 ? 'Sending' : times('Tried', attempts);
}
