import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { BoundedChild } from '@kiraku/server/process/boundedChild';

const BOUNDS = { maxHeapBytes: 64 * 2 ** 20, maxDataBytes: 400 * 2 ** 20, maxCpuSeconds: 30 };
const PROGRAM = `
process.on('disconnect', () => process.exit());
process.on('message', ({ act, value }) => {
  if (act === 'forever') for (;;);
  if (act === 'heap') for (const all = []; ; ) all.push({ all });
  // Twice what it may have: without a bound it would answer.
  if (act === 'buffers') for (const all = []; all.length < 80; ) all.push(Buffer.alloc(1e7, 1));
  if (act === 'die') process.exit(3);
  if (act === 'fail') return process.send({ error: 'It is no mail' });
  if (act === 'write') return import('node:fs').then(({ writeFileSync }) => {
    try { writeFileSync(value, 'x'.repeat(10000)); process.send({ result: 'written' }); }
    catch (error) { process.send({ error: error.code }); }
  });
  process.send({ result: act === 'environment' ? process.env.KIRAKU_SECRET ?? null : act === 'pid' ? process.pid : value });
});`;

interface Task {
  act: string;
  value?: unknown;
}

let folder: string;
let child: BoundedChild<Task>;

beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'kiraku-child-'));
  writeFileSync(join(folder, 'program.mjs'), PROGRAM);
  child = new BoundedChild<Task>(join(folder, 'program.mjs'), BOUNDS);
});
afterEach(() => {
  child.close();
  rmSync(folder, { recursive: true });
});

const run = (act: string, value?: unknown, maxMs = 60_000) =>
  child.run(value === undefined ? { act } : { act, value }, maxMs);

test('it completes one task after the other, bytes and maps among them', async () => {
  const values = [1, 'two', Buffer.from([3]), new Map([['four', 4]])];
  const replies = await Promise.all(values.map((value) => run('echo', value)));
  expect(replies.map((one) => (one instanceof Uint8Array ? Buffer.from(one) : one))).toEqual(values);
  expect(await run('pid')).toBe(await run('pid'));
});

test('what cannot be done is said in the program’s words, and the next task is done', async () => {
  await expect(run('fail')).rejects.toThrow('It is no mail');
  expect(await run('echo', 1)).toBe(1);
});

test.each([
  ['takes too long', 'forever', 'It took too long', 1000],
  ['fills its heap', 'heap', 'It needed more memory than it may have', 60_000],
  ['fills the memory beside its heap', 'buffers', 'It needed more memory than it may have', 60_000],
  ['ends', 'die', 'It needed more memory than it may have', 60_000],
])('one that %s is over, and the next task has a program of its own', async (_name, act, words, maxMs) => {
  const before = await run('pid');
  await expect(run(act, undefined, maxMs)).rejects.toThrow(words);
  const after = (await run('pid')) as number;
  expect(after).not.toBe(before);
  expect(() => process.kill(before as number, 0)).toThrow('ESRCH');
});

test('it knows nothing of our environment, and writes nothing', async () => {
  process.env['KIRAKU_SECRET'] = 'felt';
  try {
    expect(await run('environment')).toBeNull();
  } finally {
    delete process.env['KIRAKU_SECRET'];
  }
  await expect(run('write', join(folder, 'out'))).rejects.toThrow();
});

test('once closed, it takes nothing more', async () => {
  const waiting = run('forever');
  const rejected = expect(waiting).rejects.toThrow();
  await new Promise((resolve) => setTimeout(resolve, 300));
  child.close();
  await rejected;
  await expect(run('echo', 1)).rejects.toThrow('It was stopped');
});
