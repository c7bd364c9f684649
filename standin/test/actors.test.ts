import { mkdtemp, rm } from 'node:fs/promises';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Actors } from '@kiraku/standin/actors';
import { Mailboxes } from '@kiraku/standin/mailboxes';

let folder: string;
let outside: Server;
let visits: { url: string; userAgent: string }[];
let mailboxes: Mailboxes;

beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'standin-test-'));
  mailboxes = new Mailboxes(folder);
  visits = [];
  outside = createServer((request, response) => {
    visits.push({ url: request.url!, userAgent: request.headers['user-agent']! });
    response.end();
  });
  await new Promise<void>((resolve) => outside.listen(0, '127.0.0.1', resolve));
  const origin = `http://127.0.0.1:${(outside.address() as AddressInfo).port}`;
  for (let n = 0; n < 12; n += 1) {
    const html = `<img src="${origin}/i/${n}"><a href="${origin}/l/${n}">felt</a>`;
    const mail = `Date: ${new Date(n * 1000).toUTCString()}\r\nSubject: ${n}\r\nContent-Type: text/html\r\n\r\n${html}`;
    await mailboxes.keep(`reader${n}@x.example`, Buffer.from(mail));
  }
});
afterEach(async () => {
  outside.closeAllConnections();
  outside.close();
  await rm(folder, { recursive: true });
});

test('some recipients read, some follow a link, none of them does so unread; then they rest', async () => {
  const actors = new Actors(mailboxes);
  await actors.start(100);
  const { planned } = actors.state;
  expect(actors.state).toMatchObject({ acting: true, done: 0 });
  // What is left then are the later opens of the one who keeps coming back.
  for (let patience = 0; actors.state.done < planned - 2 && patience < 1200; patience += 1)
    await new Promise((resolve) => setTimeout(resolve, 50));
  const opened = visits.filter(({ url }) => url.startsWith('/i/'));
  const followed = visits.filter(({ url }) => url.startsWith('/l/'));
  expect(new Set(opened.map(({ url }) => url)).size).toBeGreaterThanOrEqual(6);
  expect(followed.length).toBeGreaterThanOrEqual(3);
  expect(new Set(visits.map(({ userAgent }) => userAgent)).size).toBeGreaterThan(2);

  actors.stop();
  expect(actors.state).toEqual({ acting: false, done: 0, planned: 0 });
});

test('nobody acts where nothing has arrived', async () => {
  const actors = new Actors(new Mailboxes(join(folder, 'empty')));
  await actors.start(100);
  expect(actors.state.acting).toBe(false);
});
