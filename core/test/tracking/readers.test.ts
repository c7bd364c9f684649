import { DAY, HOUR } from '@kiraku/core/time';
import { passedOn, readersOf, type ReaderHit } from '@kiraku/core/tracking';

const OFFICE: ReaderHit = {
  at: 0,
  ip: '192.0.2.7',
  device: 'computer',
  system: 'Windows',
  program: 'Firefox',
  place: 'Sweden',
};
const PHONE: ReaderHit = { ...OFFICE, ip: '198.51.100.1', device: 'phone', system: 'iOS', program: 'Safari' };
const CACHE: ReaderHit = { ...OFFICE, device: null, system: null, program: 'a mail provider’s image cache' };

test('a device is one reader over all its networks', () => {
  const hits = [PHONE, { ...PHONE, at: HOUR, ip: '203.0.113.9', place: 'Norway' }, { ...OFFICE, at: 2 * HOUR }];
  expect(readersOf(hits)).toEqual([
    {
      device: 'phone',
      system: 'iOS',
      program: 'Safari',
      places: ['Sweden', 'Norway'],
      hits: 2,
      firstAt: 0,
      lastAt: HOUR,
    },
    expect.objectContaining({ device: 'computer', hits: 1 }),
  ]);
});

test.each<[string, ReaderHit[], ReturnType<typeof passedOn>]>([
  ['nobody', [], null],
  ['one reader', [OFFICE, { ...OFFICE, at: DAY }], null],
  ['a phone and a computer', [OFFICE, PHONE], null],
  ['a cache tells of nobody', [OFFICE, { ...CACHE, ip: '203.0.113.1', place: 'Norway' }], null],
  ['two programs on one network', [OFFICE, { ...OFFICE, program: 'Chrome' }], null],
  [
    'another computer elsewhere',
    [OFFICE, { ...OFFICE, system: 'macOS', ip: '203.0.113.1', at: HOUR }],
    { certainty: 'perhaps', reason: '1 other computer on another network' },
  ],
  [
    'another country within the day',
    [OFFICE, { ...PHONE, place: 'Norway', at: HOUR }],
    { certainty: 'likely', reason: 'another phone, in Norway' },
  ],
  [
    'another country next week: they may have travelled',
    [OFFICE, { ...PHONE, place: 'Norway', at: 7 * DAY }],
    { certainty: 'perhaps', reason: 'another phone, in Norway' },
  ],
])('%s', (_name, hits, expected) => expect(passedOn(hits)).toEqual(expected));

test.each<[string, ReaderHit[], ReturnType<typeof passedOn>]>([
  [
    'where the first reader is, is not known',
    [
      { ...OFFICE, place: null },
      { ...PHONE, place: 'Norway' },
    ],
    null,
  ],
  ['where the other is, is not known', [OFFICE, { ...PHONE, place: null }], null],
  ['in one of the places of the first', [OFFICE, { ...OFFICE, place: 'Norway' }, { ...PHONE, place: 'Norway' }], null],
  [
    'two more computers elsewhere',
    [OFFICE, { ...OFFICE, system: 'macOS', ip: '203.0.113.1' }, { ...OFFICE, system: 'Linux', ip: '203.0.113.200' }],
    { certainty: 'likely', reason: '2 other computers on another network' },
  ],
  [
    'another country a day after the last look, not the first',
    [OFFICE, { ...OFFICE, at: 5 * DAY }, { ...PHONE, place: 'Norway', at: 6 * DAY - 1 }],
    { certainty: 'likely', reason: 'another phone, in Norway' },
  ],
])('%s', (_name, hits, expected) => expect(passedOn(hits)).toEqual(expected));

test('two programs of one device are two readers', () => {
  expect(readersOf([OFFICE, { ...OFFICE, program: 'Chrome', at: HOUR }]).map(({ program }) => program)).toEqual([
    'Firefox',
    'Chrome',
  ]);
});
