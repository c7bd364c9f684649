import { basename, dirname } from 'node:path';
import { createStream } from 'rotating-file-stream';

/** A new file from this size on; so many old ones are kept, compressed. */
const MAX_LOG_SIZE = '5M';
const MAX_OLD_LOGS = 5;

/** Lets what is written to the error stream, by this process and those that it starts, go to a file. */
export function logToFile(file: string): void {
  const path = dirname(file);
  const stream = createStream((time, index) => (time === null ? basename(file) : `${basename(file)}.${index}.gz`), {
    ...{ path, size: MAX_LOG_SIZE, maxFiles: MAX_OLD_LOGS, compress: 'gzip', mode: 0o600 },
  });
  const { write } = process.stderr;
  // A disk that is full ends no process: what cannot be written there is said where it can be seen.
  stream.on('error', (error: Error) => void write.call(process.stderr, `${error.message}\n`));
  process.stderr.write = ((chunk: string | Uint8Array) => stream.write(chunk)) as typeof process.stderr.write;
}
