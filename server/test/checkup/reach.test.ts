import { once } from 'node:events';
import { createServer, request as ask, type RequestListener, type Server } from 'node:http';
import { createServer as createTlsServer } from 'node:https';
import { createServer as createTcpServer, type AddressInfo } from 'node:net';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import selfsigned from 'selfsigned';
import { DAY } from '@kiraku/core/time';
import { publicCertificate, reach, reachUrl } from '@kiraku/server/checkup/reach';
import { Secrets } from '@kiraku/server/settings/secrets';
import { desk, useDesk } from '../harness.js';
import { until } from '../until.js';

useDesk('all');

const servers: { close(): unknown }[] = [];
afterEach(() => {
  for (const server of servers.splice(0)) server.close();
});
async function listening(server: Pick<Server, 'listen' | 'address' | 'close' | 'once'>): Promise<number> {
  server.listen(0, '127.0.0.1');
  await once(server as Server, 'listening');
  servers.push(server);
  return (server.address() as AddressInfo).port;
}
const serving = async (listener: RequestListener) => `http://127.0.0.1:${await listening(createServer(listener))}`;
const found = (url: string, secrets = desk.get(Secrets), ms = 3000) => reach(url, secrets, AbortSignal.timeout(ms));
const publicAddress = async (url: string, ms?: number) => (await found(url, undefined, ms)).publicAddress;

/** Passes everything on, as a proxy does, and says for whom. */
const proxying =
  (to: () => string): RequestListener =>
  (request, response) => {
    const headers = { ...request.headers, 'x-forwarded-for': '203.0.113.9' };
    const onward = ask(to() + request.url!, { headers }, (answer) => {
      response.writeHead(answer.statusCode!, answer.headers);
      answer.pipe(response);
    });
    onward.end();
  };

test('the own public site is known by its proof; on loopback it says that nobody else gets there', async () => {
  const { publicAddress: address, proxy } = await found(desk.config.publicUrl);
  expect(address).toMatchObject({ state: 'attention', detail: expect.stringContaining('from this machine alone') });
  expect(proxy.state).toBe('ok');
});

test('what answers and is another is not taken for it', async () => {
  for (const listener of [
    (_request, response) => response.writeHead(200).end('Welcome'),
    (_request, response) => response.writeHead(200).end('{"status":"ok","proof":"made up"}'),
    (_request, response) => response.writeHead(404).end(),
    // Without end.
    (_request, response) => void setInterval(() => response.write(' '.repeat(1000)), 5).unref(),
    (_request, response) => response.writeHead(302, { location: desk.config.publicUrl }).end(),
  ] satisfies RequestListener[])
    expect(await publicAddress(await serving(listener))).toMatchObject({
      state: 'failing',
      detail: expect.stringContaining('Something else responds'),
    });
  // Another one's public site, too.
  const other = mkdtempSync(join(tmpdir(), 'kiraku-key-'));
  expect((await found(desk.config.publicUrl, new Secrets({ dataDir: other }))).publicAddress.state).toBe('failing');
  rmSync(other, { recursive: true });
});

test('a proxy that is not named is seen, and one that is named is not', async () => {
  const url = await serving(proxying(() => desk.config.publicUrl));
  expect((await found(url)).proxy).toMatchObject({ state: 'failing', detail: expect.stringContaining('127.0.0.1') });
  const { thisNetwork: _network, ...choices } = await desk.json<Record<string, unknown>>(
    'GET',
    '/api/settings/judging',
  );
  await desk.json('PUT', '/api/settings/judging', { ...choices, proxies: ['127.0.0.1'] });
  await until(async () => (await found(url)).proxy.state === 'ok', { withinMs: 10_000 });
});

test('each way not to be reached is told apart', async () => {
  const silent = createTcpServer(() => undefined);
  const port = await listening(silent as never);
  const closed = createServer();
  const closedPort = await listening(closed);
  closed.close();
  const { private: key, cert } = await selfsigned.generate([{ name: 'commonName', value: 'localhost' }]);
  const tls = await listening(createTlsServer({ key, cert }, (_request, response) => response.end('{}')) as never);
  const plain = await serving((_request, response) => response.end('{}'));
  const cases: [url: string, words: string][] = [
    ['https://nobody.invalid', 'The DNS does not know nobody.invalid'],
    [`http://127.0.0.1:${closedPort}`, `Nothing listens at port ${closedPort}`],
    [`http://127.0.0.1:${port}`, `Port ${port} of 127.0.0.1 does not respond`],
    [`https://localhost:${tls}`, 'nobody vouches for its certificate'],
    [plain.replace('http:', 'https:'), 'does not speak TLS'],
  ];
  for (const [url, words] of cases)
    expect([url, await publicAddress(url, 1500)]).toEqual([
      url,
      expect.objectContaining({ state: 'failing', detail: expect.stringContaining(words), advice: expect.any(String) }),
    ]);
}, 30_000);

test('the public site answers a check to whoever has its question, and to nobody else more than that it is there', async () => {
  const url = reachUrl(desk.config.publicUrl, desk.get(Secrets));
  const asked = await fetch(url);
  expect(asked.headers.get('access-control-allow-origin')).toBe('*');
  expect(await asked.json()).toMatchObject({ status: 'ok', proof: expect.any(String), unnamedProxy: null });
  const [base, question] = url.split('?check=') as [string, string];
  for (const guess of ['', '?check=', '?check=x', `?check=${question.slice(1)}a`, `?check=a${question.slice(1)}`]) {
    const response = await fetch(base + guess);
    expect(await response.json()).toEqual({ status: 'ok' });
    expect(response.headers.get('access-control-allow-origin')).toBeNull();
  }
});

test('how long a certificate is valid is read from the server itself', async () => {
  const notAfterDate = new Date(Date.now() + 10 * DAY);
  const { private: key, cert } = await selfsigned.generate([{ name: 'commonName', value: 'localhost' }], {
    notAfterDate,
  });
  const port = await listening(createTlsServer({ key, cert }) as never);
  const certificate = (url: string) => publicCertificate(url, Date.now(), AbortSignal.timeout(1000));
  expect(await certificate(`https://localhost:${port}`)).toMatchObject({
    state: 'attention',
    detail: expect.stringMatching(/localhost is valid for (9|10) more days/),
  });
  expect((await certificate(desk.config.publicUrl)).state).toBe('off');
  const silent = await listening(createTcpServer(() => undefined) as never);
  await expect(certificate(`https://localhost:${silent}`)).rejects.toThrow('did not respond in time');
});
