import { existsSync, readFileSync, rmSync, statSync } from 'node:fs';
import fc from 'fast-check';
import { log, logLine } from '@kiraku/server/environment/log';
import { LineLogger } from '@kiraku/server/environment/lineLogger';
import { Desk } from './harness.js';
import { Kiraku, runProgram } from './processes.js';
import { until } from './until.js';

/** What is written to the error stream meanwhile. */
function written(work: () => void): string {
  const lines: string[] = [];
  const { write } = process.stderr;
  process.stderr.write = (chunk: string | Uint8Array) => lines.push(String(chunk)) > 0;
  try {
    work();
  } finally {
    process.stderr.write = write;
  }
  return lines.join('');
}

test('a line has its time and level, or for the journal the number of the level', () => {
  expect(logLine('warning', 'Mailbox', 'It was closed', 0)).toBe(
    '1970-01-01T00:00:00.000Z warning Mailbox: It was closed',
  );
  expect(logLine('error', 'Outbox', 'No', 0, true)).toBe('<3>Outbox: No');
});

test('whatever is said is one line, of a length that can be read, and steers no terminal', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'binary', maxLength: 9000 }), (text) => {
      const line = logLine('error', 'x', text, 0);
      expect(line).not.toMatch(/[\p{Cc}\u2028\u2029]/u);
      expect(line.length).toBeLessThanOrEqual(4000);
    }),
  );
});

test('what is thrown is written with where, and what the framework says under who says it', () => {
  expect(written(() => log('error', 'Public site', new TypeError('No')))).toMatch(
    / error Public site: TypeError: No \| at .*\n$/,
  );
  const logger = new LineLogger();
  expect(written(() => logger.error('It failed', 'Error: It failed\n    at here', 'OutboxService'))).toMatch(
    /^\S+ error OutboxService: It failed \| Error: It failed \| at here\n$/,
  );
  expect(written(() => logger.error('It failed', undefined, 'OutboxService'))).toMatch(/OutboxService: It failed\n$/);
  expect(written(() => logger.warn('Slow', 'Mailbox'))).toMatch(/ warning Mailbox: Slow\n$/);
  expect(written(() => logger.log())).toBe('');
});

test('with a file for the log, what all processes say goes there, readable by its owner alone, and what is set wrongly to the terminal', async () => {
  const desk = await Desk.start();
  await desk.close();
  const logFile = `${desk.config.dataDir}/kiraku.log`;
  const kiraku = await Kiraku.start({ ...desk.config, logFile });
  await kiraku.answering('desk');
  await kiraku.kill('desk');
  await until(() => existsSync(logFile) && readFileSync(logFile, 'utf8') !== '');
  expect(readFileSync(logFile, 'utf8')).toMatch(
    /^\S+Z warning Kiraku: The desk has ended \(SIGKILL\) and is started again\.\n/,
  );
  expect(statSync(logFile).mode & 0o777).toBe(0o600);
  await kiraku.answering('desk');
  await kiraku.stop();
  const wrong = await runProgram('supervisor', { env: { KIRAKU_DATA: desk.config.dataDir, KIRAKU_PORT: 'eighty' } });
  expect(wrong).toEqual({
    code: 1,
    output: expect.stringMatching(/^\S+ error Kiraku: KIRAKU_PORT is “eighty”\. It must be [^\n]*\n$/),
  });
  rmSync(desk.config.dataDir, { recursive: true });
}, 60_000);
