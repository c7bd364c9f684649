import { Agent, get } from 'node:http';
import { connect, type Socket } from 'node:net';
import { imagePath } from '@kiraku/core/tracking';
import { newToken } from '@kiraku/server/tracking/tokens';
import { benchFolder } from './lib/folder.js';
import { getRequest, load } from './lib/load.js';
import { memoryOf, startServer, stopServer } from './lib/processes.js';
import { quantile, report } from './lib/report.js';
import { seed } from './lib/seed.js';

/*
 * What other people’s opens cost while somebody floods the public site, and what memory it takes. The flood comes from an
 * address of its own; the others come fifty times a second from another.
 */
const MESSAGES = 2000;
const OTHERS_EVERY_MS = 20;
const FLOOD_MS = 6000;
const CONNECTIONS = 32;
const SLOW_CLIENTS = 1900;
const FLOODER = '127.0.0.2';
const AGENT = 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0';

const { config, remove } = benchFolder(4880);
const { imageTokens } = seed(config, MESSAGES);
const server = await startServer(config);
const keptAlive = new Agent({ keepAlive: true });

const flood = (requests: Buffer[]) => () => load(config.publicPort, requests, CONNECTIONS, FLOOD_MS, FLOODER);
const FLOODS: [name: string, flood: () => Promise<unknown>][] = [
  ['calm', () => pause(FLOOD_MS)],
  ['one_token_again_and_again', flood([getRequest(imagePath(imageTokens[0]!), AGENT)])],
  ['unknown_tokens', flood(Array.from({ length: 50_000 }, () => getRequest(imagePath(newToken()), AGENT)))],
  ['headers_too_large', () => refused(getRequest(imagePath(imageTokens[0]!), 'x'.repeat(60_000)))],
  ['slow_clients', slowClients],
  ['pipelining', pipelining],
];
for (const [name, work] of FLOODS) {
  const delays: number[] = [];
  let lost = 0;
  let number = 0;
  const others = setInterval(() => {
    number += 1;
    void fetchImage(imageTokens[1 + (number % (MESSAGES - 1))]!).then(
      (ms) => delays.push(ms),
      () => (lost += 1),
    );
  }, OTHERS_EVERY_MS);
  await work();
  clearInterval(others);
  await pause(500);
  report(`others_in_${name}_p50`, quantile(delays, 0.5), 'ms');
  report(`others_in_${name}_p99`, quantile(delays, 0.99), `ms, of ${delays.length} opens; ${lost} lost`);
  report(`memory_after_${name}`, memoryOf(server), 'MB');
}
await stopServer(server);
remove();

/** One look by somebody else. Resolves to how long it took. */
function fetchImage(token: string): Promise<number> {
  const from = performance.now();
  return new Promise((resolve, reject) => {
    get(
      config.publicUrl + imagePath(token),
      { agent: keptAlive, headers: { 'user-agent': AGENT }, timeout: 10_000 },
      (response) => {
        response.resume();
        response.on('end', () => (response.statusCode === 200 ? resolve(performance.now() - from) : reject()));
      },
    )
      .on('timeout', reject)
      .on('error', reject);
  });
}

/** Connections that are refused, and made again. */
async function refused(request: Buffer): Promise<void> {
  const until = performance.now() + FLOOD_MS;
  await Promise.all(
    Array.from({ length: CONNECTIONS }, async () => {
      while (performance.now() < until) {
        const socket = flooder();
        socket.write(request);
        await closed(socket);
      }
    }),
  );
}

/** Connections that send a byte of their headers now and then. */
async function slowClients(): Promise<void> {
  const sockets = Array.from({ length: SLOW_CLIENTS }, flooder);
  for (const socket of sockets) socket.write('GET / HTTP/1.1\r\nX: ');
  const drip = setInterval(() => sockets.forEach((socket) => socket.write('x')), 1000);
  await pause(FLOOD_MS);
  clearInterval(drip);
  for (const socket of sockets) socket.destroy();
}

/** A thousand requests before the first answer is read, again and again. */
async function pipelining(): Promise<void> {
  const requests = Buffer.concat(Array.from({ length: 1000 }, (_, n) => getRequest(imagePath(imageTokens[n]!), AGENT)));
  const sockets = Array.from({ length: CONNECTIONS }, flooder);
  for (const socket of sockets) socket.resume();
  const push = setInterval(() => sockets.forEach((socket) => socket.writableNeedDrain || socket.write(requests)), 100);
  await pause(FLOOD_MS);
  clearInterval(push);
  for (const socket of sockets) socket.destroy();
}

function flooder(): Socket {
  return connect({ port: config.publicPort, host: '127.0.0.1', localAddress: FLOODER }).on('error', () => undefined);
}

function closed(socket: Socket): Promise<void> {
  socket.resume();
  return new Promise((resolve) => socket.once('close', () => resolve()));
}

function pause(ms: number): Promise<void> {
  return new Promise((resolve) => setTimeout(resolve, ms));
}
