import { spawn } from 'node:child_process';

/** What a program may use. Its children together may take longer, but not beyond the time. */
export interface Bounds {
  timeMs: number;
  /** Of data; what a program only reserves does not count. */
  memoryBytes: number;
  /** Of what it writes to a file. */
  fileBytes: number;
}

/** Where a program may leave things, and what stops it before its end. */
export interface Place {
  home: string;
  signal?: AbortSignal;
}

export class OutOfBoundsError extends Error {}

const MAX_OUTPUT_BYTES = 64 * 1024;

/**
 * Runs a program that reads what others wrote, in a process of its own with limits that the system holds (POSIX
 * `ulimit`), and without what this process knows: nothing of its environment but the path.
 *
 * @returns what it wrote to its standard output
 * @throws OutOfBoundsError where it took too long
 * @throws Error where it ended otherwise than well
 */
export function runBounded(
  program: string,
  args: readonly string[],
  bounds: Bounds,
  { home, signal }: Place,
): Promise<string> {
  const kilobytes = Math.ceil(bounds.memoryBytes / 1024);
  const blocks = Math.ceil(bounds.fileBytes / 512);
  const limits = `ulimit -c 0; ulimit -d ${kilobytes}; ulimit -f ${blocks}; exec "$@"`;
  return new Promise((resolve, reject) => {
    const child = spawn('/bin/sh', ['-c', limits, 'sh', program, ...args], {
      // A group of its own, so that it is stopped with all that it has started.
      detached: true,
      env: { PATH: process.env['PATH'], HOME: home, LANG: 'C.UTF-8' },
      stdio: ['ignore', 'pipe', 'ignore'],
    });
    let output = '';
    let tooLong = false;
    const stop = () => {
      if (child.pid !== undefined)
        try {
          process.kill(-child.pid, 'SIGKILL');
        } catch {
          // It has just ended.
        }
    };
    const timer = setTimeout(() => {
      tooLong = true;
      stop();
    }, bounds.timeMs);
    if (signal?.aborted) stop();
    signal?.addEventListener('abort', stop);
    child.stdout.on('data', (chunk: Buffer) => {
      output += chunk.toString('latin1');
      if (output.length > MAX_OUTPUT_BYTES) stop();
    });
    child.on('error', reject);
    child.on('close', (code) => {
      clearTimeout(timer);
      signal?.removeEventListener('abort', stop);
      stop();
      if (tooLong) reject(new OutOfBoundsError('It took too long'));
      else if (code === 0) resolve(output);
      else reject(new Error(`It ended with ${code}`));
    });
  });
}
