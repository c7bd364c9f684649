import {
  addressingText,
  clicksSentence,
  datedSubjectText,
  eventSentence,
  firstOpenSentence,
  linkText,
  messageNotes,
  messageStatus,
  sentFileText,
  sentTimeText,
  trailText,
} from '@kiraku/core/sentences';
import type { EventKind, EventView, MessageDetail, MessageSummary, Recipient, TrailEvent } from '@kiraku/core/contract';
import { EMPTY_TALLY, isNow, tallyOf } from '@kiraku/core/tracking';
import { appointmentWords, DAY, exactWords, HOUR, MINUTE, WEEK } from '@kiraku/core/time';

const NOW = Date.UTC(2026, 10, 24, 12, 0);

/** A sent message with events of the given ages. */
function message(
  events: [EventKind, ageMs: number, counted?: boolean][],
  change: Partial<MessageSummary> = {},
): MessageSummary {
  const trailEvents: TrailEvent[] = events
    .map(([kind, ageMs, counted = true], index) => ({
      eventId: index,
      at: NOW - ageMs,
      kind,
      counted,
      label: kind === 'clicked' ? 'fitting plan' : null,
    }))
    .sort((a, b) => a.at - b.at);
  return {
    id: 1,
    state: 'sent',
    subject: 'Quieter lunch hours',
    origin: 'written',
    untrackedReason: null,
    recurrence: null,
    recipients: [{ kind: 'to', name: 'Tomas Berane', address: 'tomas@ostinato.example' }],
    company: 'Café Ostinato',
    trackOpens: true,
    trackClicks: true,
    queuedAt: NOW - 5 * WEEK,
    sendAt: null,
    sentAt: NOW - 5 * WEEK,
    lastActivityAt: NOW,
    forgottenAt: null,
    tally: tallyOf(trailEvents),
    trailEvents,
    lastError: null,
    lastActor: null,
    firstReplier: null,
    withoutSign: 0,
    muted: false,
    archived: false,
    hasNote: false,
    ...change,
  };
}

describe('a file', () => {
  const file = (ageMs: number): TrailEvent => ({
    eventId: 9,
    at: NOW - ageMs,
    kind: 'file_viewed',
    counted: true,
    label: 'Proposal.pdf',
  });
  const of = (trailEvents: TrailEvent[], lastEventAt?: number) => {
    const tally = { ...tallyOf(trailEvents), ...(lastEventAt !== undefined && { lastEventAt }) };
    return messageStatus(message([], { trailEvents, tally }), NOW);
  };

  test('is said to be read while it is: also when it was opened long ago, and a page turned just now', () => {
    expect(of([file(MINUTE)])).toEqual({ tone: 'now', text: 'Reading “Proposal.pdf”' });
    expect(of([file(HOUR)], NOW - MINUTE)).toEqual({ tone: 'now', text: 'Reading “Proposal.pdf”' });
  });

  test('proves a reading where images are blocked, and stands beside links', () => {
    expect(of([file(HOUR)]).text).toBe('Read, images blocked: viewed “Proposal.pdf”');
    const click: TrailEvent = { eventId: 8, at: NOW - 2 * HOUR, kind: 'clicked', counted: true, label: 'fitting plan' };
    const open: TrailEvent = { ...click, eventId: 7, kind: 'opened', label: null };
    expect(of([open, click, file(HOUR)]).text).toBe(
      'Opened once, 2 hours ago; clicked “fitting plan”; viewed “Proposal.pdf”',
    );
  });
});

describe('a message to several', () => {
  const MARIT = { name: 'Marit Oakes', address: 'marit@lindqvist.example' };
  const three = ['marit', 'jun', 'otto'].map((name) => ({
    kind: 'to' as const,
    name,
    address: `${name}@lindqvist.example`,
  }));
  const status = (events: Parameters<typeof message>[0], change: Partial<MessageSummary> = {}) =>
    messageStatus(message(events, { recipients: three, lastActor: MARIT, withoutSign: 2, ...change }), NOW).text;

  test.each<[string, Parameters<typeof message>[0], string]>([
    ['opened', [['opened', 10_000]], 'Marit Oakes opened it just now; 2 of 3 not yet'],
    [
      'clicked',
      [
        ['opened', DAY],
        ['clicked', HOUR],
      ],
      'Marit Oakes clicked “fitting plan” 1 hour ago; 2 of 3 not yet',
    ],
    ['viewed', [['file_viewed', HOUR]], 'Marit Oakes viewed a file 1 hour ago; 2 of 3 not yet'],
    ['is reading', [['file_viewed', MINUTE]], 'Marit Oakes is reading a file; 2 of 3 not yet'],
    ['downloaded', [['downloaded', HOUR]], 'Marit Oakes downloaded a file 1 hour ago; 2 of 3 not yet'],
  ])('says who %s, and how many have not', (_did, events, text) => expect(status(events)).toBe(text));

  test('says who replied, and nothing of the others where all have read it', () => {
    const replied: Parameters<typeof message>[0] = [
      ['opened', 35 * DAY - 10 * MINUTE],
      ['replied', 35 * DAY - 41 * MINUTE],
    ];
    expect(status(replied, { firstReplier: MARIT, withoutSign: 1 })).toBe(
      'Marit Oakes replied after 41 minutes; 1 of 3 not yet',
    );
    expect(status([['opened', HOUR]], { withoutSign: 0 })).toBe('Marit Oakes opened it 1 hour ago');
  });

  test('says what is known of all together where nobody did anything', () => {
    expect(status([], { lastActor: null, withoutSign: 3 })).toBe('No sign of reading yet');
  });
});

describe('messageStatus', () => {
  test.each<[string, MessageSummary, string, string]>([
    ['nothing', message([]), 'plain', 'No sign of reading yet'],
    [
      'machines only',
      message([
        ['opened', HOUR, false],
        ['clicked', HOUR, false],
      ]),
      'plain',
      'No sign of reading yet; 2 automatic requests not counted',
    ],
    ['opened once', message([['opened', 2 * HOUR]]), 'plain', 'Opened once, 2 hours ago'],
    [
      'opened now',
      message([
        ['opened', 3 * MINUTE],
        ['opened', 3 * DAY],
      ]),
      'now',
      'Opened 2 times, last 3 minutes ago',
    ],
    ['long ago', message([['opened', 22 * DAY]]), 'plain', 'Opened once, on 2 Nov'],
    [
      'heating up',
      message([
        ['opened', 5 * MINUTE],
        ['opened', 20 * MINUTE],
        ['opened', 50 * MINUTE],
        ['clicked', 20 * MINUTE],
      ]),
      'now',
      'Opened 3 times within the hour; clicked “fitting plan”',
    ],
    [
      'back after silence',
      message([
        ['opened', HOUR],
        ['opened', 22 * DAY],
      ]),
      'needs-you',
      'Came back after 3 weeks: opened 1 hour ago',
    ],
    ['images blocked', message([['clicked', 2 * DAY]]), 'plain', 'Read, images blocked: clicked “fitting plan”'],
    ['opens not asked for', message([['clicked', 2 * DAY]], { trackOpens: false }), 'plain', 'Clicked “fitting plan”'],
    [
      'replied',
      message([
        ['opened', 35 * DAY - 10 * MINUTE],
        ['replied', 35 * DAY - 41 * MINUTE],
      ]),
      'plain',
      'Replied after 41 minutes',
    ],
    ['handed in, signed', message([], { untrackedReason: 'it is signed' }), 'plain', 'Sent, not tracked: it is signed'],
    ['not tracked', message([], { trackOpens: false, trackClicks: false }), 'plain', 'Sent without tracking'],
    [
      'refused',
      message([['bounced', DAY]], { state: 'failed', lastError: 'address unknown' }),
      'needs-you',
      'Could not be delivered: address unknown',
    ],
    [
      'waiting',
      message([], { state: 'queued', sentAt: null, lastError: 'mailbox busy' }),
      'plain',
      'Will be retried: mailbox busy',
    ],
    [
      'one of two refused',
      message([['opened', 2 * HOUR]], { lastError: 'jonas@ek.example: unknown' }),
      'plain',
      'Opened once, 2 hours ago. jonas@ek.example: unknown',
    ],
  ])('%s', (_name, row, tone, words) => {
    expect(messageStatus(row, NOW, 'UTC')).toEqual({ tone, text: words });
  });
});

test.each([
  [0, true],
  [10 * MINUTE - 1, true],
  [10 * MINUTE, false],
])('an event of %d ms ago is happening now: %s', (ageMs, happening) => {
  expect(isNow(NOW - ageMs, NOW)).toBe(happening);
});

test('the trail in words', () => {
  const row = message([
    ['opened', 4 * MINUTE],
    ['clicked', 3 * MINUTE],
    ['opened', 2 * DAY, false],
  ]);
  expect(trailText(row.trailEvents, NOW - 3 * DAY, NOW, 'UTC')).toBe(
    'Sent on 21 Nov; opened once, last 4 minutes ago; 1 click, last 3 minutes ago; 1 not counted',
  );
  expect(trailText([], null, NOW)).toBe('Not sent yet; no sign of reading yet');
  expect(EMPTY_TALLY.opens).toBe(0);
});

test('notifications speak of people, not of addresses, where the name is known', () => {
  const event = (change: Partial<EventView>) =>
    ({
      kind: 'opened',
      label: null,
      subject: 'Felt',
      recipient: { kind: 'to', name: 'Ada', address: 'ada@a.example' },
      ...change,
    }) as EventView;
  expect(eventSentence(event({}))).toBe('Ada opened “Felt”');
  expect(eventSentence(event({ kind: 'clicked', label: 'price list' }))).toBe('Ada clicked “price list” in “Felt”');
  expect(eventSentence(event({ recipient: { kind: 'to', name: '', address: 'ada@a.example' }, subject: '' }))).toBe(
    'ada@a.example opened “a message without subject”',
  );
});

describe('who came back', () => {
  const words = (events: [EventKind, ageMs: number, counted?: boolean][]) => messageStatus(message(events), NOW).text;
  test('opened it again after weeks, within the last day', () => {
    expect(
      words([
        ['opened', 4 * WEEK],
        ['opened', 2 * HOUR],
      ]),
    ).toMatch(/^Came back after /);
    expect(
      words([
        ['opened', 4 * WEEK],
        ['opened', DAY + MINUTE],
      ]),
    ).not.toMatch(/^Came back/);
  });
  test('is not notified by other signs, nor by what does not count', () => {
    expect(
      words([
        ['opened', 4 * WEEK],
        ['clicked', 2 * HOUR],
      ]),
    ).not.toMatch(/^Came back/);
    expect(
      words([
        ['opened', 4 * WEEK],
        ['opened', 2 * HOUR, false],
      ]),
    ).not.toMatch(/^Came back/);
    expect(
      words([
        ['opened', 4 * WEEK],
        ['clicked', 3 * HOUR],
        ['opened', 2 * HOUR],
      ]),
    ).toMatch(/^Came back after 3 weeks/);
  });
});

const link = (text: string, clicks: number) => ({ text, url: 'https://tallowreed.example/felt', clicks });
test.each<[name: string, links: ReturnType<typeof link>[], text: string]>([
  ['none', [link('the proposal', 0)], ''],
  ['one', [link('the proposal', 1), link('prices', 0)], '“the proposal” clicked once.'],
  ['without words', [link('', 2)], '“https://tallowreed.example/felt” clicked 2 times.'],
  ['from right to left', [link('מחירון', 1)], '“\u2068מחירון\u2069” clicked once.'],
  [
    'very many',
    Array.from({ length: 40 }, () => link('felt', 3)),
    '“felt” clicked 3 times; “felt” clicked 3 times and 38 links more.',
  ],
  [
    'one more than are named',
    [link('a', 1), link('b', 1), link('c', 1)],
    '“a” clicked once; “b” clicked once and 1 link more.',
  ],
])('links that were clicked: %s', (_name, links, text) => expect(clicksSentence(links, 2)).toBe(text));

test.each<[name: string, change: Partial<MessageDetail>, summary: Partial<MessageSummary>, text: string]>([
  ['nothing', {}, {}, ''],
  [
    'from a template, disclosed',
    { template: 'First email', disclose: true },
    {},
    'From the template “First email”. It tells recipients about tracking.',
  ],
  ['counted for a day', { trackForDays: 1 }, {}, 'Activity counts for 1 day after sending.'],
  [
    'from another app, opens not tracked',
    {},
    { origin: 'submitted', trackOpens: false },
    'Sent from another mail app. Opens are not tracked.',
  ],
  ['clicks not tracked', {}, { trackClicks: false }, 'Link clicks are not tracked.'],
  ['some not counted', {}, { tally: { ...EMPTY_TALLY, notCounted: 1 } }, '1 not counted.'],
])('how it was sent: %s', (_name, change, summary, text) => {
  const plain = { tally: EMPTY_TALLY, trackOpens: true, trackClicks: true, origin: 'desk', recurrence: null };
  const detail = { template: null, disclose: false, trackForDays: null, recurrenceProblem: null, ...change };
  expect(messageNotes({ ...detail, summary: { ...plain, ...summary } } as MessageDetail)).toBe(text);
});

const recipients = (kind: Recipient['kind'], count: number) =>
  Array.from({ length: count }, (_, index): Recipient => ({ kind, name: `P${index}`, address: '' }));

test.each<[name: string, of: Recipient[], text: string]>([
  ['nobody', [], ''],
  ['one', recipients('to', 1), 'To P0'],
  ['only a copy', recipients('bcc', 1), 'Bcc P0'],
  [
    'each kind',
    [...recipients('cc', 2), ...recipients('to', 1), ...recipients('bcc', 1)],
    'To P0 · Cc P0, P1 · Bcc P0',
  ],
  ['very many', recipients('to', 250), 'To P0, P1, P2, P3, P4 and 245 more'],
])('addressed to %s', (_name, of, text) => {
  expect(addressingText(of)).toBe(text);
});

test('when a message was sent, or will be', () => {
  const sent = message([]);
  expect(sentTimeText({ ...sent, sendAt: null, sentAt: NOW })).toBe(`sent ${exactWords(NOW)}`);
  expect(sentTimeText({ ...sent, sendAt: null, sentAt: null, queuedAt: NOW - 1 })).toBe(`sent ${exactWords(NOW - 1)}`);
  expect(sentTimeText({ ...sent, sendAt: NOW })).toBe(`scheduled for ${appointmentWords(NOW)}`);
});

test.each([
  [0, 'no clicks', 'not viewed'],
  [1, 'clicked once', 'viewed once'],
  [40, 'clicked 40 times', 'viewed 40 times'],
])('beside a link or a file with %d', (count, link, file) => {
  expect(linkText({ tracked: true, clicks: count })).toBe(link);
  expect(linkText({ tracked: false, clicks: count })).toBe('not tracked');
  expect(sentFileText({ views: count })).toBe(file);
});

test('when a message was first opened, and how it is told from others of its conversation', () => {
  expect(firstOpenSentence(message([]), NOW)).toBe('');
  expect(firstOpenSentence(message([['opened', 4 * MINUTE]]), NOW)).toBe('First opened 4 minutes ago.');
  const sent = { ...message([]), sentAt: NOW };
  expect(datedSubjectText(sent, NOW)).toBe('Quieter lunch hours, 24 Nov');
  expect(datedSubjectText({ ...sent, subject: '' }, NOW)).toBe('No subject, 24 Nov');
  expect(datedSubjectText({ ...sent, subject: 'שלום' }, NOW)).toBe('\u2068שלום\u2069, 24 Nov');
});
