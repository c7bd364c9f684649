import type { Comparison } from '@kiraku/core/contract';
import { compare, rateOf } from '@kiraku/core/reports';
import {
  changeSentence,
  comparedSentence,
  comparisonSentence,
  rateSentence,
  reportDaysSentence,
  spreadBeforeText,
  spreadSentence,
  templateUseText,
  weekText,
} from '@kiraku/core/sentences';
import { DAY, HOUR, MINUTE } from '@kiraku/core/time';

test('nothing is said of what was not counted, and a few prove nothing', () => {
  expect(rateSentence(rateOf(0, 0))).toBe('Nothing to count yet.');
  expect(rateSentence(rateOf(64, 80))).toBe('64 of 80, 80 %, likely between 70 and 87 %.');
  expect(comparisonSentence(compare(rateOf(0, 0), rateOf(3, 9)))).toBe('Nothing to compare with.');
  expect(comparisonSentence(compare({ n: 3, of: 4 }, { n: 10, of: 40 }))).toContain('may be chance');
  expect(comparisonSentence(compare({ n: 60, of: 80 }, { n: 30, of: 120 }))).toBe(
    'Replied to more often than the others, by 32 to 63 in 100 messages.',
  );
  expect(comparisonSentence(compare({ n: 30, of: 120 }, { n: 60, of: 80 }))).toBe(
    'Replied to less often than the others, by 32 to 63 in 100 messages.',
  );
});

test('a difference that may be none, at either end, is not said to be one', () => {
  const around = (low: number, high: number): Comparison => ({ difference: 0, low, high });
  for (const unclear of [around(0, 0.2), around(-0.2, 0), around(-0.1, 0.1)])
    expect(comparisonSentence(unclear)).toBe('No clear difference from the others: it may be chance.');
});

test('how soon is said in the largest units, and never as nothing', () => {
  expect(spreadSentence({ n: 4, firstQuartile: 0, median: 2 * HOUR, thirdQuartile: DAY })).toBe(
    'Half within 2 hours; a quarter within a moment, three quarters within 1 day.',
  );
  expect(spreadBeforeText({ n: 4, firstQuartile: 0, median: 2 * HOUR, thirdQuartile: DAY })).toBe(
    'Before: half within 2 hours.',
  );
  expect(spreadSentence({ n: 4, firstQuartile: MINUTE, median: MINUTE, thirdQuartile: 2 * MINUTE })).toBe(
    'Half within 1 minute; a quarter within 1 minute, three quarters within 2 minutes.',
  );
});

const day = (month: number, date: number) => new Date(2026, month - 1, date).getTime();
const NOW = day(11, 30) + 9 * HOUR;

test.each([
  [day(9, 1), 0, 'sent from 1 Sep to 27 Nov.'],
  [null, 1, 'sent up to 27 Nov. 1 more was sent since: too recent to count.'],
  [day(11, 27), 340, 'sent from 27 Nov to 27 Nov. 340 more were sent since: too recent to count.'],
])('a report from %p on, with %d left out', (from, tooRecent, sentence) => {
  expect(reportDaysSentence({ from, to: day(11, 28), tooRecent }, NOW)).toBe(sentence);
});

test('what a report is compared with is said with its days', () => {
  const days = { from: day(6, 1), to: day(9, 1) };
  expect(comparedSentence({ ...days, messages: 32 }, NOW)).toBe('Compared with 32 messages sent from 1 Jun to 31 Aug.');
  expect(comparedSentence({ ...days, messages: 0 }, NOW)).toBe(
    'Nothing to compare with: no messages sent from 1 Jun to 31 Aug.',
  );
});

test('a share has risen or fallen only where that is clear', () => {
  const before = rateOf(35, 50);
  const change = (low: number, high: number): Comparison => ({ difference: 0, low, high });
  expect(changeSentence(before, change(0.05, 0.2))).toBe('Up from 70 % before, by 5 to 20 in 100 messages.');
  expect(changeSentence(before, change(-0.2, -0.05))).toBe('Down from 70 % before, by 5 to 20 in 100 messages.');
  for (const unclear of [change(0, 0.2), change(-0.2, 0), change(-0.1, 0.1)])
    expect(changeSentence(before, unclear)).toBe('Before, it was 70 %: no clear change.');
  expect(changeSentence(before, null)).toBe('');
  expect(changeSentence(rateOf(0, 0), change(0.1, 0.2))).toBe('');
});

test('a week is named by its Monday', () => {
  expect(weekText({ monday: '2026-11-23', messages: 1, read: 1, replied: 0 }, '23 Nov')).toBe(
    'Week of 23 Nov: 1 message, 1 read, 0 replied',
  );
});

test.each([
  [0, null, 'Not used yet'],
  [1, 5 * MINUTE, 'Used once, last 5 minutes ago'],
  [12, 2 * HOUR, 'Used 12 times, last 2 hours ago'],
])('a template that %d messages began with', (messages, ageMs, text) => {
  const now = Date.UTC(2026, 10, 24);
  expect(templateUseText({ messages, lastSentAt: ageMs === null ? null : now - ageMs }, now)).toBe(text);
});
