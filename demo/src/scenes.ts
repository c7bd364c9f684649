import { randomInt, randomLcg, randomLogNormal, randomUniform } from 'd3-random';
import { DAY, HOUR, MINUTE, SECOND } from '@kiraku/core/time';
import type { DraftReminder, DraftStep } from '@kiraku/core/contract';
import type { DocumentName } from './documents.js';
import { MESSAGES, PEOPLE, type MessageName } from './story.js';
import { toWorkingHours } from './workingHours.js';

/** Who fetched it: a kind of program, and the network it sits in (from the ranges kept for examples, RFC 5737). */
export interface Reader {
  userAgent: string;
  ip: string;
}

/** What comes back by email, or is said on the public site. */
export type Reply = 'replied' | 'away' | 'receipt_sent' | 'receipt_declined' | 'opted_out';

/** What a recipient did. Ages count back from now. */
export interface Action {
  kind: 'opened' | 'clicked' | 'file_viewed' | Reply;
  ageMs: number;
  reader: Reader;
  /** What they wrote. */
  text?: string;
  /** Which link was followed. */
  link?: number;
  /** Which of the message’s files was read, and which pages for how many seconds. */
  file?: number;
  pages?: [page: number, seconds: number][];
  /** Which recipient did it; the first where nothing is said. */
  by?: number;
}

export interface Scene {
  message: MessageName;
  /** Names of the story's people; the second and later ones in Cc. */
  recipients: string[];
  sentAgeMs: number;
  actions: Action[];
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
export const phone = at(PHONE, '198.51.100.23');
const scanner = at(SCANNER, '203.0.113.200');

export const opened = (ageMs: number, reader = office, by = 0): Action => ({ kind: 'opened', ageMs, reader, by });
export const clicked = (ageMs: number, link = 0, reader = office, by = 0): Action => ({
  kind: 'clicked',
  ageMs,
  reader,
  link,
  by,
});
const viewed = (ageMs: number, pages: Action['pages'], reader = office, by = 0, file = 0): Action => ({
  kind: 'file_viewed',
  ageMs,
  reader,
  by,
  file,
  pages,
});
const mailed = (kind: Reply, ageMs: number, text?: string): Action => ({
  kind,
  ageMs,
  reader: office,
  ...(text && { text }),
});
export const replied = (ageMs: number, text: string): Action => mailed('replied', ageMs, text);
const remind = (when: string, condition: DraftReminder['condition'], note = ''): Scene['reminder'] => ({
  when,
  condition,
  note,
  byEmail: false,
});

/** The situations that the story is about. */
export const NAMED: readonly Scene[] = [
  {
    message: 'readingRoom',
    recipients: ['Marit Oakes', 'Jun Falk'],
    sentAgeMs: 22 * DAY + 2 * HOUR,
    files: ['proposal'],
    actions: [
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
    message: 'lunchHours',
    recipients: ['Tomas Berane'],
    sentAgeMs: 1 * DAY + 20 * HOUR,
    files: ['slides'],
    actions: [
      opened(52 * MINUTE, phone),
      opened(37 * MINUTE),
      clicked(36 * MINUTE),
      opened(21 * MINUTE),
      opened(12 * MINUTE, phone),
    ],
  },
  {
    message: 'price',
    recipients: ['Rafe Linden'],
    reminder: remind('in 2 weeks', 'not-replied', 'Ask whether the grey is still wanted'),
    sentAgeMs: 24 * DAY + 3 * HOUR,
    files: ['prices'],
    actions: [opened(24 * DAY + 2 * HOUR), opened(48 * MINUTE)],
  },
  {
    message: 'curtains',
    recipients: ['Hana Iwase'],
    reminder: remind('in 3 days', 'not-replied'),
    follows: [{ condition: 'not-replied', workingDays: 3, time: '09:30' }],
    sentAgeMs: 1 * DAY + 3 * HOUR,
    actions: [
      opened(1 * DAY + 2.5 * HOUR),
      replied(
        1 * DAY + 3 * HOUR - 41 * MINUTE,
        'That is a good deal better. Please begin next week, and send the invoice to our office.',
      ),
    ],
  },
  {
    message: 'colourCard',
    recipients: ['Noor Sabet'],
    reminder: remind('in 2 days', 'always', 'Post the moss and the slate, if she has not asked by then'),
    sentAgeMs: 4 * DAY + 2 * HOUR,
    files: ['colours'],
    actions: [
      viewed(2.8 * DAY, [[1, 74]], at(TABLET, '203.0.113.91')),
      opened(4 * DAY + HOUR),
      opened(3 * DAY, at(DESKTOP_MAIL, '203.0.113.77')),
      clicked(2.9 * DAY, 0, at(DESKTOP_MAIL, '203.0.113.77')),
      opened(2 * DAY, at(TABLET, '203.0.113.91')),
    ],
  },
  {
    message: 'samples',
    recipients: ['Paulo Reyes'],
    sentAgeMs: 3 * DAY + 2 * HOUR,
    files: ['film'],
    actions: [
      viewed(2.7 * DAY, [[1, 9]], at(DESKTOP_MAIL, '198.51.100.60')),
      clicked(2.8 * DAY, 0, at(DESKTOP_MAIL, '198.51.100.60')),
    ],
  },
  {
    message: 'visit',
    recipients: ['Ilse Marten'],
    reminder: remind('in 2 days', 'not-opened', 'Look in when passing'),
    sentAgeMs: 5 * DAY,
    actions: [opened(5 * DAY - 1 * SECOND, scanner), clicked(5 * DAY - 2 * SECOND, 0, scanner)],
  },
  { message: 'question', recipients: ['Jonas Ek'], sentAgeMs: 6 * DAY, actions: [] },
  {
    message: 'assemblyHall',
    recipients: ['Gwen Adair'],
    asksReceipt: true,
    sentAgeMs: 15 * DAY,
    actions: [opened(12 * DAY, at(CACHE, '203.0.113.9')), mailed('receipt_declined', 12 * DAY - MINUTE)],
  },
  {
    message: 'waitingRoom',
    recipients: ['Ben Okoro'],
    sentAgeMs: 4 * DAY,
    reminder: remind('in 2 weeks', 'not-replied'),
    actions: [],
  },
  {
    message: 'newCard',
    recipients: ['Lotte Farr'],
    sentAgeMs: 3 * DAY,
    actions: [mailed('away', 3 * DAY - SECOND)],
  },
  {
    message: 'assemblyHall',
    recipients: ['Piet Amsel'],
    sentAgeMs: 5 * HOUR,
    asksReceipt: true,
    follows: [
      { condition: 'not-replied', workingDays: 3, time: '09:30' },
      { condition: 'not-opened', workingDays: 5, time: null },
    ],
    actions: [mailed('receipt_sent', 4 * HOUR), opened(4 * HOUR)],
  },
  {
    message: 'visit',
    recipients: ['Edda Roe'],
    sentAgeMs: 9 * DAY,
    discloses: true,
    actions: [opened(8.6 * DAY, phone), mailed('opted_out', 8.6 * DAY - MINUTE)],
  },
  { message: 'thanks', recipients: ['Dov Pell'], sentAgeMs: 2 * DAY, actions: [], tracked: false },
  {
    message: 'thanks',
    recipients: ['Aurelia Finch'],
    sentAgeMs: 50 * MINUTE,
    actions: [opened(46 * MINUTE, scanner), opened(29 * MINUTE, phone)],
  },
];

/** What people reply on ordinary days. */
const REPLIES_TEXT = [
  'Thank you, that is just what we were looking for. When could you come by?',
  'It looks good. I have to ask my colleague first, and will write next week.',
  'Not this year, I am afraid: the budget is spent. Please ask again in spring.',
  'Could you send the same in dark green, and a price for 12 m²?',
  'Yes, Thursday suits me. Please call before ten.',
] as const;

const SEED = 0.4217;
const OLDEST_DAYS = 42;
const TOTAL = 82;

/** All of six weeks, from a fixed seed: the same story each time, at times relative to now, in working hours. */
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
  const known = NAMED.flatMap((scene) => scene.recipients);
  const others = PEOPLE.map((one) => one.name).filter((name) => !known.includes(name));
  const messages = Object.keys(MESSAGES) as MessageName[];

  const everyday = Array.from({ length: TOTAL - NAMED.length }, (): Scene => {
    const sentAgeMs = (2 + chance() * (OLDEST_DAYS - 2)) * DAY;
    const reader = pick(readers);
    const actions: Action[] = [];
    if (chance() < 0.15) actions.push(opened(sentAgeMs - 1000, scanner));
    let ageMs = sentAgeMs - delayHours() * HOUR;
    const opens = chance() < 0.3 ? 0 : 1 + Math.floor(chance() * chance() * 5);
    for (let n = 0; n < opens && ageMs > 2 * HOUR; n += 1) {
      actions.push(opened(ageMs, chance() < 0.25 ? pick(readers) : reader));
      if (chance() < 0.35) actions.push(clicked(ageMs - 40 * SECOND, 0, reader));
      ageMs -= delayHours() * 6 * HOUR;
    }
    if (opens > 0 && chance() < 0.3 && ageMs > HOUR) actions.push(replied(ageMs, pick(REPLIES_TEXT)));
    return { message: pick(messages), recipients: [pick(others)], sentAgeMs, actions };
  });
  return [...NAMED, ...everyday].map((scene) => atWork(scene, now)).sort((a, b) => b.sentAgeMs - a.sentAgeMs);
}

/** The same scene within working hours, as far as it does not happen now. */
function atWork(scene: Scene, now: number): Scene {
  const [sentAt, ...times] = toWorkingHours(
    [scene.sentAgeMs, ...scene.actions.map(({ ageMs }) => ageMs)].map((ageMs) => Math.round(now - ageMs)),
    now,
  );
  return {
    ...scene,
    sentAgeMs: now - sentAt!,
    actions: scene.actions.map((action, index) => ({ ...action, ageMs: now - times[index]! })),
  };
}
