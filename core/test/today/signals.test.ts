import fc from 'fast-check';
import type { EventKind, TrailEvent } from '@kiraku/core/contract';
import { DAY, HOUR, MINUTE, WEEK } from '@kiraku/core/time';
import { scoreOf, signalsOf } from '@kiraku/core/today';

const NOW = 1_800_000_000_000;
const trailEvents = (...happened: [kind: EventKind, ageMs: number, counted?: boolean][]): TrailEvent[] =>
  happened
    .map(([kind, ageMs, counted = true], eventId) => ({
      eventId,
      at: NOW - ageMs,
      kind,
      counted,
      label: kind === 'clicked' ? 'price list' : null,
    }))
    .sort((a, b) => a.at - b.at);
const of = (happened: TrailEvent[], repliedAgeMs?: number) =>
  signalsOf(
    { trailEvents: happened, repliedAt: repliedAgeMs === undefined ? null : NOW - repliedAgeMs, passedOn: null },
    NOW,
  );
const names = (happened: TrailEvent[], repliedAgeMs?: number) => of(happened, repliedAgeMs).map(({ name }) => name);

test('says which page of which file is being read', () => {
  const page: TrailEvent = {
    eventId: 9,
    at: NOW - MINUTE,
    kind: 'page_viewed',
    counted: true,
    label: 'Proposal.pdf',
    page: 3,
  };
  expect(of([page])[0]).toMatchObject({ name: 'reading', words: 'Is on page 3 of “Proposal.pdf”' });
  expect(of([{ ...page, kind: 'file_viewed', page: null }])[0]!.words).toBe('Is reading “Proposal.pdf”');
});

test.each<[string, TrailEvent[], string[]]>([
  ['nothing', [], []],
  ['reading now', trailEvents(['opened', MINUTE]), ['reading', 'opened']],
  [
    'several opens within the hour',
    trailEvents(['opened', 50 * MINUTE], ['opened', 40 * MINUTE], ['opened', 20 * MINUTE]),
    ['heating', 'opened'],
  ],
  [
    'as many, but not within an hour',
    trailEvents(['opened', 3 * HOUR], ['opened', 2 * HOUR], ['opened', 20 * MINUTE]),
    ['opened'],
  ],
  ['back after weeks', trailEvents(['opened', 4 * WEEK], ['opened', 2 * HOUR]), ['back', 'opened']],
  ['a link followed days ago', trailEvents(['opened', 5 * DAY], ['clicked', 5 * DAY]), ['link', 'opened']],
  ['a link followed long ago', trailEvents(['clicked', 8 * DAY]), []],
  ['only a machine', trailEvents(['opened', MINUTE, false], ['clicked', MINUTE, false]), []],
])('%s', (_name, happened, expected) => {
  expect(names(happened)).toEqual(expected);
});

test('who has read and is silent for days is said to be so, until it is too long ago', () => {
  const words = (agoMs: number) =>
    signalsOf({ trailEvents: trailEvents(['opened', agoMs]), repliedAt: null, passedOn: null }, NOW)[0]?.words;
  expect(words(2 * DAY)).toBe('Opened once, and no reply yet');
  expect(words(5 * DAY)).toBe('Opened once, and no reply for 5 days');
  expect(words(9 * DAY)).toBeUndefined();
});

test('what servers and machines say is no sign of anybody', () => {
  const told = trailEvents(['delivered', MINUTE], ['receipt', MINUTE]);
  expect(names(told)).toEqual([]);
});

test('a reply settles what was before it, and not what comes after', () => {
  const happened = trailEvents(['opened', 2 * HOUR], ['clicked', 90 * MINUTE]);
  expect(names(happened, HOUR)).toEqual([]);
  expect(names([...happened, ...trailEvents(['opened', 30 * MINUTE])], HOUR)).toEqual(['opened']);
});

test('the words say what was done', () => {
  expect(of(trailEvents(['clicked', DAY]))[0]!.words).toBe('Clicked “price list”, and no reply since');
  const passedOn = { certainty: 'likely' as const, reason: 'another phone, in Oslo' };
  expect(
    signalsOf({ trailEvents: trailEvents(['opened', DAY]), repliedAt: null, passedOn }, NOW).map(({ words }) => words),
  ).toContain('Likely passed on: another phone, in Oslo');
});

test('who is reading now comes before whoever did anything some time ago', () => {
  const longAgo = trailEvents(
    ['opened', 4 * WEEK],
    ['opened', HOUR],
    ['opened', HOUR],
    ['opened', HOUR],
    ['clicked', HOUR],
  );
  const reading = trailEvents(['opened', MINUTE], ['opened', 2 * MINUTE], ['opened', 3 * MINUTE]);
  expect(scoreOf(of(reading))).toBeGreaterThan(scoreOf(of(trailEvents(['clicked', HOUR], ['opened', HOUR]))));
  expect(scoreOf(of(longAgo))).toBeGreaterThan(scoreOf(of(trailEvents(['opened', HOUR]))));
});

test('nothing weighs more by getting older, and the parts come in the order of their weight', () => {
  const kinds = fc.constantFrom<EventKind>('opened', 'clicked', 'file_viewed');
  const happened = fc.array(fc.tuple(kinds, fc.integer({ min: 0, max: 10 * DAY }), fc.boolean()), { maxLength: 12 });
  fc.assert(
    fc.property(happened, fc.integer({ min: 0, max: 10 * DAY }), (list, laterMs) => {
      const activity = { trailEvents: trailEvents(...list), repliedAt: null, passedOn: null };
      const parts = signalsOf(activity, NOW);
      expect(parts.map(({ points }) => points)).toEqual(parts.map(({ points }) => points).sort((a, b) => b - a));
      expect(scoreOf(signalsOf(activity, NOW + laterMs))).toBeLessThanOrEqual(scoreOf(parts));
    }),
  );
});

describe('what a signal weighs, and says', () => {
  const parts = (happened: TrailEvent[]) => of(happened).map(({ name, points }) => [name, points]);

  test('fades evenly, and is gone at its end', () => {
    const link = (ageMs: number) => parts(trailEvents(['clicked', ageMs])).find(([name]) => name === 'link')?.[1];
    expect([0, 1, 3.5, 6, 7].map((days) => link(days * DAY))).toEqual([25, 21, 13, 4, undefined]);
    expect(parts(trailEvents(['file_viewed', HOUR]))).toEqual([['file', 30]]);
    expect(parts(trailEvents(['opened', 4 * DAY]))).toEqual([['opened', 8]]);
  });

  test('of who is reading now is whole, whatever is due besides', () => {
    expect(parts(trailEvents(['clicked', 10_000]))).toEqual([
      ['reading', 50],
      ['link', 25],
    ]);
    expect(parts(trailEvents(['downloaded', 10_000]))).toEqual([['reading', 50]]);
    expect(of(trailEvents(['downloaded', 10_000]))[0]!.words).toBe('Reading it right now');
  });

  test('of opens within an hour counts those alone', () => {
    const [heating] = of(
      trailEvents(['opened', 5 * HOUR], ['opened', 40 * MINUTE], ['opened', 30 * MINUTE], ['opened', 20 * MINUTE]),
    );
    expect(heating).toMatchObject({ name: 'heating', words: 'Opened 3 times within an hour' });
    expect(names(trailEvents(['opened', 70 * MINUTE], ['opened', 30 * MINUTE], ['opened', 10 * MINUTE]))).not.toContain(
      'heating',
    );
    expect(names(trailEvents(['opened', 69 * MINUTE], ['opened', 30 * MINUTE], ['opened', 9.5 * MINUTE]))).toContain(
      'heating',
    );
  });

  test('names what was followed or read, where it has a name', () => {
    const words = (mark: Partial<TrailEvent>) =>
      of([{ eventId: 1, at: NOW - HOUR, kind: 'clicked', counted: true, label: null, ...mark } as TrailEvent])[0]!
        .words;
    expect(words({ label: 'price list' })).toBe('Clicked “price list”, and no reply since');
    expect(words({})).toBe('Clicked a link, and no reply since');
    expect(words({ kind: 'file_viewed', label: 'Proposal.pdf' })).toBe('Read “Proposal.pdf”, and no reply since');
    expect(words({ kind: 'file_viewed' })).toBe('Read a file, and no reply since');
  });

  test('of no reply is said from the third day on', () => {
    const words = (ageMs: number) => of(trailEvents(['opened', ageMs])).find(({ name }) => name === 'opened')!.words;
    expect(words(3 * DAY - 1)).toBe('Opened once, and no reply yet');
    expect(words(3 * DAY)).toBe('Opened once, and no reply for 3 days');
  });
});

test.each<[name: string, happened: (agoMs: number) => TrailEvent[], points: number, fadesMs: number]>([
  ['heating', (ago) => trailEvents(['opened', ago + 2], ['opened', ago + 1], ['opened', ago]), 40, 6 * HOUR],
  ['back', (ago) => trailEvents(['opened', ago + 10 * WEEK], ['opened', ago]), 35, 2 * DAY],
  ['file', (ago) => trailEvents(['file_viewed', ago]), 30, 7 * DAY],
  ['link', (ago) => trailEvents(['clicked', ago]), 25, 7 * DAY],
  ['opened', (ago) => trailEvents(['opened', ago]), 15, 8 * DAY],
])('%s weighs less and less until it is over', (name, happened, points, fadesMs) => {
  const weight = (agoMs: number) => of(happened(agoMs)).find((part) => part.name === name)?.points;
  expect(weight(0)).toBe(points);
  expect(weight(fadesMs / 2)).toBe(Math.round(points / 2));
  expect(weight(fadesMs)).toBeUndefined();
});

test('it names the newest file and the newest link, by their names', () => {
  const older = { ...trailEvents(['clicked', 2 * HOUR])[0]!, label: 'old' };
  const newer = { ...trailEvents(['clicked', HOUR])[0]!, eventId: 1, label: 'new' };
  expect(of([older, newer]).find(({ name }) => name === 'link')!.words).toBe('Clicked “new”, and no reply since');
  expect(of([{ ...newer, label: null }])[0]!.words).toBe('Clicked a link, and no reply since');
  expect(of([{ ...newer, kind: 'file_viewed', label: null }])[0]!.words).toBe('Read a file, and no reply since');
});

test('what was passed on weighs fifteen, and says how likely that is', () => {
  const passedOn = { certainty: 'likely' as const, reason: 'another phone, in Norway' };
  const parts = signalsOf({ trailEvents: trailEvents(['opened', HOUR]), repliedAt: null, passedOn }, NOW);
  expect(parts.find(({ name }) => name === 'passed-on')).toEqual({
    name: 'passed-on',
    points: 15,
    words: 'Likely passed on: another phone, in Norway',
  });
});
