import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { bindSocket } from '@kiraku/server/supervisor/listeningSocket';
import { Program } from '@kiraku/server/supervisor/program';
import { until } from './until.js';

let folder: string;
let program: Program;

beforeEach(() => void (folder = mkdtempSync(join(tmpdir(), 'kiraku-supervisor-'))));
afterEach(async () => {
  await program.stop();
  rmSync(folder, { recursive: true });
});

/** A process that notes each start, and then does something. */
function start(script: string): { starts(): number } {
  const notes = join(folder, 'starts');
  const file = join(folder, 'program.mjs');
  writeFileSync(notes, '');
  writeFileSync(
    file,
    `import { appendFileSync } from 'node:fs'; appendFileSync(${JSON.stringify(notes)}, '.'); ${script}`,
  );
  program = new Program('desk', [file], { received: () => undefined, changed: () => undefined });
  program.start();
  return { starts: () => readFileSync(notes, 'utf8').length };
}

test('what ends again and again is started ever more seldom, and its last words are kept', async () => {
  const { starts } = start("console.error('The port is taken'); process.exit(3);");
  await until(() => starts() >= 3);
  const soon = starts();
  await pause(2000);
  // After 100, 200, 400, 800 ms …: without a pause it would be dozens.
  expect(starts() - soon).toBeLessThanOrEqual(4);
  expect(program.view().restarts).toBeGreaterThanOrEqual(2);
  expect(program.view().lastEnd?.why).toBe('exit code 3: The port is taken');
});

test('what had run for a while is started again at once, and not when it was stopped', async () => {
  const { starts } = start('setTimeout(() => process.exit(1), 2100); setInterval(() => undefined, 1000);');
  await until(() => starts() === 2);
  expect(program.view()).toMatchObject({ restarts: 1, lastEnd: { why: 'exit code 1' } });
  await program.stop();
  await pause(300);
  expect(starts()).toBe(2);
});

test('the socket is waited for while another has it', async () => {
  start('setInterval(() => undefined, 1000);');
  const other: Server = createServer();
  await new Promise<void>((resolve) => other.listen(0, '127.0.0.1', resolve));
  const { port } = other.address() as AddressInfo;
  let bound = false;
  const binding = bindSocket('127.0.0.1', port).then((socket) => {
    bound = true;
    return socket;
  });
  await pause(100);
  expect(bound).toBe(false);
  await new Promise((resolve) => other.close(resolve));
  (await binding).close();
});
