import { spawn, type ChildProcess } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { fileURLToPath } from 'node:url';
import type { Config } from '@kiraku/server/environment/config';

const ROOT = fileURLToPath(new URL('../../', import.meta.url));
const FILES = { desk: 'bundle/main.js', publicSite: 'bundle/publicSite.js' };

export type Victim = 'supervisor' | 'desk' | 'publicSite' | 'all';

/** Kiraku as it is started for real: the supervisor with its processes, so that each can be killed for real. */
export class Kiraku {
  private constructor(
    private readonly supervisor: ChildProcess,
    private readonly config: Config,
  ) {}

  /**
   * Resolves when the public site answers.
   *
   * @param root where the program lies
   */
  static async start(config: Config, root = ROOT): Promise<Kiraku> {
    const child = spawn(process.execPath, [join(root, 'server/dist/bundle/supervisor.js')], {
      stdio: 'ignore',
      detached: true,
      env: { ...process.env, ...envOf(config) },
    });
    const kiraku = new Kiraku(child, config);
    await kiraku.answering('publicSite');
    return kiraku;
  }

  /** Resolves when one of both answers. */
  async answering(which: 'desk' | 'publicSite'): Promise<void> {
    const { host, port, publicUrl } = this.config;
    const url = which === 'desk' ? `http://${host}:${port}` : publicUrl;
    for (let i = 0; i < 4000; i += 1) {
      const isOk = await fetch(`${url}/health`).then(
        (response) => response.ok,
        () => false,
      );
      if (isOk) return;
      await pause(25);
    }
    throw new Error(`Nothing answers at ${url}`);
  }

  /** Kills a process without a word. */
  async kill(victim: Victim): Promise<void> {
    if (victim === 'desk' || victim === 'publicSite') {
      for (const pid of this.pidsOf(victim)) process.kill(pid, 'SIGKILL');
      return;
    }
    const gone = new Promise((resolve) => this.supervisor.once('exit', resolve));
    process.kill(victim === 'all' ? -this.supervisor.pid! : this.supervisor.pid!, 'SIGKILL');
    await gone;
  }

  /** The process numbers of one of both; none while it is started again. */
  pidsOf(which: 'desk' | 'publicSite'): number[] {
    return childrenOf(this.supervisor.pid!, FILES[which]);
  }

  /** Stops it as Ctrl-C does. */
  async stop(): Promise<void> {
    const gone = new Promise((resolve) => this.supervisor.once('exit', resolve));
    this.supervisor.kill('SIGTERM');
    await gone;
  }
}

/** What the programs of a data folder are told. */
export function envOf(config: Config): Record<string, string> {
  return {
    NODE_OPTIONS: '',
    KIRAKU_DATA: config.dataDir,
    KIRAKU_BACKUP: config.backupDir,
    KIRAKU_LOG: config.logFile ?? '',
    KIRAKU_HOST: config.host,
    KIRAKU_PORT: String(config.port),
    KIRAKU_PUBLIC_HOST: config.publicHost,
    KIRAKU_PUBLIC_PORT: String(config.publicPort),
    KIRAKU_PUBLIC_URL: config.publicUrl,
    KIRAKU_SUBMISSION_PORT: String(config.submissionPort),
    KIRAKU_LMTP_PORT: String(config.lmtpPort),
  };
}

/** The children of a process that run a file. */
function childrenOf(parent: number, file: string): number[] {
  return readdirSync('/proc')
    .map(Number)
    .filter((pid) => {
      if (!pid) return false;
      try {
        const ppid = /\) \S (\d+)/.exec(readFileSync(`/proc/${pid}/stat`, 'utf8'))?.[1];
        return Number(ppid) === parent && readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(file);
      } catch {
        return false;
      }
    });
}

/** Runs a program of the server to its end, with one line typed in. */
export function runProgram(
  name: string,
  { args = [], env = {}, typed = '' }: { args?: string[]; env?: Record<string, string>; typed?: string },
  root = ROOT,
): Promise<{ code: number | null; output: string }> {
  const program = join(root, `server/dist/bundle/${name}.js`);
  return new Promise((resolve) => {
    const child = spawn(process.execPath, [program, ...args], { env: { ...process.env, NODE_OPTIONS: '', ...env } });
    let output = '';
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk) => (output += String(chunk)));
    child.on('close', (code) => resolve({ code, output }));
    child.stdin.end(typed);
  });
}
