import { execFile } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { APP_PASSWORD, Desk, MailServer } from '../harness.js';
import { until } from '../until.js';

const run = promisify(execFile);
const onPath = (name: string) => process.env['PATH']!.split(':').some((folder) => existsSync(join(folder, name)));
const withPython = onPath('python3') ? test : test.skip;
const withSwaks = onPath('swaks') ? test : test.skip;
const PEERS = fileURLToPath(new URL('peers.py', import.meta.url));
/** Cases that have nothing to instrument, or must not be changed. */
const UNTOUCHED = new Set(['plain', 'signed']);

let mail: MailServer;
let desk: Desk;
let folder: string;
beforeAll(async () => {
  mail = await MailServer.start();
  desk = await Desk.start(mail.port);
  folder = mkdtempSync(join(tmpdir(), 'kiraku-peers-'));
});
afterAll(async () => {
  await desk.stop();
  await mail.stop();
  rmSync(folder, { recursive: true });
});

const arrived = (count: number) => until(() => mail.received.length >= count);

const IMAGE = /<img src="http[^"]*\/i\/[^"]{22}\.gif" width="1" height="1" alt="" border="0" style="display:block">/g;
const REDIRECT = /http:\/\/127\.0\.0\.1:\d+\/l\/[\w-]{22}/g;
const TARGET = /https:\/\/(?:tallowreed|x)\.example\/(?:felt\?a=1&amp;b=2)?/g;

withPython(
  'what Python’s smtplib hands in arrives part for part as it was, but for image and redirects',
  async () => {
    const env = { ...process.env, APP_PASSWORD };
    await run('python3', [PEERS, 'send', String(desk.config.submissionPort), folder], { env });
    await arrived(15);
    for (const { to, raw } of mail.received) writeFileSync(join(folder, `${to[0]!.split('@')[0]}.arrived`), raw);
    const { stdout } = await run('python3', [PEERS, 'compare', folder], { maxBuffer: 100_000_000 });
    type Found = { structure: boolean; changed: string[]; html: [string, string][] };
    for (const [name, found] of Object.entries(JSON.parse(stdout) as Record<string, Found>)) {
      expect([name, found.structure, found.changed]).toEqual([name, true, []]);
      expect([name, found.html.length]).toEqual([name, UNTOUCHED.has(name) ? 0 : 1]);
      for (const [before, after] of found.html) {
        expect([name, after.match(IMAGE)?.length, after.match(REDIRECT)?.length]).toEqual([name, 1, 2]);
        const lines = (text: string) => text.replace(/\r\n/g, '\n').trimEnd();
        expect(lines(after.replace(IMAGE, '').replace(REDIRECT, '→'))).toBe(lines(before.replace(TARGET, '→')));
      }
    }
  },
  300_000,
);

withSwaks('what swaks hands in arrives with its attachment', async () => {
  mail.received.length = 0;
  const server = `127.0.0.1:${desk.config.submissionPort}`;
  const sender = ['--from', 'ines@tallowreed.example', '--to', 'marit@lindqvist.example'];
  const login = ['--tls', '--auth', 'PLAIN', '--auth-user', 'ines@tallowreed.example', '--auth-password', APP_PASSWORD];
  const page = '<p>See <a href="https://tallowreed.example/felt">the felt</a>.</p>';
  const content = [
    '--h-Subject',
    'By hand',
    '--add-header',
    'MIME-Version: 1.0',
    '--add-header',
    'Content-Type: text/html',
  ];
  const { stdout } = await run('swaks', ['--server', server, ...sender, ...login, ...content, '--body', page]);
  expect(stdout).toMatch(/<~ +250/);
  await arrived(1);
  expect(mail.received[0]!.parsed.subject).toBe('By hand');
  const html = String(mail.received[0]!.parsed.html);
  expect(html.match(IMAGE)).toHaveLength(1);
  expect(html.match(REDIRECT)).toHaveLength(1);

  const refused = await run('swaks', ['--server', server, ...sender, '--tls', '--body', page]).catch(
    (error: { code: number; stdout: string }) => error,
  );
  expect(refused).toMatchObject({ stdout: expect.stringMatching(/530/) });
  expect(mail.received).toHaveLength(1);
});
