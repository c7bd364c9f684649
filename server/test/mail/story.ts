import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { DeliveryAction, Disposition, IncomingView } from '@kiraku/core/contract';
import { classify, type Failing } from '@kiraku/core/incoming';
import { appointmentWords, MINUTE } from '@kiraku/core/time';
import { readMail } from '@kiraku/server/mime/readMail';
import { SubmissionSettings } from '@kiraku/server/submission/submission.settings';
import { type Desk, to } from '../harness.js';

/** What was sent, and under which names strangers' mail refers to it. */
const SENT = [
  {
    subject: 'Panels for the reading room',
    messageId: '<panels@tallowreed.example>',
    copies: [['marit-panels', 'marit@lindqvist.example', 'PanelsImageOfMarit0001', 'PanelsLinkOfMarit00001']],
  },
  {
    subject: 'Samples are on their way',
    messageId: '<samples@tallowreed.example>',
    copies: [['otis-samples', 'otis@saltmarsh.example', 'SamplesImageOfOtis0001', 'SamplesLinkOfOtis00001']],
  },
  {
    subject: 'Panels for the reading room, part two',
    messageId: '<one@tallowreed.example>',
    copies: [['reported', 'marit@hollowaylibrary.example', 'ReportImageOfMarit0001', 'ReportLinkOfMarit00001']],
  },
  {
    // Submitted by another mail program: its copies share a Message-ID.
    subject: 'Offer 2044',
    messageId: '<offer-2044@tallowreed.example>',
    copies: [
      ['marit-offer', 'marit@lindqvist.example', 'Offer2044ImageOfMarit1', 'Offer2044LinkOfMarit01'],
      ['otis-offer', 'otis@saltmarsh.example', 'Offer2044ImageOfOtis01', 'Offer2044LinkOfOtis001'],
      ['hana-offer', 'hana@birchwood.example', 'Offer2044ImageOfHana01', 'Offer2044LinkOfHana001'],
    ],
  },
] as const;

/** An address of Marit’s that was merged into hers. */
const MERGED = 'marit.oakes@home.example';
const ALIAS = 'sales@tallowreed.example';

/** Sends all of it, and gives it the names. Returns the copies’ names by their numbers. */
export async function sendStory(desk: Desk): Promise<Map<number, string>> {
  const names = new Map<number, string>();
  // It was told before now: what lies in a mailbox came after it.
  desk.clock.advance(-SENT.length * MINUTE);
  for (const { subject, messageId, copies } of SENT) {
    const { id } = await desk.send({ subject, recipients: copies.map(([, address]) => to(address)) });
    const detail = await desk.sent(id);
    copies.forEach(([name, , image, link], index) => {
      const copyId = detail.copies[index]!.id;
      names.set(copyId, name);
      const set = 'update copy set message_id_header = ?, image_token = ? where id = ?';
      desk.sqlite.prepare(set).run(messageId, image, copyId);
      desk.sqlite.prepare('update copy_link set token = ? where copy_id = ?').run(link, copyId);
    });
    desk.clock.advance(MINUTE);
  }
  const person = (address: string) =>
    desk.sqlite.prepare('select id from person where address = ?').pluck().get(address) as number;
  await desk.sent((await desk.send({ subject: 'Hello', recipients: [to(MERGED)] })).id);
  await desk.call('POST', `/api/people/${person(MERGED)}/merge`, { into: person('marit@lindqvist.example') });
  desk.sqlite.prepare("delete from message where subject = 'Hello'").run();
  desk.get(SubmissionSettings).setAddresses([ALIAS]);
  return names;
}

/** What is to become of a mail; null where it is about nothing that was sent. */
export type Expected = {
  kind: IncomingView['kind'];
  /** Whose it is; null where it may be any recipient’s. */
  copy: string | null;
  words?: string;
  doubt?: boolean;
  /** What a report says of the recipient. */
  report?: { action: DeliveryAction; failing?: Failing } | { disposition: Disposition };
} | null;

/** A mail as a stranger’s program wrote it, in a file of its own. */
export interface MailCase {
  group: string;
  name: string;
  raw: Buffer;
  expected: Expected;
}

const FOLDER = new URL('./incoming', import.meta.url).pathname;

export function incomingCases(): MailCase[] {
  return readdirSync(FOLDER).flatMap((group) => {
    const expected = JSON.parse(readFileSync(join(FOLDER, group, 'expected.json'), 'utf8')) as Record<string, Expected>;
    return Object.entries(expected).map(([name, one]) => ({
      group,
      name,
      expected: one,
      raw: readFileSync(join(FOLDER, group, `${name}.eml`)),
    }));
  });
}

/** What is to be noted of a mail; times are told in the zone of the machine. */
export function toBecome(expected: Expected): Expected {
  if (!expected) return null;
  const { report: _report, words, ...outcome } = expected;
  if (words === undefined) return outcome;
  return {
    ...outcome,
    words: words.replace(/\{time:([^}]+)\}/g, (_whole, time: string) => appointmentWords(Date.parse(time))),
  };
}

/** What became of a mail, as far as it is expected. */
export function became(rows: readonly IncomingRow[], names: ReadonlyMap<number, string>, expected: Expected): Expected {
  const [row] = rows;
  if (!row) return null;
  return {
    kind: row.kind,
    copy: row.copyId === null ? null : (names.get(row.copyId) ?? 'another'),
    ...(expected?.words !== undefined && { words: row.words }),
    ...(expected?.doubt !== undefined && { doubt: row.doubt !== null }),
  };
}

/** What a report says of its first recipient, as far as it is expected. */
export async function reported(raw: Buffer): Promise<object | null> {
  const mail = await readMail(raw, null);
  const found = mail && classify(mail);
  if (found?.kind === 'mdn') return { disposition: found.disposition };
  if (found?.kind !== 'dsn') return null;
  const [{ action, failing } = { action: null, failing: null }] = found.recipients;
  return { action, ...(failing !== null && { failing }) };
}

export interface IncomingRow {
  kind: IncomingView['kind'];
  copyId: number | null;
  words: string;
  doubt: string | null;
}
