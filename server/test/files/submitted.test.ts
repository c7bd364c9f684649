import { createTransport } from 'nodemailer';
import { simpleParser } from 'mailparser';
import type { FileKind } from '@kiraku/core/contract';
import { MINUTE } from '@kiraku/core/time';
import { attachmentsOf, withoutParts } from '@kiraku/server/mime/attachments';
import { SearchIndex } from '@kiraku/server/sent/searchIndex';
import { ACCOUNT, APP_PASSWORD, desk, kinds as kindsOf, mail, useDesk } from '../harness.js';
import { fileLinks, opened, pdf } from './library.js';
import { until } from '../until.js';

const MARIT = 'marit@lindqvist.example';

useDesk('all');

const choose = (kinds: FileKind[], fromBytes: number) =>
  desk.json('PUT', '/api/settings/files', { maxBytes: 100_000_000, submitted: { kinds, fromBytes } });

/** Hands a mail with a document and a note in, as another mail program does; what Marit gets of it. */
async function submit(subject: string, headers: Record<string, string> = {}) {
  const transport = createTransport({
    host: '127.0.0.1',
    port: desk.config.submissionPort,
    requireTLS: true,
    tls: { rejectUnauthorized: false },
    auth: { user: ACCOUNT.address, pass: APP_PASSWORD },
  });
  await transport.sendMail({
    from: ACCOUNT.address,
    to: MARIT,
    subject,
    headers,
    text: 'Dear Marit,\nhere it is.',
    html: '<html><body><p>Dear Marit,</p><p>here <a href="https://a.example/">it</a> is.</p></body></html>',
    attachments: [
      { filename: 'Angebot für Ängström.pdf', content: await pdf(3) },
      { filename: 'note.txt', content: 'a note' },
    ],
  });
  transport.close();
  const found = () => mail.received.find((one) => one.parsed.subject === subject);
  await until(() => found() !== undefined);
  return found()!;
}

test('untouched until it is wanted', async () => {
  const { parsed } = await submit('Untouched');
  expect(parsed.attachments.map(({ filename }) => filename)).toEqual(['Angebot für Ängström.pdf', 'note.txt']);
});

test('those of a kind become tracked links; the others stay, and so does the message', async () => {
  await choose(['pages'], 500);
  const received = await submit('As links');
  const { parsed } = received;
  expect(parsed.attachments.map(({ filename }) => filename)).toEqual(['note.txt']);
  const [url] = fileLinks(received);
  expect(parsed.html).toContain('PDF, ');
  expect(parsed.html).toContain('Angebot f&#252;r &#196;ngstr&#246;m');
  expect(parsed.html).toMatch(/here <a href="http[^"]+\/l\/[^"]+">it<\/a> is/);
  expect(parsed.text).toMatch(/^Dear Marit,\nhere it is\.\n\nAngebot fur Angstrom \(PDF, [\d.]+ KB, 3 pages\):\nhttp/);
  expect(parsed.text).toContain(url);
  await desk.get(SearchIndex).done();
  const { messages } = await desk.json<{ messages: { id: number }[] }>('GET', '/api/messages?words=links');
  // Marit’s mail server has it a moment before its “250” is written down here.
  await desk.sent(messages[0]!.id);
  desk.clock.advance(MINUTE);
  expect(await opened(await desk.visit(url!))).toMatchObject({ shows: 'pages', name: 'Angebot für Ängström.pdf' });
  const detail = await desk.detail(messages[0]!.id);
  expect(kindsOf(detail.events)).toEqual(['file_viewed']);
  expect(await (await desk.call('GET', `/api/messages/${messages[0]!.id}/body`)).text()).toContain('Ängström');
});

test('not where they are small, nor where nothing is to be known of the mail', async () => {
  await choose(['pages', 'other'], 1_000_000);
  expect((await submit('Too small')).parsed.attachments).toHaveLength(2);
  await choose(['pages', 'other'], 0);
  const { parsed } = await submit('Plain', { 'X-Kiraku-Track': 'none' });
  expect(parsed.attachments).toHaveLength(2);
});

test('a part that is taken out leaves all the others byte for byte', async () => {
  const part = (name: string, body: string) =>
    `--B\r\nContent-Type: application/x-thing; name="${name}"\r\nContent-Disposition: attachment; filename="${name}"\r\n\r\n${body}\r\n`;
  const head = 'From: a@b.example\r\nContent-Type: multipart/mixed; boundary="B"\r\n\r\nfor old programs\r\n';
  const outgoing = '--B\r\nContent-Type: text/html\r\n\r\n<p>hi</p>\r\n';
  const raw = (...parts: string[]) => Buffer.from(`${head}${parts.join('')}--B--\r\nafterwards\r\n`);
  const [one, two, three] = ['one', 'two', 'three'].map((name) => part(name, `${name}\r\n--C\r\n`)) as [
    string,
    string,
    string,
  ];
  const whole = raw(one, outgoing, two, three);
  const found = await attachmentsOf(whole);
  expect(found.map(({ name, bytes }) => [name, bytes.toString()])).toEqual(
    ['one', 'two', 'three'].map((name) => [name, `${name}\r\n--C\r\n`]),
  );
  const without = async (...names: string[]) =>
    (
      await withoutParts(whole, new Set(found.filter(({ name }) => names.includes(name)).map((one) => one.part)))
    ).toString();
  expect(await without()).toBe(whole.toString());
  // What stood before the first part ends with a line end of its own.
  expect(await without('one')).toBe(raw(outgoing, two, three).toString().replace('programs', 'programs\r\n'));
  expect(await without('two')).toBe(raw(one, outgoing, three).toString());
  expect(await without('two', 'three')).toBe(raw(one, outgoing).toString());
  expect((await simpleParser(await without('three'))).attachments).toHaveLength(2);
});
