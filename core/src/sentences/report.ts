import type { TemplateRow } from '../contract/message.js';
import type { Comparison, Rate, ReportView, Spread, WeekOutcome } from '../contract/report.js';
import { capital, counted, durationWords, whenWords } from '../time/words.js';
import { joined, times } from './words.js';

/** “64 of 80, 80 %, likely between 70 and 87 %.”; what can be said where there is nothing to count. */
export function rateSentence({ n, of, share, low, high }: Rate): string {
  if (share === null) return 'Nothing to count yet.';
  return `${n} of ${of}, ${percent(share)} %, likely between ${percent(low)} and ${percent(high)} %.`;
}

/** Whether the replies to some messages differ from those to all others by more than chance. */
export function comparisonSentence(comparison: Comparison | null): string {
  if (comparison === null) return 'Nothing to compare with.';
  const { low, high } = comparison;
  if (low > 0) return `Replied to more often than the others, by ${percent(low)} to ${percent(high)} in 100 messages.`;
  if (high < 0)
    return `Replied to less often than the others, by ${percent(-high)} to ${percent(-low)} in 100 messages.`;
  return 'No clear difference from the others: it may be chance.';
}

/** How often a template was used, and when last: “Used 12 times, last on 20 Nov”. */
export function templateUseText(
  { messages, lastSentAt }: Pick<TemplateRow, 'messages' | 'lastSentAt'>,
  now: number,
): string {
  if (messages === 0) return 'Not used yet';
  return joined([capital(times('used', messages)), lastSentAt !== null && `last ${whenWords(lastSentAt, now)}`], ', ');
}

/** How soon: “Half within 2 hours; a quarter within 10 minutes, three quarters within 1 day.” */
export function spreadSentence({ firstQuartile, median, thirdQuartile }: Spread): string {
  return `Half within ${length(median)}; a quarter within ${length(firstQuartile)}, three quarters within ${length(thirdQuartile)}.`;
}

/** How many messages a report counts, and how many it leaves out. */
export function reportSizeSentence({ messages, tooRecent }: Pick<ReportView, 'messages' | 'tooRecent'>): string {
  const left =
    tooRecent === 0
      ? ''
      : ` ${tooRecent} more ${tooRecent === 1 ? 'was' : 'were'} sent in the last two days: too recent to count.`;
  return `${counted(messages, 'message')}.${left}`;
}

/** “Week of 23 Nov: 12 messages, 8 read, 3 replied”. `date` is its Monday as it is shown. */
export function weekText({ messages, read, replied }: WeekOutcome, date: string): string {
  return `Week of ${date}: ${counted(messages, 'message')}, ${read} read, ${replied} replied`;
}

function length(ms: number): string {
  return durationWords(Math.max(ms, 1));
}

/** In whole per cents. */
function percent(share: number): number {
  return Math.round(share * 100);
}
