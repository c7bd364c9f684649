import type { TemplateRow } from '../contract/message.js';
import type { Before, Comparison, Rate, RateName, ReportView, Spread, WeekOutcome } from '../contract/report.js';
import { capital, counted, dateWords, durationWords, whenWords } from '../time/words.js';
import { joined, times } from './words.js';

/** What is counted of messages. */
export const RATE_LABELS: Record<RateName, string> = {
  read: 'Read',
  clicked: 'Link clicked',
  viewed: 'File viewed',
  replied: 'Replied',
};

/** “80 %, likely between 70 and 87 %”; nothing where there is nothing to count. */
export function shareText({ share, low, high }: Rate): string {
  return share === null ? '' : `${percent(share)} %, likely between ${percent(low)} and ${percent(high)} %`;
}

/** “64 of 80, 80 %, likely between 70 and 87 %.”; what can be said where there is nothing to count. */
export function rateSentence(rate: Rate): string {
  return rate.share === null ? 'Nothing to count yet.' : `${rate.n} of ${rate.of}, ${shareText(rate)}.`;
}

/** Whether a share differs by more than chance from what it was before; nothing where there is nothing to compare. */
export function changeSentence(before: Rate, change: Comparison | null): string {
  if (change === null || before.share === null) return '';
  const { low, high } = change;
  const was = `${percent(before.share)} %`;
  if (low > 0) return `Up from ${was} before, by ${percent(low)} to ${percent(high)} in 100 messages.`;
  if (high < 0) return `Down from ${was} before, by ${percent(-high)} to ${percent(-low)} in 100 messages.`;
  return `Before, it was ${was}: no clear change.`;
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

/** How soon it was before: “Before: half within 3 hours.” */
export function spreadBeforeText({ median }: Spread): string {
  return `Before: half within ${length(median)}.`;
}

/** How soon: “Half within 2 hours; a quarter within 10 minutes, three quarters within 1 day.” */
export function spreadSentence({ firstQuartile, median, thirdQuartile }: Spread): string {
  return `Half within ${length(median)}; a quarter within ${length(firstQuartile)}, three quarters within ${length(thirdQuartile)}.`;
}

/** Of which days a report counts messages, “sent from 1 Sep to 27 Nov”, and how many it leaves out. */
export function reportDaysSentence(
  { from, to, tooRecent }: Pick<ReportView, 'from' | 'to' | 'tooRecent'>,
  now: number,
): string {
  const last = dateWords(to - 1, now);
  const days = from === null ? `sent up to ${last}` : `sent from ${dateWords(from, now)} to ${last}`;
  if (tooRecent === 0) return `${days}.`;
  return `${days}. ${tooRecent} more ${tooRecent === 1 ? 'was' : 'were'} sent since: too recent to count.`;
}

/** With what a report compares: “Compared with 32 messages sent from 1 Jun to 31 Aug.” */
export function comparedSentence(
  { messages, from, to }: Pick<Before, 'messages' | 'from' | 'to'>,
  now: number,
): string {
  const days = `sent from ${dateWords(from, now)} to ${dateWords(to - 1, now)}`;
  return messages === 0
    ? `Nothing to compare with: no messages ${days}.`
    : `Compared with ${counted(messages, 'message')} ${days}.`;
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
