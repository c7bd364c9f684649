import { spawn, type ChildProcess } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { test as base, type Locator, type Page, type WorkerInfo } from '@playwright/test';
import { DEMO_PASSPHRASE } from '@kiraku/demo/passwords';
import { readConfig } from '@kiraku/server/environment/config';
import { readerFile } from '@kiraku/standin/pageReader';
import { freePort } from '../server/test/freePort.js';

const ROOT = fileURLToPath(new URL('..', import.meta.url));

/** Kiraku and the world outside as real processes on free ports, with a data folder of their own. */
export class World {
  desk = '';
  outside = '';
  /** What the server printed: the address for set-up stands there. */
  printed = '';
  private readonly dataDir = join(mkdtempSync(join(tmpdir(), 'kiraku-e2e-')), 'data');
  private env: NodeJS.ProcessEnv = {};
  private server: ChildProcess | undefined;
  private standin: ChildProcess | undefined;

  /**
   * @param place of those that run side by side: each has ports of its own
   */
  async start({ withStory, place }: WorldOptions): Promise<void> {
    const story = withStory ? await storyOf(place) : undefined;
    if (story) cpSync(story.dataDir, this.dataDir, { recursive: true });
    const ports = story?.ports ?? (await freePorts());
    this.desk = `http://127.0.0.1:${ports.desk}`;
    this.outside = `http://127.0.0.1:${ports.outside}`;
    this.env = environment(this.dataDir, ports);
    this.standin = this.spawn(['standin/dist/main.js']);
    await answering(`${this.outside}/health`);
    await this.startServer();
  }

  async startServer(): Promise<void> {
    this.server = this.spawn(['server/dist/bundle/supervisor.js'], { NODE_OPTIONS: '--import ./e2e/movedClock.mjs' });
    await answering(`${this.desk}/health`);
  }

  /** Moves the server’s clock on, and starts it anew, as a machine that was asleep. */
  async later(ms: number): Promise<void> {
    await this.killServer();
    writeFileSync(join(this.dataDir, 'clock-ahead'), String(ms));
    await this.startServer();
  }

  /** Kills the server without a word. */
  async killServer(): Promise<void> {
    const server = this.server!;
    await new Promise((resolve) => {
      server.once('exit', resolve);
      killAll(server);
    });
  }

  /** Where the files of the newest mail to an address that has some are shown. */
  fileLinks(address: string): string[] {
    return this.publicLinks(address, 'f');
  }

  /** Where the recipient of the newest mail to an address that discloses its tracking can opt out of it. */
  optOutLink(address: string): string {
    return this.publicLinks(address, 'o')[0]!;
  }

  /** The redirects in the newest mail to an address that has some. */
  clickLinks(address: string): string[] {
    return this.publicLinks(address, 'l');
  }

  /** Whether anything has come to an address. */
  hasMail(address: string): boolean {
    return existsSync(join(this.dataDir, 'standin', 'mail', address));
  }

  /** What an address has in its mailbox as it came, the newest first. */
  mails(address: string): string[] {
    const folder = join(this.dataDir, 'standin', 'mail', address);
    const names = readdirSync(folder).sort().reverse();
    return names.map((name) => readFileSync(join(folder, name), 'latin1'));
  }

  /** The links to one path of the public site in the newest mail to an address that has some. */
  private publicLinks(address: string, path: 'f' | 'l' | 'o'): string[] {
    for (const mail of this.mails(address)) {
      // Quoted-printable breaks lines wherever it likes.
      const found = mail.replace(/=\r\n/g, '').match(new RegExp(`http://127\\.0\\.0\\.1:\\d+/${path}/[\\w-]{22}`, 'g'));
      if (found) return [...new Set(found)];
    }
    return [];
  }

  get smtpPort(): string {
    return this.env['STANDIN_SMTP_PORT']!;
  }

  async stop(): Promise<void> {
    for (const child of [this.server, this.standin]) if (child) killAll(child);
    rmSync(join(this.dataDir, '..'), { recursive: true, force: true });
  }

  private spawn(args: string[], env: NodeJS.ProcessEnv = {}): ChildProcess {
    const child = spawn(process.execPath, args, {
      cwd: ROOT,
      env: { ...this.env, ...env },
      stdio: ['ignore', 'pipe', 'inherit'],
      detached: true,
    });
    child.stdout!.on('data', (chunk) => (this.printed += chunk));
    return child;
  }
}

/** As the loss of power does: the supervisor and its processes together. */
function killAll({ pid }: ChildProcess): void {
  try {
    process.kill(-pid!, 'SIGKILL');
  } catch {
    // They have ended already.
  }
}

interface WorldOptions {
  withStory: boolean;
  place: string;
}

type Ports = Record<'desk' | 'site' | 'submission' | 'lmtp' | 'outside' | 'smtp', number>;

async function freePorts(): Promise<Ports> {
  const [desk, site, submission, lmtp, outside, smtp] = await Promise.all(Array.from({ length: 6 }, freePort));
  return { desk: desk!, site: site!, submission: submission!, lmtp: lmtp!, outside: outside!, smtp: smtp! };
}

function environment(dataDir: string, ports: Ports): NodeJS.ProcessEnv {
  return {
    ...process.env,
    KIRAKU_DATA: dataDir,
    KIRAKU_PORT: String(ports.desk),
    KIRAKU_PUBLIC_HOST: '127.0.0.1',
    KIRAKU_PUBLIC_PORT: String(ports.site),
    KIRAKU_PUBLIC_URL: `http://127.0.0.1:${ports.site}`,
    KIRAKU_SUBMISSION_PORT: String(ports.submission),
    KIRAKU_LMTP_PORT: String(ports.lmtp),
    KIRAKU_DEMO: '1',
    STANDIN_PORT: String(ports.outside),
    STANDIN_SMTP_PORT: String(ports.smtp),
  };
}

/**
 * The demo’s story, made once for each place and copied for each world of it. The mails in it name the ports of the
 * public site, so that all worlds of a place have the same.
 */
async function storyOf(place: string): Promise<{ dataDir: string; ports: Ports }> {
  const folder = join(process.env['KIRAKU_STORIES']!, place);
  const [dataDir, portsFile] = [join(folder, 'data'), join(folder, 'ports.json')];
  if (existsSync(portsFile)) return { dataDir, ports: JSON.parse(readFileSync(portsFile, 'utf8')) as Ports };
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  const ports = await freePorts();
  // It brings the whole server along, which takes some seconds to load: not in each of the processes that only copy.
  const { generateDemo } = await import('@kiraku/demo/generate');
  await generateDemo(readConfig(environment(dataDir, ports)), { port: ports.outside, smtpPort: ports.smtp });
  // Nobody reads automatically while tests count what happens.
  rmSync(readerFile(dataDir));
  // Last: what was broken off is made anew.
  writeFileSync(portsFile, JSON.stringify(ports));
  return { dataDir, ports };
}

type WorldFixture = [
  (needed: { file: string }, use: (world: World) => Promise<void>, worker: WorkerInfo) => Promise<void>,
  { scope: 'worker'; timeout: number },
];

/** A world for all tests of a file, which take turns in it. */
function worldFixture(options: Omit<WorldOptions, 'place'>): WorldFixture {
  return [
    // The first argument is how fixtures name what they need: the file alone, so that each has a world of its own.
    async ({ file: _file }: { file: string }, use: (world: World) => Promise<void>, { parallelIndex }: WorkerInfo) => {
      const world = new World();
      await world.start({ ...options, place: String(parallelIndex) });
      await use(world);
      await world.stop();
    },
    { scope: 'worker', timeout: 600_000 },
  ];
}

export const test = base.extend<object, { file: string; world: World; emptyWorld: World }>({
  file: ['', { scope: 'worker', option: true }],
  world: worldFixture({ withStory: true }),
  emptyWorld: worldFixture({ withStory: false }),
});

/** Signs a page's browser in without the page. What is sent leaves at once, unless it shall be possible to take it back. */
export async function signedIn(page: Page, world: World, undoSendSeconds = 0): Promise<void> {
  const response = await page.request.post(`${world.desk}/api/session`, { data: { passphrase: DEMO_PASSPHRASE } });
  if (!response.ok()) throw new Error(await response.text());
  await page.request.put(`${world.desk}/api/settings/sending`, { data: { undoSendSeconds, giveUpHours: 72 } });
}

/** Rows of the page’s own list that have all these words. A notification about one of them is a list as well. */
export function rowsWith(page: Page, ...words: string[]): Locator {
  const rows = page.getByRole('main').getByRole('listitem');
  return words.reduce((found, hasText) => found.filter({ hasText }), rows);
}

async function answering(url: string): Promise<void> {
  for (let i = 0; i < 1200; i += 1) {
    const ok = await fetch(url).then(
      (response) => response.ok,
      () => false,
    );
    if (ok) return;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error(`${url} does not answer`);
}
