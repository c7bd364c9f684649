import type { RoundMember, WordingComparison } from '@kiraku/core/contract';
import { DEFAULT_PACE } from '@kiraku/core/rounds';
import {
  betterSentence,
  differenceSentence,
  memberStatus,
  memberTimeText,
  paceText,
  roundText,
  wordingsSentences,
} from '@kiraku/core/sentences';
import { messageSummary } from '../messageSummary.js';

const compared = (change: Partial<WordingComparison>): WordingComparison => ({
  evidence: 'replied',
  probabilities: [0.22, 0.78],
  best: 1,
  next: 0,
  difference: { difference: 0.2, low: -0.2, high: 0.5 },
  needed: 63,
  ...change,
});

test.each<[Partial<WordingComparison>, string]>([
  [
    {},
    'B may get more replies: 78 % likely. Not enough to say. About 60 more messages would show a difference of this size.',
  ],
  [{ needed: null }, 'B may get more replies: 78 % likely. Not enough to say.'],
  [
    { probabilities: [0.5, 0.5] },
    'By replies, no difference so far. Not enough to say. About 60 more messages would show a difference of this size.',
  ],
  [{ probabilities: [0.96, 0.04], best: 0, evidence: 'clicked' }, 'A gets more clicks: 96 % likely.'],
  [{ probabilities: [0.0001, 0.9999], evidence: 'read' }, 'B gets more readers: 99 % likely.'],
  [
    { probabilities: [0.33, 0.34, 0.33], needed: 4321 },
    'By replies, no difference so far. Not enough to say. About 4300 more messages would show a difference of this size.',
  ],
])('%j is said', (change, sentence) => {
  expect(betterSentence(compared(change))).toBe(sentence);
});

test('while a round runs, it is said how its numbers may be read', () => {
  const comparisons = [compared({})];
  expect(wordingsSentences({ comparisons, state: 'running' })[1]).toMatch(/still runs/);
  expect(wordingsSentences({ comparisons, state: 'done' })).toHaveLength(1);
  expect(wordingsSentences({ comparisons: [], state: 'running' })).toEqual([]);
});

test.each([
  [DEFAULT_PACE, '12 an hour, Monday to Friday, 9:00–11:00 by their clocks'],
  [{ ...DEFAULT_PACE, kind: 'at-once' as const }, 'All at once'],
  [
    { ...DEFAULT_PACE, weekdays: [4, 0, 2], toHour: 24 },
    '12 an hour, Monday, Wednesday, Friday, 9:00–0:00 by their clocks',
  ],
  [{ ...DEFAULT_PACE, weekdays: [0, 1, 2, 3, 4, 5, 6] }, '12 an hour, every day, 9:00–11:00 by their clocks'],
])('the pace %j is %s', (pace, words) => {
  expect(paceText(pace).replaceAll('09:00', '9:00').replaceAll('00:00', '0:00')).toBe(words);
});

test('how many stand where', () => {
  expect(roundText({ people: 12, sent: 8, failed: 2, waiting: 0 })).toMatch(/ · 8 sent · 2 not delivered$/);
  expect(roundText({ people: 12, sent: 9, failed: 0, waiting: 3 })).toBe(
    '12 people, each with a message of their own · 9 sent · 3 wait',
  );
  expect(roundText({ people: 1, sent: 0, failed: 0, waiting: 1 })).toBe(
    '1 person, each with a message of their own · 1 waits',
  );
});

const member = (change: Partial<RoundMember>): RoundMember => ({
  ...{ messageId: 1, recipient: { name: 'Jonas Ek', address: 'jonas@ek.example' }, company: '', personId: 1 },
  ...{ wording: 0, isRest: false, edited: false, leftOut: false, warnings: [], unfilled: [], state: 'draft' },
  ...{ sendAt: null, summary: null },
  ...change,
});

test.each<[Partial<RoundMember>, string, string]>([
  [{}, 'plain', 'Ready'],
  [{ edited: true, warnings: ['recently'] }, 'plain', 'Changed by hand · written to lately'],
  [{ leftOut: true, unfilled: ['{{company}}'] }, 'plain', 'Left out'],
  [
    { unfilled: ['{{company}}'] },
    'needs-you',
    'Nothing is known for {{company}}: fill it in by hand, or leave them out',
  ],
  [{ warnings: ['opted-out'] }, 'needs-you', 'Opted out: gets no message'],
  [{ state: 'scheduled', sendAt: 5 }, 'plain', 'Ready'],
  [{ state: 'queued', summary: messageSummary({ state: 'queued' }) }, 'plain', 'Sending'],
  [
    { state: 'failed', summary: messageSummary({ state: 'failed', lastError: '550 No' }) },
    'needs-you',
    'Could not be delivered: 550 No',
  ],
])('%j stands so', (change, tone, text) => {
  expect(memberStatus(member(change), 0)).toEqual({ tone, text });
});

test('what was taken back by itself while the round runs says how it is sent', () => {
  expect(memberStatus(member({}), 0, true)).toEqual({
    tone: 'needs-you',
    text: 'Moved back to drafts: pause and resume the round to send it',
  });
  expect(memberStatus(member({ state: 'scheduled', sendAt: 5 }), 0, true).text).toBe('Ready');
});

test('when a message leaves, or left', () => {
  expect(memberTimeText(member({ state: 'scheduled', sendAt: 5 }), 9)).toMatch(/^leaves /);
  expect(memberTimeText(member({ state: 'sent', summary: messageSummary({ sentAt: 5 }) }), 9)).toMatch(/^sent /);
  expect(memberTimeText(member({}), 9)).toBe('');
});

test.each([
  [{ difference: 0.2, low: -0.1, high: 0.45 }, 'In 100 messages, B gets 20 more than A, likely between −10 and 45.'],
  [{ difference: 0.001, low: -0.3, high: 0.3 }, 'In 100 messages, B gets as many as A, likely between −30 and 30.'],
])('a difference of %j is said with its interval', (difference, sentence) => {
  expect(differenceSentence(compared({ difference }))).toBe(sentence);
});
