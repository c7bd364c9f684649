import type { CopyView, DsnState, MdnState, Reader } from '@kiraku/core/contract';
import {
  copyText,
  countsText,
  outboxSentence,
  outboxStateText,
  readersSentences,
  readersText,
  receiptSentences,
} from '@kiraku/core/sentences';
import { MINUTE } from '@kiraku/core/time';
import { EMPTY_TALLY } from '@kiraku/core/tracking';

const NOW = Date.UTC(2026, 10, 23, 12);
const copy = (part: Partial<CopyView> = {}): CopyView =>
  ({ state: 'sent', lastError: null, tally: EMPTY_TALLY, doNotTrack: false, ...part }) as CopyView;

test.each<[name: string, copy: CopyView, text: string]>([
  ['failed', copy({ state: 'failed', lastError: '550 No such user' }), 'Could not be delivered: 550 No such user'],
  ['failed, without a word', copy({ state: 'failed' }), 'Could not be delivered: rejected'],
  ['on its way', copy({ state: 'queued' }), 'Sending'],
  ['waiting', copy({ state: 'queued', lastError: '451 Busy' }), 'Will be retried: 451 Busy'],
  ['nothing yet', copy(), 'No sign of reading yet'],
  ['opted out', copy({ doNotTrack: true }), 'Not tracked, at their request'],
  [
    'read before they opted out',
    copy({ doNotTrack: true, tally: { ...EMPTY_TALLY, opens: 1, lastEventAt: NOW - 4 * MINUTE } }),
    '1 open, last 4 minutes ago',
  ],
  [
    'everything',
    copy({ tally: { ...EMPTY_TALLY, opens: 2, clicks: 1, fileViews: 3, replies: 1, lastEventAt: NOW - MINUTE } }),
    '2 opens, 1 click, 3 file views, 1 reply, last 1 minute ago',
  ],
])('%s', (_name, of, text) => {
  expect(copyText(of, NOW)).toBe(text);
});

test.each([
  [{ opens: 0, clicks: 0, replies: 0 }, ''],
  [{ opens: 1, clicks: 0, fileViews: 1, replies: 2 }, '1 open, 1 file view, 2 replies'],
  [{ opens: 12_345, clicks: 2, replies: 0 }, '12345 opens, 2 clicks'],
])('counts %j', (counts, text) => {
  expect(countsText(counts)).toBe(text);
});

test.each<[dsn: DsnState | null, mdn: MdnState | null, sentences: string[]]>([
  [null, null, []],
  ['failed', null, []],
  ['asked', 'asked', ['No delivery receipt yet.', 'You asked for a read receipt; none yet.']],
  ['not-offered', null, ['You asked for a delivery receipt; your mail server offers none.']],
  ['delivered', 'displayed', ['Delivered to their mailbox.', 'Read receipt: it was displayed.']],
  [
    'delayed',
    'deleted',
    ['Not delivered yet: their server tries again.', 'Read receipt: it was deleted, perhaps unread.'],
  ],
  ['relayed', 'denied', ['Passed on to a server that sends no receipts.', 'They declined to send a read receipt.']],
  [null, 'processed', ['Their mail app processed it; no more is known.']],
])('delivery receipt %s, read receipt %s', (dsnState, mdnState, sentences) => {
  expect(receiptSentences({ dsnState, mdnState })).toEqual(sentences);
});

test('who reads it is said where it seems to be more than one', () => {
  const reader = (device: string | null, ...places: string[]) =>
    ({ device, system: null, program: null, places }) as Reader;
  expect(readersSentences({ readers: [], passedOn: null })).toEqual([]);
  expect(readersSentences({ readers: [reader('phone')], passedOn: null })).toEqual([]);
  expect(
    readersSentences({
      readers: [reader('phone', 'Oslo', 'Bergen'), reader(null)],
      passedOn: { certainty: 'likely', reason: 'another phone, in Norway' },
    }),
  ).toEqual([
    'Seems to be read on phone, Oslo, Bergen; an unknown device.',
    'Likely passed on: another phone, in Norway.',
  ]);
});

test.each<[state: CopyView['state'], attempts: number, text: string]>([
  ['queued', 0, 'Sending'],
  ['queued', 1, 'Tried once'],
  ['queued', 12, 'Tried 12 times'],
  ['failed', 12, 'Failed'],
])('a copy that is %s after %d attempts', (state, attempts, text) => {
  expect(outboxStateText({ state, attempts })).toBe(text);
});

test('how many copies wait, and how many failed', () => {
  expect(outboxSentence(0, 1)).toBe('0 copies waiting, 1 failed in the past month; newest first.');
  expect(outboxSentence(1, 0)).toBe('1 copy waiting, 0 failed in the past month; newest first.');
  expect(outboxSentence(1200, 3)).toBe('1200 copies waiting, 3 failed in the past month; newest first.');
});

test('with what a copy was read', () => {
  const reader = (device: Reader['device']) =>
    ({ device, program: null, system: null, places: [] }) as unknown as Reader;
  expect(readersText([])).toBe('');
  expect(readersText([reader('phone')])).toBe('on phone');
  expect(readersText([reader('phone'), reader(null)])).toBe('on phone; an unknown device');
});
