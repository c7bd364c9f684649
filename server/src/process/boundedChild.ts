import { spawn, type ChildProcess } from 'node:child_process';
import { OutOfBoundsError } from './bounded.js';

/** What a program that takes tasks may use. */
export interface ChildBounds {
  /** Of V8's heap. */
  maxHeapBytes: number;
  /** Of all its data, buffers included. */
  maxDataBytes: number;
  /** Of processor time in its whole life, so that one without its parent ends, too. */
  maxCpuSeconds: number;
}

/** What a child answers. */
export type ChildReply<Result> = { result: Result } | { error: string };

/** After so many tasks a child gives way to a new one: what a parser leaks does not add up. */
const MAX_TASKS_OF_CHILD = 500;
/** An idle child costs memory, a new one a third of a second. */
const MAX_CHILD_IDLE_MS = 30_000;
const MIB = 1024 * 1024;

/**
 * Runs a program of ours that parses what strangers sent: in a process of its own, with limits that the system holds
 * (POSIX `ulimit`), without our environment, one task at a time. The program is started when it is needed, and stopped
 * where a task takes too long; the next task gets a new one.
 */
export class BoundedChild<Task> {
  private child: ChildProcess | undefined;
  private tasks = 0;
  private last: Promise<unknown> = Promise.resolve();
  private idle: NodeJS.Timeout | undefined;
  private isClosed = false;

  /** @param program path of the script, which answers each message with one {@link ChildReply} */
  constructor(
    private readonly program: string,
    private readonly bounds: ChildBounds,
  ) {}

  /**
   * Has a task done, after those that were given before it.
   *
   * @throws OutOfBoundsError where it took longer than its time, or the program ended before it had answered
   * @throws Error with the program's own words where it could not be done
   */
  run<Result>(task: Task, maxMs: number): Promise<Result> {
    const done = this.last.then(() => this.ask<Result>(task, maxMs));
    this.last = done.catch(() => undefined);
    return done;
  }

  /** Stops the program, with what it does. */
  close(): void {
    this.isClosed = true;
    this.stop();
  }

  private ask<Result>(task: Task, maxMs: number): Promise<Result> {
    if (this.isClosed) return Promise.reject(new OutOfBoundsError('It was stopped'));
    clearTimeout(this.idle);
    if (this.tasks >= MAX_TASKS_OF_CHILD) this.stop();
    const child = (this.child ??= this.start());
    this.tasks += 1;
    return new Promise<Result>((resolve, reject) => {
      const finish = (act: () => void) => {
        clearTimeout(timer);
        child.off('message', onMessage);
        child.off('exit', onEnd);
        child.off('error', onEnd);
        this.rest();
        act();
      };
      const onEnd = () => finish(() => reject(new OutOfBoundsError('It needed more memory than it may have')));
      const onMessage = (reply: ChildReply<Result>) =>
        finish(() => ('result' in reply ? resolve(reply.result) : reject(new Error(reply.error))));
      const timer = setTimeout(() => {
        this.stop();
        finish(() => reject(new OutOfBoundsError('It took too long')));
      }, maxMs);
      child.on('message', onMessage);
      child.once('exit', onEnd);
      child.once('error', onEnd);
      child.send(task as object, (error) => error && onEnd());
    });
  }

  private rest(): void {
    this.idle = setTimeout(() => this.stop(), MAX_CHILD_IDLE_MS);
    this.idle.unref();
  }

  private stop(): void {
    clearTimeout(this.idle);
    this.child?.kill('SIGKILL');
    this.child = undefined;
    this.tasks = 0;
  }

  private start(): ChildProcess {
    const { maxHeapBytes, maxDataBytes, maxCpuSeconds } = this.bounds;
    const limits = `ulimit -c 0; ulimit -f 0; ulimit -t ${maxCpuSeconds}; ulimit -d ${Math.ceil(maxDataBytes / 1024)}; exec "$@"`;
    const node = [process.execPath, `--max-old-space-size=${Math.ceil(maxHeapBytes / MIB)}`, this.program];
    const child = spawn('/bin/sh', ['-c', limits, 'sh', ...node], {
      env: { PATH: process.env['PATH'], LANG: 'C.UTF-8' },
      stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
      serialization: 'advanced',
    });
    child.on('error', () => undefined);
    child.once('exit', () => {
      if (this.child === child) this.stop();
    });
    child.unref();
    child.channel?.unref();
    return child;
  }
}

/**
 * The other side: answers tasks, one after the other, until the process that gave them is gone.
 *
 * @param act does a task
 */
export function serveTasks<Task>(act: (task: Task) => Promise<unknown>): void {
  process.on('disconnect', () => process.exit());
  process.on('message', (task: Task) => {
    act(task).then(
      (result) => process.send!({ result } satisfies ChildReply<unknown>),
      (error: unknown) =>
        process.send!({ error: error instanceof Error ? error.message : String(error) } satisfies ChildReply<unknown>),
    );
  });
}
