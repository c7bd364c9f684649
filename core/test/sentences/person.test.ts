import {
  basisSentence,
  busiestSentence,
  devicesSentence,
  duplicatesSentence,
  hourSumText,
  importSentence,
  contactText,
  nextReminderText,
  personActivityText,
  personSentences,
  readingTimesSentence,
  replyRateSentence,
  markedDoneText,
  snoozedText,
  tagText,
  zoneSentence,
} from '@kiraku/core/sentences';
import type { ImportAction, MessageSummary, PersonReading, PersonRow, ReadingTimes } from '@kiraku/core/contract';
import { EMPTY_TALLY } from '@kiraku/core/tracking';

const HOUR = 3_600_000;
const NOW = 1_800_000_000_000;
const message = (sentAgoMs: number | null, repliedAfterMs: number | null = null) =>
  ({
    sentAt: sentAgoMs === null ? null : NOW - sentAgoMs,
    tally: {
      ...EMPTY_TALLY,
      repliedAt: sentAgoMs === null || repliedAfterMs === null ? null : NOW - sentAgoMs + repliedAfterMs,
    },
  }) as MessageSummary;

test.each([
  ['nothing was sent', [message(null)], ''],
  [
    'nothing was replied to',
    [message(5 * HOUR)],
    'Replied to 0 of 1 message. The last one has had no reply for 5 hours.',
  ],
  [
    'some were, in any order',
    [message(90 * HOUR, 2 * HOUR), message(30 * HOUR), message(200 * HOUR, 8 * HOUR), message(300 * HOUR, 3 * HOUR)],
    'Replied to 3 of 4 messages, half of them within 3 hours. The last one has had no reply for 1 day.',
  ],
  ['the last one was', [message(9 * HOUR, HOUR)], 'Replied to 1 of 1 message, within 1 hour.'],
])('%s', (_what, messages, words) => expect(replyRateSentence(messages, NOW)).toBe(words));

test.each<[name: string, change: Partial<PersonRow>, text: string]>([
  ['nothing', {}, ''],
  ['nothing, and not tracked', { doNotTrack: true }, 'Not tracked'],
  ['one open', { opens: 1, lastEventAt: NOW - 4 * 60_000 }, '1 open, last 4 minutes ago'],
  ['replies', { opens: 2, replies: 2, lastEventAt: NOW - HOUR }, '2 opens, 2 replies, last 1 hour ago'],
  [
    'only a delivery, not tracked now',
    { lastEventAt: NOW - HOUR, doNotTrack: true },
    'Last activity 1 hour ago; not tracked now',
  ],
])('what a person did: %s', (_name, change, text) => {
  const nothing = { opens: 0, clicks: 0, fileViews: 0, replies: 0, doNotTrack: false, lastEventAt: null };
  expect(personActivityText({ ...nothing, ...change } as PersonRow, NOW)).toBe(text);
});

test.each([
  [{ own: 30, company: 0, all: 0, ownWeight: 0.6 }, 'Based on 30 opens and clicks of their own: fairly sure.'],
  [{ own: 1, company: 0, all: 9, ownWeight: 0.1 }, 'Based on 1 open or click of their own, and on others: a hint.'],
  [
    { own: 0, company: 2, all: 9, ownWeight: 0 },
    'Nothing is known of them yet: based on 2 opens and clicks by others at their company.',
  ],
  [
    { own: 0, company: 0, all: 1, ownWeight: 0 },
    'Nothing is known of them yet: based on 1 open or click by everybody.',
  ],
])('what the best time to send is based on', (basis, text) => expect(basisSentence(basis)).toBe(text));

test('when somebody reads mostly is said where a habit shows, and always how sure one can be', () => {
  const habit = { busiest: { weekday: 1, hour: 10 }, confidence: 'fairly', total: 40, days: 12 } as ReadingTimes;
  expect(readingTimesSentence(habit)).toBe(
    'Mostly on Tuesday around 10:00. Based on 40 opens and clicks on 12 days: fairly sure.',
  );
  const none = { ...habit, busiest: null, confidence: 'nothing', total: 0 } as ReadingTimes;
  expect(busiestSentence(none)).toBe('');
  expect(readingTimesSentence(none)).toBe('Nothing read yet.');
  expect(hourSumText(1, 10, 1)).toBe('Tuesday around 10:00: read once');
  expect(hourSumText(6, 22, 30)).toBe('Sunday around 22:00: read 30 times');
});

test('with what somebody reads', () => {
  const device = (opens: number) => ({ device: 'phone', program: null, system: 'iOS', opens });
  expect(devicesSentence([])).toBe('No devices known yet.');
  expect(devicesSentence([device(1)])).toBe('Devices: phone, iOS (1 time).');
  expect(devicesSentence([device(12), device(2)])).toBe('Devices: phone, iOS (12 times); phone, iOS (2 times).');
});

test('whose time zone is shown', () => {
  expect(zoneSentence('Asia/Tokyo', true)).toBe('Time zone: Asia/Tokyo.');
  expect(zoneSentence('Asia/Tokyo', false)).toBe('Time zone: Asia/Tokyo, which is yours: set theirs below.');
});

test.each<[lastContactAt: number | null, nextReminderAt: number | null, sentence: string]>([
  [null, null, '1 message, 3 events.'],
  [NOW - 3 * HOUR, null, '1 message, 3 events. Last contact 3 hours ago.'],
  [NOW - 72 * HOUR, NOW + 1, '1 message, 3 events. Last contact on 12 Jan. Reminder on 15 Jan.'],
  [null, NOW, '1 message, 3 events. Reminder due.'],
])('somebody who was last in touch at %p, with a reminder at %p', (lastContactAt, nextReminderAt, sentence) => {
  const person = { messagesTotal: 1, eventsTotal: 3, lastContactAt, nextReminderAt } as PersonReading;
  expect(personSentences(person, NOW)).toBe(sentence);
  expect(contactText(person, NOW) === '').toBe(lastContactAt === null);
  expect(nextReminderText(person, NOW) === '').toBe(nextReminderAt === null);
});

test('the tag in the sentence of the people', () => {
  expect(tagText('')).toBe('any tag');
  expect(tagText('café')).toBe('the tag “café”');
});

test.each([
  [1, '1 name is listed more than once.'],
  [7, '7 names are listed more than once.'],
])('%d duplicates', (names, sentence) => {
  expect(duplicatesSentence(names)).toBe(sentence);
});

test.each<[counts: Partial<Record<ImportAction, number>>, applied: boolean, sentence: string]>([
  [{}, false, 'There is nobody in this file.'],
  [{}, true, 'There is nobody in this file.'],
  [{ new: 1 }, false, 'To import: 1 new.'],
  [{ refused: 2, new: 3, same: 1200, change: 1 }, true, 'Imported: 3 new, 1 changed, 1200 already known, 2 skipped.'],
])('an import of %j', (counts, applied, sentence) => {
  const all = { new: 0, change: 0, same: 0, refused: 0, ...counts };
  expect(importSentence({ counts: all, applied })).toBe(sentence);
});

test('somebody who was taken off the list is named', () => {
  expect(snoozedText('Marit Oakes', 'until next Monday')).toBe('Marit Oakes is hidden until next Monday');
  expect(markedDoneText('Marit Oakes')).toBe('Marit Oakes is done until they do something new');
});
