import type { CopyView } from '@kiraku/core/contract';
import { counted, whenWords } from '@kiraku/core/time';

/** What became of one recipient’s copy, in a sentence. */
export function copyWords({ state, trouble, tally, doNotTrack }: CopyView, now: number): string {
  if (state === 'failed') return `Could not be delivered: ${trouble ?? 'refused'}`;
  if (state === 'queued') return trouble ? `Waiting to be tried again: ${trouble}` : 'On its way out';
  const { opens, clicks, lastEventAt } = tally;
  if (lastEventAt === null && doNotTrack) return 'Not tracked, as was asked for';
  if (lastEventAt === null) return 'No sign of reading yet';
  const counts = [opens > 0 && counted(opens, 'open'), clicks > 0 && counted(clicks, 'click')]
    .filter(Boolean)
    .join(', ');
  return `${counts || 'Answered'}, last ${whenWords(lastEventAt, now)}`;
}
