import { median } from 'd3-array';
import type { MessageSummary } from '../contract/message.js';
import { counted, durationWords } from '../time/words.js';

/**
 * How somebody answers: of how many letters, how quickly, and for how long the last one waits.
 *
 * @param messages letters to them, in any order
 * @param now epoch milliseconds
 */
export function answeringWords(messages: readonly MessageSummary[], now: number): string {
  const sent = messages.filter(({ sentAt }) => sentAt !== null).sort((a, b) => b.sentAt! - a.sentAt!);
  const [last] = sent;
  if (!last) return '';
  const times = sent.flatMap(({ sentAt, tally }) => (tally.answeredAt === null ? [] : [tally.answeredAt - sentAt!]));
  const usual = median(times);
  const how = usual === undefined ? '' : `, half of them within ${durationWords(Math.max(usual, 1))}`;
  const answered = `Answered ${times.length} of ${counted(sent.length, 'letter')}${how}.`;
  return last.tally.answeredAt === null
    ? `${answered} The last one has waited for ${durationWords(now - last.sentAt!)}.`
    : answered;
}
