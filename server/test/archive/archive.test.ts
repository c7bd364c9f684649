import { simpleParser } from 'mailparser';
import { parse } from 'csv-parse/sync';
import fc from 'fast-check';
import { fromBufferPromise, type Entry } from 'yauzl';
import { mboxEntry } from '@kiraku/server/mime/mbox';
import { carried, pdf, upload } from '../files/library.js';
import { desk, mail, to, trackingUrlsOf, useDesk } from '../harness.js';

useDesk('all');

/** What an archive has, by name. */
async function unpacked(): Promise<Map<string, Buffer>> {
  const response = await desk.call('GET', '/api/export/archive.zip');
  expect([response.status, response.headers.get('content-type')]).toEqual([200, 'application/zip']);
  expect(response.headers.get('content-disposition')).toContain('kiraku.zip');
  const zip = await fromBufferPromise(Buffer.from(await response.arrayBuffer()));
  const parts = new Map<string, Buffer>();
  for await (const entry of zip.eachEntry()) parts.set(entry.fileName, await bytesOf(entry));
  return parts;

  async function bytesOf(entry: Entry): Promise<Buffer> {
    const chunks: Buffer[] = [];
    for await (const chunk of await zip.openReadStreamPromise(entry)) chunks.push(chunk as Buffer);
    return Buffer.concat(chunks);
  }
}

/** As a mail program reads an mbox file (RFC 4155). */
const mailsIn = (mbox: string) =>
  mbox
    .split(/^From \S+ .*\n/m)
    .slice(1)
    .map((one) => one.replace(/\n$/, '').replace(/^>(>*From )/gm, '$1'));

test('everything is in it, in formats that others read, and nothing of tracking in the mails', async () => {
  const file = await upload(desk, '../Felt: prices 2026.pdf', await pdf(1));
  const html = '<p>Dear Marit,</p><p>From here on it is <a href="https://tallowreed.example/felt">felt</a>.</p>';
  const first = await desk.send({ subject: 'Felt – für Sie', html, files: [carried(file.id)] });
  await desk.sent(first.id);
  const second = await desk.send({ subject: '=Sum', recipients: [to('ben@x.example', 'Ben')] });
  await desk.sent(second.id);
  await desk.visit(trackingUrlsOf(mail.received[1]!).image!);
  await desk.json('POST', '/api/templates', { name: 'A nudge', subject: 'S', html: '<p>T</p>', files: [] });

  const parts = await unpacked();
  const textOf = (name: string) => parts.get(name)!.toString('utf8');
  const names = [...parts.keys()];
  for (const name of names.filter((one) => !one.startsWith('files/') && one !== 'README.txt'))
    expect([name, textOf('README.txt').includes(name)]).toEqual([name, true]);
  // A name that leads nowhere.
  expect(names.filter((name) => name.startsWith('files/'))).toEqual([`files/${file.id}-1-Felt prices 2026.pdf`]);
  expect(parts.get(`files/${file.id}-1-Felt prices 2026.pdf`)!.subarray(0, 5).toString()).toBe('%PDF-');

  const mails = await Promise.all(
    mailsIn(parts.get('sent.mbox')!.toString('latin1')).map((one) => simpleParser(Buffer.from(one, 'latin1'))),
  );
  expect(mails.map(({ subject }) => subject)).toEqual(['Felt – für Sie', '=Sum']);
  expect(mails[0]!.text).toContain('From here on it is');
  expect(mails[0]!.html).toContain('https://tallowreed.example/felt');
  expect(parts.get('sent.mbox')!.toString()).not.toContain(`${desk.config.publicUrl}/i/`);
  expect(parts.get('sent.mbox')!.toString()).not.toContain(`${desk.config.publicUrl}/l/`);

  const rows = (name: string) => parse(textOf(name), { columns: true, bom: true }) as Record<string, string>[];
  expect(
    rows('messages.csv')
      .map(({ subject }) => subject)
      .sort(),
  ).toEqual(["'=Sum", 'Felt – für Sie']);
  expect(rows('events.csv').map(({ kind }) => kind)).toEqual(['opened']);
  expect(
    rows('people.csv')
      .map((row) => row['address'] ?? row['Address'] ?? row['email'])
      .sort(),
  ).toEqual([...['ben@x.example', 'marit@lindqvist.example']]);
  const lines = (name: string) =>
    textOf(name)
      .trim()
      .split('\n')
      .filter(Boolean)
      .map((line) => JSON.parse(line) as object);
  expect(lines('messages.jsonl')).toHaveLength(2);
  expect(lines('events.jsonl')).toHaveLength(1);
  expect(lines('templates.jsonl')).toMatchObject([{ name: 'A nudge', html: '<p>T</p>' }]);
  expect(textOf('people.vcf')).toMatch(/^BEGIN:VCARD/);
  expect(textOf('reminders.ics')).toMatch(/^BEGIN:VCALENDAR/);
}, 60_000);

test('whatever stands in a mail, it is one mail in the file, and the same when it is read', () => {
  const line = fc.oneof(
    fc.constantFrom('', 'From here', '>From there', '>>From far', 'Dear'),
    fc.string({ maxLength: 20 }).map((one) => one.replace(/[\r\n]/g, '')),
  );
  fc.assert(
    fc.property(fc.array(fc.array(line, { minLength: 1, maxLength: 8 }), { minLength: 1, maxLength: 4 }), (mails) => {
      const written = mails.map((lines) => `Subject: x\r\n\r\n${lines.join('\r\n')}\r\n`);
      const mbox = written.map((one, n) => mboxEntry('ines@x.example', n * 1000, one)).join('');
      expect(mailsIn(mbox)).toEqual(written.map((one) => one.replaceAll('\r\n', '\n')));
    }),
  );
});

test('the line before a mail has its sender and time as the format wants them', () => {
  expect(mboxEntry('ines@x.example', Date.UTC(2026, 0, 5, 3, 4, 5), 'A: b\r\n\r\nc')).toBe(
    'From ines@x.example Mon Jan  5 03:04:05 2026\nA: b\n\nc\n\n',
  );
});
