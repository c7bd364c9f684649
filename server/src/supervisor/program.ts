import { spawn, type ChildProcess } from 'node:child_process';
import type { ProcessName, ProcessView } from '@kiraku/core/contract';
import { log } from '../environment/log.js';

/** Who ends sooner than this is started again after a pause that doubles each time. */
const SHORT_RUN_MS = 2000;
const FIRST_PAUSE_MS = 100;
const LONGEST_PAUSE_MS = 30_000;
/** So long a process that is to end may take. */
const PROCESS_STOP_DEADLINE_MS = 15_000;
/** Of what it wrote to its error stream, for the reason of its end. */
const LAST_WORDS_CHARS = 300;

/** What is done with what a process sends, and when its state has changed. */
interface Listener {
  received(message: unknown): void;
  changed(): void;
}

/** A process that is started again whenever it ends, at once where it had run for a while. */
export class Program {
  private child: ChildProcess | undefined;
  private startedAt = 0;
  private restarts = 0;
  private shortRuns = 0;
  private lastEnd: ProcessView['lastEnd'] = null;
  private lastWords = '';
  private timer: NodeJS.Timeout | undefined;
  private isStopping = false;

  /** @param args of Node.js: its flags and the file */
  constructor(
    private readonly name: ProcessName,
    private readonly args: readonly string[],
    private readonly listener: Listener,
  ) {}

  start(): void {
    const child = spawn(process.execPath, this.args, { stdio: ['ignore', 'inherit', 'pipe', 'ipc'] });
    this.child = child;
    this.startedAt = Date.now();
    this.lastWords = '';
    child.stderr!.on('data', (chunk: Buffer) => {
      process.stderr.write(chunk);
      this.lastWords = (this.lastWords + chunk.toString()).slice(-LAST_WORDS_CHARS);
    });
    child.on('message', (message) => this.listener.received(message));
    child.on('error', (error) => (this.lastWords = error.message));
    // All that it wrote has been read by then.
    child.once('close', (code, signal) => this.ended(child, signal ?? `exit code ${code}`));
    this.listener.changed();
  }

  /** @param socket a handle that goes with it */
  send(message: object, socket?: object): void {
    // A process that has just ended takes nothing; it is started again.
    if (this.child?.connected) this.child.send(message, socket as never, () => undefined);
  }

  view(): ProcessView {
    const { name, startedAt, restarts, lastEnd } = this;
    return { name, startedAt, restarts, lastEnd };
  }

  /** Resolves when it has ended; it is not started again. */
  async stop(): Promise<void> {
    this.isStopping = true;
    clearTimeout(this.timer);
    const { child } = this;
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    const ended = new Promise((resolve) => child.once('close', resolve));
    child.kill('SIGTERM');
    const late = setTimeout(() => child.kill('SIGKILL'), PROCESS_STOP_DEADLINE_MS);
    await ended;
    clearTimeout(late);
  }

  private ended(child: ChildProcess, how: string): void {
    if (this.isStopping || child !== this.child) return;
    const now = Date.now();
    const why = [how, this.lastWords.trim()].filter((part) => part !== '').join(': ');
    log('warning', 'Kiraku', `The ${this.name} has ended (${how}) and is started again.`);
    this.lastEnd = { at: now, why };
    this.restarts += 1;
    this.shortRuns = now - this.startedAt < SHORT_RUN_MS ? this.shortRuns + 1 : 0;
    const pauseMs = this.shortRuns === 0 ? 0 : Math.min(FIRST_PAUSE_MS * 2 ** (this.shortRuns - 1), LONGEST_PAUSE_MS);
    this.timer = setTimeout(() => this.start(), pauseMs);
    this.listener.changed();
  }
}
