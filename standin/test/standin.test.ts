import { mkdtemp, readdir, readFile, rm } from 'node:fs/promises';
import { createServer, type IncomingMessage, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import nodemailer from 'nodemailer';
import { startStandin, type Standin } from '@kiraku/standin/standin';

let folder: string;
let standin: Standin;
let outside: Server;
let visits: IncomingMessage[];
let origin: string;

beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'standin-test-'));
  standin = await startStandin({ dataDir: folder, port: 0, smtpPort: 0, lmtpPort: 9 });
  visits = [];
  outside = createServer((request, response) => {
    visits.push(request);
    const redirect = { '/l': 'https://tallowreed.example/felt?x=1', '/on': '/elsewhere' }[request.url!];
    if (redirect) response.writeHead(302, { location: redirect }).end();
    else if (request.url === '/page') response.end('A page');
    else if (request.url === '/i.gif') response.writeHead(200, { 'content-type': 'image/gif' }).end('GIF89a');
    else response.writeHead(404).end();
  });
  await new Promise<void>((resolve) => outside.listen(0, '127.0.0.1', resolve));
  origin = `http://127.0.0.1:${(outside.address() as AddressInfo).port}`;
});
afterEach(async () => {
  outside.closeAllConnections();
  outside.close();
  await standin.close();
  await rm(folder, { recursive: true });
});

function send(
  to: string,
  html = `<p>Hi <img src="${origin}/i.gif"><a href="${origin}/l">felt</a> <a href="${origin}/gone">gone</a> <a href="${origin}/on">on</a> <a href="${origin}/page">page</a> <a href="https://x.example/y">y</a><script>alert(1)</script></p>`,
) {
  const transport = nodemailer.createTransport({ host: '127.0.0.1', port: standin.smtpPort, ignoreTLS: true });
  return transport.sendMail({ from: 'ines@tallowreed.example', to, subject: 'Felt <b>colours</b>', html });
}

const page = (path: string) => fetch(`http://127.0.0.1:${standin.port}${path}`, { redirect: 'manual' });
const mailPath = async (address: string) => {
  const [file] = await readdir(join(folder, 'standin/mail', address));
  return `/mailboxes/${encodeURIComponent(address)}/${file}`;
};

test('keeps each mail raw, in the folder of its recipient', async () => {
  await send('Marit@Lindqvist.example, jun@lindqvist.example');
  for (const address of ['marit@lindqvist.example', 'jun@lindqvist.example']) {
    const [file] = await readdir(join(folder, 'standin/mail', address));
    expect(file).toMatch(/^\d{4}-\d\d-\d\dT[\d-]+Z-[0-9a-f]{8}\.eml$/);
    expect(await readFile(join(folder, 'standin/mail', address, file!), 'utf8')).toContain(
      'Subject: Felt <b>colours</b>',
    );
  }
  const list = await (await page('/')).text();
  expect(list).toContain('marit@lindqvist.example');
  expect(list).toContain('Simulated');
});

test('the mail is shown sandboxed, and loads and leads in the name of the program', async () => {
  await send('marit@lindqvist.example');
  const path = await mailPath('marit@lindqvist.example');
  const view = await (await page(`${path}?program=phone`)).text();
  expect(view).toContain('sandbox="allow-popups allow-popups-to-escape-sandbox"');
  expect(view).toContain('Felt &#60;b&#62;colours');

  const body = await page(`${path}/body?program=phone`);
  expect(body.headers.get('content-security-policy')).not.toContain('script-src');
  expect(await body.text()).toContain(`src="${path}/image/0?program=phone"`);
  expect(visits).toHaveLength(0);

  const image = await page(`${path}/image/0?program=phone`);
  expect(await image.text()).toBe('GIF89a');
  expect(visits[0]).toMatchObject({ url: '/i.gif', headers: { 'user-agent': expect.stringContaining('iPhone') } });

  const link = await page(`${path}/link/0?program=phone`);
  expect(link.headers.get('location')).toBe('/web/tallowreed.example/felt?x=1');
  expect(visits[1]).toMatchObject({ url: '/l', headers: { 'user-agent': expect.stringContaining('Safari') } });
  expect(await (await page('/web/tallowreed.example/felt?x=1')).text()).toContain(
    'https://tallowreed.example/felt?x=1',
  );
  expect((await page(`${path}/link/1`)).status).toBe(502);
  expect((await page(`${path}/link/2`)).headers.get('location')).toBe(`${origin}/elsewhere`);
  expect((await page(`${path}/link/3`)).headers.get('location')).toBe(`${origin}/page`);
  expect((await page(`${path}/link/4`)).headers.get('location')).toBe('/web/x.example/y');
});

test('with images blocked nothing is loaded', async () => {
  await send('marit@lindqvist.example');
  const body = await (await page(`${await mailPath('marit@lindqvist.example')}/body?program=blocked`)).text();
  expect(body).not.toContain('/image/');
  expect(body).toContain('/link/0');
});

test.each([
  ['gone.away@x.example', /550 5\.1\.1/],
  ['somebody@real-domain.test', /550 5\.7\.1/],
  ['busy@x.example', /451/],
])('refuses %s', async (address, words) => {
  await expect(send(address)).rejects.toThrow(words);
});

test('a busy mailbox takes mail at the second attempt', async () => {
  await expect(send('busy@x.example')).rejects.toThrow();
  await expect(send('busy@x.example')).resolves.toBeDefined();
});

test.each([
  '/mailboxes/..%2f..%2fkey/x.eml',
  '/mailboxes/marit@lindqvist.example/..%2f..%2fsecret.eml',
  '/mailboxes/a@b.example/none.eml/image/0',
  '/mailboxes/a@b.example/none.eml/source',
  '/nothing',
])('nothing lies at %s', async (path) => {
  expect((await page(path)).status).toBe(404);
});
