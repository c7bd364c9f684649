import type { MailboxFailure } from '@kiraku/core/contract';
import { doubtSentence, mailboxCheckedSentence, unreadMailProblem, unreadMailText } from '@kiraku/core/sentences';
import { HOUR, MINUTE } from '@kiraku/core/time';

const NOW = Date.UTC(2026, 10, 23, 12);
const failure = (part: Partial<MailboxFailure> = {}): MailboxFailure => ({
  id: 1,
  folder: 'INBOX',
  uid: 7,
  fromAddress: 'marit@lindqvist.example',
  subject: 'Price for 40 m²',
  problem: 'It is larger than 25 MB',
  attempts: 1,
  lastAttemptAt: NOW - 4 * MINUTE,
  givenUp: false,
  ...part,
});

test('what is only probable of a reply is said until it is decided', () => {
  const doubt = 'It came from another address';
  expect(doubtSentence(doubt, null)).toBe(`${doubt}. Follow-ups wait until you say whether it is a reply.`);
  expect(doubtSentence(doubt, 'confirmed')).toBe('You said that it is a reply.');
  expect(doubtSentence(doubt, 'rejected')).toContain('It is not counted.');
});

test.each([
  [null, 'Not checked yet.'],
  [NOW - 2 * HOUR, 'Checked 2 hours ago.'],
])('a mailbox checked at %p', (seenAt, sentence) => {
  expect(mailboxCheckedSentence({ seenAt }, NOW)).toBe(sentence);
});

test.each<[name: string, part: Partial<MailboxFailure>, text: string]>([
  ['all is known', {}, 'Price for 40 m², from marit@lindqvist.example, in INBOX'],
  ['nothing is known', { subject: '', fromAddress: '' }, 'No subject, from an unknown sender, in INBOX'],
  ['from right to left', { subject: 'הצעה' }, '\u2068הצעה\u2069, from marit@lindqvist.example, in INBOX'],
])('a mail that could not be read, where %s', (_name, part, text) => {
  expect(unreadMailText(failure(part))).toBe(text);
});

test.each([
  [1, 'It is larger than 25 MB. Tried 1 time, last 4 minutes ago.'],
  [5, 'It is larger than 25 MB. Tried 5 times, last 4 minutes ago.'],
])('tried %d times', (attempts, sentence) => {
  expect(unreadMailProblem(failure({ attempts }), NOW)).toBe(sentence);
});
