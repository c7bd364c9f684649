import type { Draft, IncomingView } from '@kiraku/core/contract';
import { BLANK_CONTENT } from '@kiraku/core/message';
import { HOUR } from '@kiraku/core/time';
import { MailboxSettings } from '@kiraku/server/incoming/mailbox.settings';
import { trackingUrlsOf, to, desk, mail, useDesk } from '../harness.js';
import { deliverTo } from './deliver.js';

const MARIT = 'marit@lindqvist.example';

let sentId: number;

useDesk('all');
beforeAll(async () => {
  const mailbox = desk.get(MailboxSettings);
  mailbox.save({ ...mailbox.view(), way: 'lmtp' });
  sentId = (await desk.send({ recipients: [to(MARIT, 'Marit Oakes')] })).id;
  await desk.sent(sentId);
  desk.clock.advance(HOUR);
});

let number = 0;
/** As anybody can forge it: who the message went to, its subject, and no Message-ID of ours. */
const reply = (contentType: string, body: string) =>
  `From: Marit Oakes <${MARIT}>
To: ines@tallowreed.example
Subject: Re: Panels for the reading room
Message-ID: <hostile${(number += 1)}@lindqvist.example>
MIME-Version: 1.0
Content-Type: ${contentType}

${body}
`;
const repeat = (count: number, piece: (n: number) => string) =>
  Array.from({ length: count }, (_, n) => piece(n)).join('');

const UNCLOSED = `<p>${repeat(2200, (n) => `<b x=${n}>`)}${'<p>x\n'.repeat(2200)}`;
const PART = '--b\nContent-Type: text/plain\n\npart\n';

/** Until something is done, the desk and the public site go on answering. */
async function whileResponding<T>(work: Promise<T>): Promise<T> {
  let isDone = false;
  const waits: number[] = [];
  const asking = (async () => {
    while (!isDone) {
      const before = Date.now();
      for (const url of [desk.url, desk.config.publicUrl]) expect((await fetch(`${url}/health`)).status).toBe(200);
      waits.push(Date.now() - before);
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
  })();
  const outcome = await work.finally(() => (isDone = true));
  await asking;
  // Many times what it takes; a parser in this process would hold it up for minutes.
  expect(Math.max(...waits)).toBeLessThan(10_000);
  return outcome;
}

const newest = async () => (await desk.json<IncomingView[]>('GET', `/api/messages/${sentId}/incoming`)).at(-1)!;
const bodyOf = async ({ id }: IncomingView) => (await desk.call('GET', `/api/incoming/${id}/body`)).text();

test.each<[name: string, html: () => string, problem: RegExp]>([
  ['formatting that is opened again and again', () => UNCLOSED, /500 levels/],
  [
    'as much within the levels that are allowed',
    () => `<p>${repeat(450, (n) => `<b x=${n}>`)}${'<p>x\n'.repeat(2200)}`,
    /leaves too many elements open/,
  ],
  ['sixty thousand unclosed tags', () => `<p>x${'<div>\n'.repeat(60_000)}`, /more than 30000 elements/],
  ['a thousand levels', () => `<p>x${'<div>\n'.repeat(1000)}`, /500 levels/],
  ['more than can be read', () => `<p>x${'y\n'.repeat(1_100_000)}`, /longer than 2000000 characters/],
  ['an element of ten thousand attributes', () => `<p ${repeat(10_000, (n) => `a${n}=1\n`)}>x`, /200 attributes/],
])('of %s the plain text is shown, with the reason, and the original can be saved', async (_name, html, problem) => {
  const raw = reply('text/html; charset=utf-8', html());
  expect(await whileResponding(deliverTo(desk, raw, MARIT))).toMatch(/^250/);
  const one = await newest();
  expect(one).toMatchObject({ kind: 'reply', hasOriginal: true });
  expect(one.problem).toMatch(problem);
  expect(one.problem).toMatch(/Only its plain text is shown\.$/);
  const shown = await bodyOf(one);
  expect(shown).toContain('x');
  expect(shown.length).toBeLessThan(2_000_000);
  const original = await desk.call('GET', `/api/incoming/${one.id}/original.eml`);
  expect(original.headers.get('content-disposition')).toContain('attachment');
  expect(await original.text()).toContain('hostile');
});

test('fifteen hundred images and links of ours are taken out at once', async () => {
  const { image, links } = trackingUrlsOf(mail.to(MARIT));
  const html = `<p>Yes.</p>${`<img src="${image}">\n<a href="${links[0]}">it</a>\n`.repeat(1500)}`;
  await whileResponding(deliverTo(desk, reply('text/html', html), MARIT));
  const one = await newest();
  expect(one).toMatchObject({ problem: null, hasOriginal: false });
  const shown = await bodyOf(one);
  expect(shown).not.toMatch(/<img|\/i\/|\/l\//);
  expect(shown.match(/https:\/\/tallowreed\.example\/proposal/g)).toHaveLength(1500);
});

test.each([
  ['more parts than any program writes', 'multipart/mixed; boundary=b', PART.repeat(3000)],
  [
    'parts within parts',
    'multipart/mixed; boundary=b0',
    repeat(2000, (n) => `--b${n}\nContent-Type: multipart/mixed; boundary=b${n + 1}\n\n`),
  ],
  ['a header of very many addresses', `text/plain\nCc: ${'"a b" <x@y.example>,\n '.repeat(20_000)}z@y.example`, 'x'],
  ['a thousand encoded words', `text/plain\nX-More: ${'=?utf-8?Q?=C3=A4?=\n '.repeat(5000)}`, 'x'],
])('%s: it is taken as far as it can be read', async (_name, contentType, body) => {
  const before = (await newest()).id;
  expect(await whileResponding(deliverTo(desk, reply(contentType, body), MARIT))).toMatch(/^250/);
  const one = await newest();
  expect(one.id).toBeGreaterThan(before);
  expect(one.from.address).toBe(MARIT);
});

test('a mail file that would take too long is opened with its plain text', async () => {
  const raw = reply('text/html', UNCLOSED);
  const open = desk.call('POST', '/api/drafts/eml', undefined, { 'content-type': 'message/rfc822' });
  expect((await open).status).toBe(422);
  const response = await whileResponding(
    fetch(`${desk.url}/api/drafts/eml`, {
      method: 'POST',
      headers: { ...desk.headers, 'content-type': 'message/rfc822' },
      body: raw,
    }),
  );
  expect(response.status).toBe(201);
  const { draft, leftOut } = (await response.json()) as { draft: Draft; leftOut: string[] };
  expect(draft.html).toMatch(/^<p>x/);
  expect(leftOut).toEqual([expect.stringMatching(/500 levels.*plain text/)]);
});

test('a draft of such HTML is refused in words', async () => {
  const post = (html: string) => desk.call('POST', '/api/drafts', { ...BLANK_CONTENT, html });
  // All else about it is as it should be.
  expect((await post('<p>x</p>')).status).toBe(201);
  const response = await whileResponding(post(UNCLOSED));
  expect(response.status).toBe(422);
  expect(await response.json()).toMatchObject({
    errors: [{ field: 'html', message: expect.stringMatching(/500 levels/) }],
  });
});
