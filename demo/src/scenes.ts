import { randomInt, randomLcg, randomLogNormal, randomUniform } from 'd3-random';
import { DAY, HOUR, MINUTE, SECOND } from '@kiraku/core/time';
import type { DraftReminder, DraftStep } from '@kiraku/core/contract';
import type { DocumentName } from './documents.js';
import { LETTERS, PEOPLE, type LetterName } from './story.js';

/** Who fetched it: a kind of program, and the network it sits in (from the ranges kept for examples, RFC 5737). */
export interface Reader {
  userAgent: string;
  ip: string;
}

/** What comes back by mail, or is asked at the door. */
export type Reply = 'answered' | 'away' | 'receipt_sent' | 'receipt_declined' | 'opted_out';

/** What a recipient did. Ages count back from now. */
export interface Deed {
  kind: 'opened' | 'clicked' | 'file_viewed' | Reply;
  ageMs: number;
  reader: Reader;
  /** What they wrote. */
  text?: string;
  /** Which link was followed. */
  link?: number;
  /** Which of the letter’s files was read, and which pages for how many seconds. */
  file?: number;
  pages?: [page: number, seconds: number][];
  /** Which recipient did it; the first where nothing is said. */
  by?: number;
}

export interface Scene {
  letter: LetterName;
  /** Names of the story's people; the second and later ones in Cc. */
  recipients: string[];
  sentAgeMs: number;
  deeds: Deed[];
  tracked?: boolean;
  asksReceipt?: boolean;
  discloses?: boolean;
  /** What is to remind of it, and what is to follow it. */
  reminder?: Omit<DraftReminder, 'zone'>;
  follows?: Omit<DraftStep, 'templateId'>[];
  /** What goes along, as links. */
  files?: DocumentName[];
}

const LAPTOP =
  'Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/141.0.0.0 Safari/537.36';
const DESKTOP_MAIL = 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Thunderbird/140.2.0';
const PHONE =
  'Mozilla/5.0 (iPhone; CPU iPhone OS 18_6 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.6 Mobile/15E148 Safari/604.1';
const TABLET =
  'Mozilla/5.0 (iPad; CPU OS 18_6 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.6 Safari/604.1';
const CACHE = 'Mozilla/5.0 (Windows NT 5.1; rv:11.0) Gecko Firefox/11.0 (via ggpht.com GoogleImageProxy)';
const SCANNER = 'MailGuard-Scanner/3.1 (+https://scan.example/bot)';

const at = (userAgent: string, ip: string): Reader => ({ userAgent, ip });
const office = at(LAPTOP, '192.0.2.14');
const phone = at(PHONE, '198.51.100.23');
const scanner = at(SCANNER, '203.0.113.200');

const opened = (ageMs: number, reader = office, by = 0): Deed => ({ kind: 'opened', ageMs, reader, by });
const clicked = (ageMs: number, link = 0, reader = office, by = 0): Deed => ({
  kind: 'clicked',
  ageMs,
  reader,
  link,
  by,
});
const viewed = (ageMs: number, pages: Deed['pages'], reader = office, by = 0, file = 0): Deed => ({
  ...{ kind: 'file_viewed', ageMs, reader, by, file },
  pages,
});
const replied = (kind: Reply, ageMs: number, text?: string): Deed => ({
  kind,
  ageMs,
  reader: office,
  ...(text && { text }),
});
const answered = (ageMs: number, text: string): Deed => replied('answered', ageMs, text);
const remind = (when: string, condition: DraftReminder['condition'], note = ''): Scene['reminder'] => ({
  ...{ when, condition, note, mails: false },
});

/** The situations that the story is about. */
export const TOLD: readonly Scene[] = [
  {
    letter: 'readingRoom',
    recipients: ['Marit Oakes', 'Jun Falk'],
    sentAgeMs: 22 * DAY + 2 * HOUR,
    files: ['proposal'],
    deeds: [
      viewed(22 * DAY + 1.2 * HOUR, [
        ...([
          [1, 6],
          [2, 48],
          [3, 71],
          [4, 94],
          [6, 130],
          [4, 41],
        ] as [number, number][]),
      ]),
      viewed(
        21 * DAY - HOUR,
        [
          [1, 9],
          [2, 22],
          [3, 15],
        ],
        phone,
        1,
      ),
      viewed(
        19 * DAY,
        [
          [1, 4],
          [5, 63],
          [6, 88],
          [7, 52],
          [8, 20],
        ],
        at(DESKTOP_MAIL, '192.0.2.80'),
        1,
      ),
      viewed(1.7 * HOUR, [
        [1, 5],
        [4, 77],
        [6, 145],
        [4, 38],
        [6, 60],
      ]),
      opened(22 * DAY + 1.4 * HOUR),
      clicked(22 * DAY + 1.3 * HOUR, 0),
      opened(21 * DAY, phone, 1),
      clicked(20 * DAY, 1),
      opened(19 * HOUR, phone),
      opened(1.8 * HOUR),
      opened(4 * MINUTE),
      clicked(3 * MINUTE, 0),
    ],
  },
  {
    letter: 'lunchHours',
    recipients: ['Tomas Berane'],
    sentAgeMs: 1 * DAY + 20 * HOUR,
    files: ['slides'],
    deeds: [
      opened(52 * MINUTE, phone),
      opened(37 * MINUTE),
      clicked(36 * MINUTE),
      opened(21 * MINUTE),
      opened(12 * MINUTE, phone),
    ],
  },
  {
    letter: 'price',
    recipients: ['Rafe Linden'],
    reminder: remind('in 2 weeks', 'unanswered', 'Ask whether the grey is still wanted'),
    sentAgeMs: 21 * DAY + 3 * HOUR,
    files: ['prices'],
    deeds: [opened(21 * DAY + 2 * HOUR), opened(48 * MINUTE)],
  },
  {
    letter: 'curtains',
    recipients: ['Hana Iwase'],
    reminder: remind('in 3 days', 'unanswered'),
    follows: [{ condition: 'unanswered', workingDays: 3, time: '09:30' }],
    sentAgeMs: 1 * DAY + 3 * HOUR,
    deeds: [
      opened(1 * DAY + 2.5 * HOUR),
      answered(
        1 * DAY + 3 * HOUR - 41 * MINUTE,
        'That is a good deal better. Please begin next week, and send the invoice to our office.',
      ),
    ],
  },
  {
    letter: 'colourCard',
    recipients: ['Noor Sabet'],
    reminder: remind('in 3 days', 'always', 'Post the moss and the slate, if she has not asked by then'),
    sentAgeMs: 4 * DAY + 2 * HOUR,
    files: ['colours'],
    deeds: [
      viewed(2.8 * DAY, [[1, 74]], at(TABLET, '203.0.113.91')),
      opened(4 * DAY + HOUR),
      opened(3 * DAY, at(DESKTOP_MAIL, '203.0.113.77')),
      clicked(2.9 * DAY, 0, at(DESKTOP_MAIL, '203.0.113.77')),
      opened(2 * DAY, at(TABLET, '203.0.113.91')),
    ],
  },
  {
    letter: 'samples',
    recipients: ['Paulo Reyes'],
    sentAgeMs: 3 * DAY + 2 * HOUR,
    files: ['film'],
    deeds: [
      viewed(2.7 * DAY, [[1, 9]], at(DESKTOP_MAIL, '198.51.100.60')),
      clicked(2.8 * DAY, 0, at(DESKTOP_MAIL, '198.51.100.60')),
    ],
  },
  {
    letter: 'visit',
    recipients: ['Ilse Marten'],
    reminder: remind('in 4 days', 'unopened', 'Look in when passing'),
    sentAgeMs: 5 * DAY,
    deeds: [opened(5 * DAY - 1 * SECOND, scanner), clicked(5 * DAY - 2 * SECOND, 0, scanner)],
  },
  { letter: 'question', recipients: ['Jonas Ek'], sentAgeMs: 6 * DAY, deeds: [] },
  {
    letter: 'assemblyHall',
    recipients: ['Gwen Adair'],
    asksReceipt: true,
    sentAgeMs: 15 * DAY,
    deeds: [opened(12 * DAY, at(CACHE, '203.0.113.9')), replied('receipt_declined', 12 * DAY - MINUTE)],
  },
  {
    letter: 'waitingRoom',
    recipients: ['Ben Okoro'],
    sentAgeMs: 4 * DAY,
    reminder: remind('in 2 weeks', 'unanswered'),
    deeds: [],
  },
  {
    letter: 'newCard',
    recipients: ['Lotte Farr'],
    sentAgeMs: 3 * DAY,
    deeds: [replied('away', 3 * DAY - SECOND)],
  },
  {
    letter: 'assemblyHall',
    recipients: ['Piet Amsel'],
    sentAgeMs: 5 * HOUR,
    asksReceipt: true,
    follows: [
      { condition: 'unanswered', workingDays: 3, time: '09:30' },
      { condition: 'unopened', workingDays: 5, time: null },
    ],
    deeds: [replied('receipt_sent', 4 * HOUR), opened(4 * HOUR)],
  },
  {
    letter: 'visit',
    recipients: ['Edda Roe'],
    sentAgeMs: 9 * DAY,
    discloses: true,
    deeds: [opened(8.6 * DAY, phone), replied('opted_out', 8.6 * DAY - MINUTE)],
  },
  { letter: 'thanks', recipients: ['Dov Pell'], sentAgeMs: 2 * DAY, deeds: [], tracked: false },
  {
    letter: 'thanks',
    recipients: ['Aurelia Finch'],
    sentAgeMs: 50 * MINUTE,
    deeds: [opened(46 * MINUTE, scanner), opened(29 * MINUTE, phone)],
  },
];

/** What people answer on ordinary days. */
const ANSWERS = [
  'Thank you, that is just what we were looking for. When could you come by?',
  'It looks good. I have to ask my colleague first, and will write next week.',
  'Not this year, I am afraid: the budget is spent. Please ask again in spring.',
  'Could you send the same in dark green, and a price for 12 m²?',
  'Yes, Thursday suits me. Please call before ten.',
] as const;

const SEED = 0.4217;
const OLDEST_DAYS = 42;
const TOTAL = 82;

/** The rest of six weeks, from a fixed seed: the same story each time, at times relative to now. */
export function scenes(now: number): Scene[] {
  const source = randomLcg(SEED);
  const chance = randomUniform.source(source)(0, 1);
  const pick = <T>(list: readonly T[]): T => list[randomInt.source(source)(0, list.length)()]!;
  /** Hours until the first look: mostly a few, sometimes days. */
  const delayHours = randomLogNormal.source(source)(1.1, 1.3);
  const readers = [
    office,
    phone,
    at(DESKTOP_MAIL, '192.0.2.80'),
    at(CACHE, '203.0.113.9'),
    at(TABLET, '198.51.100.44'),
  ];
  const known = TOLD.flatMap((scene) => scene.recipients);
  const others = PEOPLE.map((one) => one.name).filter((name) => !known.includes(name));
  const letters = Object.keys(LETTERS) as LetterName[];

  const everyday = Array.from({ length: TOTAL - TOLD.length }, (): Scene => {
    const sentAgeMs = officeHours(now, now - (2 + chance() * (OLDEST_DAYS - 2)) * DAY, chance());
    const reader = pick(readers);
    const deeds: Deed[] = [];
    if (chance() < 0.15) deeds.push(opened(sentAgeMs - 1000, scanner));
    let ageMs = sentAgeMs - delayHours() * HOUR;
    const looks = chance() < 0.3 ? 0 : 1 + Math.floor(chance() * chance() * 5);
    for (let n = 0; n < looks && ageMs > 2 * HOUR; n += 1) {
      deeds.push(opened(ageMs, chance() < 0.25 ? pick(readers) : reader));
      if (chance() < 0.35) deeds.push(clicked(ageMs - 40 * SECOND, 0, reader));
      ageMs -= delayHours() * 6 * HOUR;
    }
    if (looks > 0 && chance() < 0.3 && ageMs > HOUR) deeds.push(answered(ageMs, pick(ANSWERS)));
    return { letter: pick(letters), recipients: [pick(others)], sentAgeMs, deeds };
  });
  return [...TOLD, ...everyday].sort((a, b) => b.sentAgeMs - a.sentAgeMs);
}

/** The age of a time on a working day between eight and five, near the one given. */
function officeHours(now: number, sentAt: number, chance: number): number {
  const date = new Date(sentAt);
  const weekday = date.getDay();
  if (weekday === 0) date.setDate(date.getDate() - 2);
  if (weekday === 6) date.setDate(date.getDate() - 1);
  date.setHours(8, Math.floor(chance * 9 * 60), 0, 0);
  return now - date.getTime();
}
