import { spawn, type ChildProcess } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { Config } from '@kiraku/server/environment/config';

const ROOT = fileURLToPath(new URL('../../..', import.meta.url));
/** As `npm start` has it. */
const SERVER = ['--max-old-space-size=64', 'server/dist/bundle/supervisor.js'];

/**
 * Kiraku as it is started for real, on a data folder that was seeded before: desk and public site answer.
 *
 * @param isPublicEnough whether it is enough that the public site does
 */
export async function startServer(config: Config, isPublicEnough = false): Promise<ChildProcess> {
  const env = {
    ...process.env,
    KIRAKU_DATA: config.dataDir,
    KIRAKU_PORT: String(config.port),
    KIRAKU_PUBLIC_HOST: config.publicHost,
    KIRAKU_PUBLIC_PORT: String(config.publicPort),
    KIRAKU_SUBMISSION_PORT: String(config.submissionPort),
    KIRAKU_LMTP_PORT: String(config.lmtpPort),
    KIRAKU_PUBLIC_URL: config.publicUrl,
  };
  const server = spawnNode(SERVER, env);
  await Promise.all([
    isPublicEnough || answering(`http://${config.host}:${config.port}/health`),
    answering(`http://${config.publicHost}:${config.publicPort}/health`),
  ]);
  return server;
}

/** Stops it as Ctrl-C does. */
export async function stopServer(server: ChildProcess): Promise<void> {
  const ended = new Promise((resolve) => server.once('exit', resolve));
  server.kill('SIGTERM');
  await ended;
}

/** Kills the supervisor and its processes without a word, as the loss of power does. */
export async function killServer(server: ChildProcess): Promise<void> {
  const ended = new Promise((resolve) => server.once('exit', resolve));
  process.kill(-server.pid!, 'SIGKILL');
  await ended;
}

/** The bare server to be measured against. */
export async function startBare(port: number): Promise<ChildProcess> {
  const bare = spawnNode(['bench/dist/bareServer.js', String(port)], process.env);
  await answering(`http://127.0.0.1:${port}/i/x.gif`);
  return bare;
}

/** The process numbers of the children of a process that run a file. */
export function childrenOf(parent: ChildProcess, file: string): number[] {
  return readdirSync('/proc')
    .map(Number)
    .filter((pid) => pid > 0 && statusOf(pid, 'PPid') === parent.pid && commandOf(pid).includes(file));
}

/**
 * The memory of the server with the processes that it started, in MB: what each has of its own, and once what they all
 * have mapped from the same files, which is Node.js itself.
 */
export function memoryOf(server: ChildProcess): number {
  const all = familyOf(server);
  const own = all.reduce((sum, pid) => sum + statusOf(pid, 'RssAnon') + statusOf(pid, 'RssShmem'), 0);
  return (own + Math.max(...all.map((pid) => statusOf(pid, 'RssFile')))) / 1024;
}

/** The same at the peak of each, what is mapped from files counted for each. */
export function peakMemoryOf(server: ChildProcess): number {
  return familyOf(server).reduce((sum, pid) => sum + statusOf(pid, 'VmHWM'), 0) / 1024;
}

function familyOf(server: ChildProcess): number[] {
  return [server.pid!, ...childrenOf(server, '')];
}

function statusOf(pid: number, field: string): number {
  return Number(new RegExp(`${field}:\\s+(\\d+)`).exec(contentOf(pid, 'status'))?.[1] ?? 0);
}

function commandOf(pid: number): string {
  return contentOf(pid, 'cmdline');
}

function contentOf(pid: number, file: string): string {
  try {
    return readFileSync(`/proc/${pid}/${file}`, 'utf8');
  } catch {
    // It has ended meanwhile.
    return '';
  }
}

function spawnNode(args: string[], env: NodeJS.ProcessEnv): ChildProcess {
  return spawn(process.execPath, args, { cwd: ROOT, env, stdio: ['ignore', 'ignore', 'inherit'], detached: true });
}

async function answering(url: string): Promise<void> {
  for (let i = 0; i < 800; i += 1) {
    const ok = await fetch(url, { redirect: 'manual' }).then(
      () => true,
      () => false,
    );
    if (ok) return;
    await new Promise((resolve) => setTimeout(resolve, 25));
  }
  throw new Error(`Nothing answers at ${url}`);
}
