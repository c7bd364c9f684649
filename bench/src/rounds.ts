import { ROUND_LIMITS, type AddRoundRequest, type RoundView, type SaveRoundRequest } from '@kiraku/core/contract';
import { DEFAULT_PACE, roundPlanOf } from '@kiraku/core/rounds';
import { SMTPServer } from 'smtp-server';
import { benchFolder } from './lib/folder.js';
import { seedLarge } from './lib/large.js';
import { startServer, stopServer } from './lib/processes.js';
import { quantile, report } from './lib/report.js';
import { openSession } from './lib/session.js';

/* A round of as many people as one may have, among 20,000 messages: how long each step of it takes, and who else waits. */
const MESSAGES = Number(process.env['BENCH_MESSAGES'] ?? 20_000);
const EVENTS = Number(process.env['BENCH_EVENTS'] ?? 100_000);
const TIMES = 20;
const STEP_BAR_MS = 1000;
const READ_BAR_MS = 200;
const DAYS_AHEAD = 3;
const SMTP_PORT = 4899;
const ASKED_EVERY_MS = 500;

const { config, remove } = benchFolder(4897);
seedLarge(config, MESSAGES, EVENTS);
const outside = new SMTPServer({
  authOptional: true,
  disabledCommands: ['STARTTLS'],
  disableReverseLookup: true,
  onData: (stream, _session, callback) => stream.on('end', callback).resume(),
});
outside.on('error', () => undefined);
await new Promise<void>((resolve) => outside.listen(SMTP_PORT, '127.0.0.1', resolve));
const cookie = `kiraku_session=${await openSession(config, SMTP_PORT)}`;
const server = await startServer(config);

async function asked<T>(
  method: string,
  path: string,
  body?: unknown,
): Promise<{ ms: number; bytes: number; value: T }> {
  const from = performance.now();
  const response = await fetch(`http://127.0.0.1:${config.port}/api/${path}`, {
    method,
    headers: { cookie, origin: `http://127.0.0.1:${config.port}`, 'content-type': 'application/json' },
    ...(body !== undefined && { body: JSON.stringify(body) }),
  });
  const text = await response.text();
  if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${text}`);
  return { ms: performance.now() - from, bytes: text.length, value: JSON.parse(text) as T };
}

/** How long a step takes, and how long whoever asks for the list meanwhile waits at most. */
async function step<T>(name: string, work: () => Promise<{ ms: number; value: T }>): Promise<T> {
  let isDone = false;
  let worst = 0;
  const besides = (async () => {
    while (!isDone) worst = Math.max(worst, (await asked('GET', 'messages?limit=1')).ms);
  })();
  const { ms, value } = await work().finally(() => (isDone = true));
  await besides;
  report(`round_${name}`, ms, `ms (bar: ${STEP_BAR_MS}); the list waited ${worst.toFixed(0)} ms at most`);
  return value;
}

/** How long the page of the round waits for it. */
async function read(what: string): Promise<void> {
  const reads = [];
  for (let n = 0; n < TIMES; n += 1) reads.push(await asked<RoundView>('GET', path));
  const p95 = quantile(
    reads.map(({ ms }) => ms),
    0.95,
  );
  report(`round_read_${what}_p95`, p95, `ms (bar: ${READ_BAR_MS}); ${(reads[0]!.bytes / 1000).toFixed(0)} KB`);
}

/** Half of them are known; by the clocks of all of them, the next hours to send are some days off. */
const recipients = Array.from({ length: ROUND_LIMITS.maxPeople }, (_, n) => ({
  name: `Guest ${n}`,
  address: n % 2 === 0 ? `marit${n}@lindqvist.example` : `guest${n}@cafe${n}.example`,
  cells: [`Café ${n}`, 'Thursday'],
}));
const begin: AddRoundRequest = {
  name: 'Cafés',
  draftId: null,
  personIds: [],
  zone: 'Europe/Amsterdam',
  columns: ['place', 'day'],
  recipients,
};
const text = (opening: string) => ({
  subject: `${opening} for {{place}}`,
  html: `<p>Dear {{first name|reader}},</p><p>${'Felt makes a room quieter. '.repeat(30)}<a href="https://tallowreed.example/felt">The felt</a></p>`,
});
const added = await step('begun', () => asked<RoundView>('POST', 'rounds', begin));
const path = `rounds/${added.id}`;
const day = (new Date().getDay() + 6 + DAYS_AHEAD) % 7;
const plan: SaveRoundRequest = {
  ...roundPlanOf(added),
  revision: added.revision,
  wordings: [text('Quieter'), text('Felt')],
  pace: { ...DEFAULT_PACE, zone: begin.zone, weekdays: [day] },
};
await step('saved', () => asked<RoundView>('PUT', path, plan));
await step('started', () => asked<RoundView>('POST', `${path}/start`));
await step('paused', () => asked<RoundView>('POST', `${path}/pause`));
const paused = await step('resumed', () => asked<RoundView>('POST', `${path}/resume`)).then(() =>
  step('paused_again', () => asked<RoundView>('POST', `${path}/pause`)),
);
await read('waiting');

await step('saved_again', () =>
  asked<RoundView>('PUT', path, {
    ...roundPlanOf(paused),
    pace: { ...plan.pace, kind: 'at-once' },
    revision: paused.revision,
  }),
);
const from = performance.now();
await asked('POST', `${path}/resume`);
for (let isDone = false; !isDone;) {
  await new Promise((resolve) => setTimeout(resolve, ASKED_EVERY_MS));
  isDone = (await asked<RoundView>('GET', path)).value.members.every(({ state }) => state === 'sent');
}
report('round_left', (performance.now() - from) / 1000, `s for ${recipients.length} messages, at once`);
await read('sent');

await stopServer(server);
outside.close();
remove();
