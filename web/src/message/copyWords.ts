import type { CopyView, ReadReceiptState, ReceiptState } from '@kiraku/core/contract';
import { counted, whenWords } from '@kiraku/core/time';

const DELIVERY: Record<ReceiptState, string | null> = {
  'not-offered': 'A delivery receipt was wanted; your mail server offers none.',
  asked: 'No word of the delivery yet.',
  delayed: 'Not delivered yet: their server tries again.',
  relayed: 'Handed on to a server that tells nothing more.',
  delivered: 'Delivered into their mailbox.',
  failed: null,
};

const READ: Record<ReadReceiptState, string> = {
  asked: 'A read receipt was asked for; none yet.',
  displayed: 'Their receipt says that it was shown.',
  deleted: 'Their receipt says that it was deleted, perhaps unread.',
  denied: 'They declined to send a receipt.',
  processed: 'Their program dealt with it, and says no more.',
};

/** What servers and programs said of it, in sentences. */
export function receiptWords({ deliveryReceipt, readReceipt }: CopyView): string[] {
  return [deliveryReceipt && DELIVERY[deliveryReceipt], readReceipt && READ[readReceipt]].flatMap(
    (words) => words ?? [],
  );
}

/** What became of one recipient’s copy, in a sentence. */
export function copyWords({ state, trouble, tally, doNotTrack }: CopyView, now: number): string {
  if (state === 'failed') return `Could not be delivered: ${trouble ?? 'refused'}`;
  if (state === 'queued') return trouble ? `Waiting to be tried again: ${trouble}` : 'On its way out';
  const { opens, clicks, lastEventAt } = tally;
  const nothing = opens + clicks + tally.fileViews + tally.answers === 0;
  if (nothing && doNotTrack) return 'Not tracked, as was asked for';
  if (nothing || lastEventAt === null) return 'No sign of reading yet';
  const counts = [
    opens > 0 && counted(opens, 'open'),
    clicks > 0 && counted(clicks, 'click'),
    tally.fileViews > 0 && counted(tally.fileViews, 'file view'),
    tally.answers > 0 && counted(tally.answers, 'answer'),
  ]
    .filter(Boolean)
    .join(', ');
  return `${counts}, last ${whenWords(lastEventAt, now)}`;
}
