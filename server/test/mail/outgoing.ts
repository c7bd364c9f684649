import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { simpleParser } from 'mailparser';
import { SubmissionService } from '@kiraku/server/submission/submission.service';
import { decodePart } from '@kiraku/server/mime/encoding';
import { repairMail } from '@kiraku/server/mime/repair';
import { isTextPart, splitMail } from '@kiraku/server/mime/split';
import type { Desk, MailServer } from '../harness.js';

/** What is to become of a mail that another program submits. */
export interface ExpectedOutgoing {
  tracked?: boolean;
  /** Words of the reason why it is not. */
  why?: string;
  /** Words of the refusal. */
  refused?: string;
  /** Where its links lead, in their order. */
  links?: string[];
  /** The words of its links. */
  words?: string[];
  /** How many of its links are redirects, where not all are. */
  redirects?: number;
  /** How many are left alone. */
  leftAlone?: number;
  noImage?: boolean;
  /** How its HTML begins. */
  begins?: string;
  /** The content-transfer-encoding of its HTML. */
  encoding?: string;
  /** Whether its body leaves byte for byte as it came. */
  same?: boolean;
  /** Header fields that are listed as removed. */
  removed?: string[];
  has?: string[];
  lacks?: string[];
}

export interface OutgoingCase {
  group: string;
  name: string;
  raw: Buffer;
  expected: ExpectedOutgoing;
}

const FOLDER = new URL('./outgoing', import.meta.url).pathname;
const MAX_LINE_OCTETS = 998;

export function outgoingCases(): OutgoingCase[] {
  return readdirSync(FOLDER).flatMap((group) => {
    const expected = JSON.parse(readFileSync(join(FOLDER, group, 'expected.json'), 'utf8')) as Record<
      string,
      ExpectedOutgoing
    >;
    return Object.entries(expected).map(([name, one]) => ({
      group,
      name,
      expected: one,
      raw: Buffer.from(readFileSync(join(FOLDER, group, `${name}.eml`), 'latin1').replace(/\r?\n/g, '\r\n'), 'latin1'),
    }));
  });
}

/** Hands a mail in, and tells in which way what leaves is not what was expected; nothing where it is. */
export async function faultsOf({ raw, expected }: OutgoingCase, desk: Desk, mail: MailServer): Promise<string[]> {
  const before = mail.received.length;
  const envelope = { from: 'ines@tallowreed.example', to: [{ address: 'marit@lindqvist.example' }] };
  const refusal = await desk
    .get(SubmissionService)
    .take(raw, envelope)
    .then(
      () => null,
      (error: Error) => error.message,
    );
  const { refused } = expected;
  if (refused !== undefined || refusal !== null)
    return refused !== undefined && refusal?.includes(refused) ? [] : [`refused: ${refusal}`];
  for (const end = Date.now() + 30_000; mail.received.length === before && Date.now() < end;)
    await new Promise((resolve) => setTimeout(resolve, 5));
  const left = mail.received[before]?.raw;
  return left
    ? (await Promise.all([kept(desk, expected), carried(raw, left, expected, desk)])).flat()
    : ['did not leave'];
}

/** What is known of it at the desk. */
function kept(desk: Desk, { tracked = true, why, links, words, removed = [] }: ExpectedOutgoing): string[] {
  const row = desk.sqlite
    .prepare('select id, untracked_reason, removed_fields from message order by id desc limit 1')
    .get() as {
    id: number;
    untracked_reason: string | null;
    removed_fields: string;
  };
  const found = desk.sqlite
    .prepare('select url, text from link where message_id = ? order by position')
    .all(row.id) as {
    url: string;
    text: string;
  }[];
  return [
    ...differs(
      'why',
      row.untracked_reason !== null && (why === undefined || row.untracked_reason.includes(why)),
      !tracked,
    ),
    ...(links
      ? differs(
          'links',
          found.map(({ url }) => url),
          links,
        )
      : []),
    ...(words
      ? differs(
          'words',
          found.map(({ text }) => text),
          words,
        )
      : []),
    ...differs('removed', JSON.parse(row.removed_fields), removed),
  ];
}

/** What left. */
async function carried(raw: Buffer, left: Buffer, expected: ExpectedOutgoing, desk: Desk): Promise<string[]> {
  const {
    tracked = true,
    links = [],
    redirects = links.length - (expected.leftAlone ?? 0),
    noImage = false,
  } = expected;
  const [given, mail] = [await splitMail(repairMail(raw)), await splitMail(left)];
  const parts = mail.pieces.filter(isTextPart);
  const [html] = parts.filter(({ mediaType }) => mediaType === 'text/html');
  const contents = parts.map((part) => decodePart(part).toString('utf8'));
  const whole = [left.toString('utf8'), ...contents].join('\n');
  const count = (path: string) => contents.join('\n').split(`${desk.config.publicUrl}/${path}/`).length - 1;
  const longest = Math.max(
    ...left
      .toString('latin1')
      .split('\r\n')
      .map(({ length }) => length),
  );
  const body = (bytes: Buffer) => bytes.subarray(bytes.indexOf('\r\n\r\n'));
  return [
    ...differs('redirects', count('l'), tracked ? redirects : 0),
    ...differs('images', count('i'), tracked && !noImage ? 1 : 0),
    ...(tracked && longest > MAX_LINE_OCTETS ? [`a line of ${longest} octets`] : []),
    ...differs('files', await filesOf(left), await filesOf(repairMail(raw))),
    ...differs('parts', mail.pieces.length, given.pieces.length),
    ...(expected.begins === undefined
      ? []
      : differs('begins', contents[parts.indexOf(html!)]!.startsWith(expected.begins), true)),
    ...(expected.encoding === undefined ? [] : differs('encoding', html?.encoding, expected.encoding)),
    ...(expected.same ? differs('same', body(left).equals(body(raw)), true) : []),
    ...(expected.has ?? []).filter((text) => !whole.includes(text)).map((text) => `lacks ${text}`),
    ...(expected.lacks ?? []).filter((text) => whole.includes(text)).map((text) => `has ${text}`),
  ];
}

async function filesOf(raw: Buffer): Promise<string[]> {
  const { attachments } = await simpleParser(raw, { skipHtmlToText: true, skipTextToHtml: true });
  return attachments.map(({ filename, contentType, checksum }) => `${filename} ${contentType} ${checksum}`);
}

function differs(what: string, found: unknown, expected: unknown): string[] {
  const [is, should] = [JSON.stringify(found), JSON.stringify(expected)];
  return is === should ? [] : [`${what}: ${is} instead of ${should}`];
}
