import { once } from 'node:events';
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { request as plainRequest, type IncomingMessage, type RequestOptions } from 'node:http';
import { request as tlsRequest } from 'node:https';
import { join } from 'node:path';
import { text } from 'node:stream/consumers';
import { setTimeout as pause } from 'node:timers/promises';
import { connect as plainConnect, createServer as createPlainServer, type AddressInfo } from 'node:net';
import { connect } from 'node:tls';
import { createTransport } from 'nodemailer';
import selfsigned from 'selfsigned';
import type { CheckupView } from '@kiraku/core/contract';
import { DAY, HOUR, MINUTE } from '@kiraku/core/time';
import { CheckupService } from '@kiraku/server/checkup/checkup.service';
import type { Config } from '@kiraku/server/environment/config';
import { Obtaining } from '@kiraku/server/tls/obtaining';
import { TlsFiles } from '@kiraku/server/tls/tlsFiles';
import { AcmeServer } from '@kiraku/standin/acme/acmeServer';
import { freePort } from '../freePort.js';
import { ACCOUNT, Desk, PASSPHRASE } from '../harness.js';
import { until } from '../until.js';

const NAME = 'track.reed.example';
const DESK_NAME = 'desk.reed.example';

let acme: AcmeServer;
let desk: Desk;

async function start(
  tls: (plainPort: number) => NonNullable<Config['tls']>,
  refusal: string | null = null,
  change: Partial<Config> = {},
): Promise<void> {
  const [publicPort, plainPort] = [await freePort(), await freePort()];
  acme = await AcmeServer.start({ days: 90, provePort: plainPort, proveTlsPort: publicPort });
  acme.refusal = refusal;
  desk = await Desk.start(9, {
    publicPort,
    publicUrl: `https://${NAME}:${publicPort}`,
    deskUrls: [`https://${DESK_NAME}`],
    deskProxies: ['127.0.0.1', '::1'],
    tls: tls(plainPort),
    ...change,
  });
  // The first try is over, whether somebody answered for the names already or not.
  await desk.get(Obtaining).wake();
}
const byAcme = (refusal?: string) =>
  start((plainPort) => ({ kind: 'acme', directory: acme.directory, plainPort }), refusal);
afterEach(async () => {
  await desk.stop();
  acme.stop();
});

/** Tries again. */
async function obtained(): Promise<void> {
  desk.clock.advance(HOUR + MINUTE);
  await desk.get(Obtaining).wake();
}

type Answer = Pick<IncomingMessage, 'headers'> & { status: number; body: string };
async function ask(make: typeof plainRequest, options: RequestOptions & object, body?: string): Promise<Answer> {
  const request = make({ host: '127.0.0.1', ...options });
  request.end(body);
  const [response] = (await once(request, 'response')) as [IncomingMessage];
  return { status: response.statusCode!, headers: response.headers, body: await text(response) };
}
const overTls = (name: string, path: string, options: RequestOptions = {}, body?: string) =>
  ask(
    tlsRequest as typeof plainRequest,
    {
      ...{ port: desk.config.publicPort, path, servername: name, ca: acme.authority.root, agent: false },
      ...options,
      headers: { host: `${name}:${desk.config.publicPort}`, ...options.headers },
    },
    body,
  );
const plainly = (name: string, path: string) =>
  ask(plainRequest, { port: desk.config.tls!.plainPort, path, headers: { host: name }, agent: false });
/** The serial number that is presented to whoever connects. */
async function presented(): Promise<string> {
  const socket = connect({
    host: '127.0.0.1',
    port: desk.config.publicPort,
    servername: NAME,
    rejectUnauthorized: false,
  });
  await once(socket, 'secureConnect');
  const { serialNumber } = socket.getPeerCertificate();
  socket.destroy();
  return serialNumber;
}
const isReady = () =>
  until(
    () =>
      overTls(NAME, '/health').then(
        ({ status }) => status === 200,
        () => false,
      ),
    { withinMs: 10_000 },
  );

test('a certificate is obtained for all names, and both sites are reached by theirs', async () => {
  await byAcme();
  await obtained();
  expect(acme.signed).toBe(1);
  await isReady();
  expect((await overTls(NAME, '/health')).body).toBe('{"status":"ok"}');
  // The public site has the public routes alone, by whatever name.
  for (const name of [NAME, 'else.reed.example'])
    expect((await overTls(NAME, '/api/session', { headers: { host: name } })).status).toBe(404);
  const session = await overTls(DESK_NAME, '/api/session');
  expect([session.status, JSON.parse(session.body)]).toEqual([200, expect.objectContaining({ setUp: true })]);
  const origin = `https://${DESK_NAME}:${desk.config.publicPort}`;
  const signedIn = await overTls(
    DESK_NAME,
    '/api/session',
    { method: 'POST', headers: { 'content-type': 'application/json', origin } },
    JSON.stringify({ passphrase: PASSPHRASE }),
  );
  expect(signedIn.status).toBe(200);
  expect(signedIn.headers['set-cookie']![0]).toMatch(/Secure/);
  // Whom it forwards for is said by the public site, and by nobody before it.
  const forwarded = { ...desk.headers, 'x-forwarded-for': '203.0.113.9', forwarded: 'for=203.0.113.9' };
  const judging = await overTls(DESK_NAME, '/api/settings/judging', { headers: forwarded });
  expect(JSON.parse(judging.body)).toMatchObject({ thisNetwork: expect.stringMatching(/^127\.0\.0\./) });
}, 60_000);

test('whoever comes without encryption is led to it by our names, and to nobody else’s', async () => {
  await byAcme();
  const led = await plainly(NAME, '/l/abc?x=1');
  expect([led.status, led.headers.location]).toEqual([308, `https://${NAME}:${desk.config.publicPort}/l/abc?x=1`]);
  expect((await plainly(DESK_NAME, '/')).headers.location).toContain(`https://${DESK_NAME}`);
  for (const [name, path] of [
    ['evil.example', '/'],
    [NAME, '/.well-known/acme-challenge/unknown-unknown-unknown'],
    [NAME, '/.well-known/acme-challenge/../../certificate.json'],
    [NAME, '/.well-known/acme-challenge/..%2F..%2Fkey'],
  ] as const)
    expect([path, (await plainly(name, path)).status]).toEqual([path, 404]);
  desk.get(TlsFiles).setProof('a-token-of-the-authority', 'a-token-of-the-authority.proof');
  expect((await plainly(NAME, '/.well-known/acme-challenge/a-token-of-the-authority')).body).toBe(
    'a-token-of-the-authority.proof',
  );
  expect(() => desk.get(TlsFiles).setProof('../../key', 'x')).toThrow(RangeError);
}, 60_000);

test('before set-up, too: it may be made under the certificate', async () => {
  await byAcme('Later');
  acme.refusal = null;
  desk.sqlite.prepare('delete from account').run();
  await obtained();
  expect([acme.signed, desk.get(Obtaining).problem()]).toEqual([1, null]);
}, 60_000);

test('keys are sealed, and no proof is left', async () => {
  await byAcme();
  await obtained();
  const folder = join(desk.config.dataDir, 'tls');
  expect(readdirSync(folder).sort()).toEqual(['account.key', 'certificate.json']);
  for (const name of readdirSync(folder)) expect(readFileSync(join(folder, name), 'utf8')).not.toContain('PRIVATE KEY');
}, 60_000);

test('it is renewed with a third of its time left, by the same account, and taken up while all goes on', async () => {
  await byAcme();
  await obtained();
  await isReady();
  const [first, account] = [await presented(), desk.get(TlsFiles).accountKey()];
  desk.clock.advance(55 * DAY);
  await desk.get(Obtaining).wake();
  expect(acme.signed).toBe(1);
  desk.clock.advance(6 * DAY);
  await desk.get(Obtaining).wake();
  expect(desk.get(Obtaining).problem()).toBeNull();
  expect(acme.signed).toBe(2);
  await until(async () => (await presented()) !== first, { withinMs: 10_000 });
  expect(desk.get(TlsFiles).accountKey()).toBe(account);
}, 60_000);

test('another name of the desk needs another certificate', async () => {
  await byAcme();
  await obtained();
  await desk.close();
  desk.config.deskUrls.push('https://phone.reed.example');
  await desk.open();
  await obtained();
  expect(acme.signed).toBe(2);
  const { cert } = desk.get(TlsFiles).read()!;
  expect(new (await import('node:crypto')).X509Certificate(cert).subjectAltName).toContain('phone.reed.example');
}, 60_000);

test('what the authority refuses is said in its words, and tried again ever more seldom', async () => {
  await byAcme('Too many certificates for this name this week');
  await obtained();
  await desk.json('POST', '/api/check-up');
  await desk.get(CheckupService).wake();
  const { checks } = await desk.json<CheckupView>('GET', '/api/check-up');
  expect(checks.find(({ name }) => name === 'certificate')).toMatchObject({
    state: 'failing',
    detail: expect.stringContaining('Too many certificates'),
  });
  acme.refusal = null;
  // The second failure in a row: three hours.
  desk.clock.advance(2 * HOUR);
  await desk.get(Obtaining).wake();
  expect(acme.signed).toBe(0);
  desk.clock.advance(HOUR + MINUTE);
  await desk.get(Obtaining).wake();
  expect(acme.signed).toBe(1);
}, 60_000);

test('own files are taken up when they change, and what cannot be used leaves the one before', async () => {
  const make = () => selfsigned.generate([{ name: 'commonName', value: NAME }], { keyType: 'ec', curve: 'P-256' });
  const first = await make();
  await start((plainPort) => ({ kind: 'files', certificate: '', key: '', plainPort }));
  const files = { certificate: join(desk.config.dataDir, 'own.crt'), key: join(desk.config.dataDir, 'own.key') };
  const put = ({ cert, private: key }: { cert: string; private: string }) => {
    writeFileSync(files.key, key);
    writeFileSync(files.certificate, cert);
  };
  put(first);
  await desk.publicSite.close();
  Object.assign(desk.config.tls!, files);
  await desk.openPublicSite();
  const before = await presented();
  put(await make());
  await until(async () => (await presented()) !== before, { withinMs: 10_000 });
  const second = await presented();
  writeFileSync(files.certificate, 'no certificate');
  await until(() => desk.problems.some((problem) => problem.startsWith('The certificate cannot be used')), {
    withinMs: 10_000,
  });
  expect(await presented()).toBe(second);
}, 60_000);

test('mail programs submit from anywhere under the same certificate: by STARTTLS, and by TLS from the start', async () => {
  const submissionTlsPort = await freePort();
  await start((plainPort) => ({ kind: 'acme', directory: acme.directory, plainPort }), null, { submissionTlsPort });
  await obtained();
  const { password } = await desk.json<{ password: string }>('POST', '/api/settings/submission/passwords', {
    name: 'Phone',
  });
  const programOn = (port: number, secure: boolean) =>
    createTransport({
      ...{ host: '127.0.0.1', port, secure, requireTLS: true },
      auth: { user: ACCOUNT.address, pass: password },
      tls: { ca: acme.authority.root, servername: NAME },
    });
  const message = { from: ACCOUNT.address, to: 'marit@lindqvist.example', text: 'From the road' };
  // What was made anew is taken up a little later.
  await until(
    () =>
      programOn(submissionTlsPort, true)
        .verify()
        .catch(() => false),
    { withinMs: 20_000 },
  );
  await programOn(submissionTlsPort, true).sendMail({ ...message, subject: 'By TLS' });
  await programOn(desk.config.submissionPort, false).sendMail({ ...message, subject: 'By STARTTLS' });
  const subjects = desk.sqlite.prepare('select subject from message order by id').pluck().all();
  expect(subjects).toEqual(['By TLS', 'By STARTTLS']);
  await expect(
    createTransport({ host: '127.0.0.1', port: submissionTlsPort, secure: true, tls: { servername: NAME } }).verify(),
  ).rejects.toThrow(/certificate/);
}, 60_000);

test('submission is looked at by its public name: the DNS, and whether programs would trust its certificate', async () => {
  const checked = async () => {
    await desk.json<CheckupView>('POST', '/api/check-up');
    await desk.get(CheckupService).wake();
    return (await desk.json<CheckupView>('GET', '/api/check-up')).checks.find(({ name }) => name === 'submission')!;
  };
  const everywhere = { submissionHost: '0.0.0.0', submissionTlsPort: await freePort() };
  await start((plainPort) => ({ kind: 'acme', directory: acme.directory, plainPort }), null, everywhere);
  expect(await checked()).toMatchObject({
    state: 'failing',
    detail: `There is no server named ${NAME}. Check the spelling.`,
  });
  await desk.stop();
  acme.stop();
  // A name of this machine: the certificate is of an authority that nobody knows.
  const publicUrl = `https://localhost:${await freePort()}`;
  await start((plainPort) => ({ kind: 'acme', directory: acme.directory, plainPort }), null, {
    ...everywhere,
    publicUrl,
  });
  const { state, detail, advice } = await checked();
  expect(state).toBe('failing');
  expect(detail).toMatch(/The connection to localhost could not be encrypted/);
  expect(advice).toContain('be open from outside');
});

/** A port that passes on what comes to another, a few bytes at a time. */
async function relayInPieces(port: number): Promise<number> {
  const relay = createPlainServer((from) => {
    relay.close();
    const to = plainConnect({ port, host: '127.0.0.1', noDelay: true });
    from.on('data', async (bytes: Buffer) => {
      from.pause();
      for (let at = 0; at < bytes.length; at += 100) {
        to.write(bytes.subarray(at, at + 100));
        await pause(5);
      }
      from.resume();
    });
    to.pipe(from);
    from.on('close', () => to.destroy());
    for (const socket of [from, to]) socket.on('error', () => undefined);
  }).listen(0, '127.0.0.1');
  await once(relay, 'listening');
  return (relay.address() as AddressInfo).port;
}

test('where port 80 is closed, names are proven at the port of TLS, and whoever comes meanwhile is served', async () => {
  await byAcme();
  await obtained();
  await isReady();
  const before = await presented();
  acme.options.provePort = await freePort();
  let isOver = false;
  let served = 0;
  const visitors = (async () => {
    while (!isOver) {
      expect((await overTls(NAME, '/health')).status).toBe(200);
      served += 1;
    }
  })();
  desk.clock.advance(70 * DAY);
  await desk.get(Obtaining).wake();
  isOver = true;
  await visitors;
  expect(desk.get(Obtaining).problem()).toBeNull();
  expect(acme.signed).toBe(2);
  expect(served).toBeGreaterThan(0);
  await until(async () => (await presented()) !== before);
  expect(readdirSync(join(desk.config.dataDir, 'tls')).sort()).toEqual(['account.key', 'certificate.json']);
});

test('while a name is being proven, the proof is for who asks for it alone, and nobody is waited for without end', async () => {
  await byAcme();
  await obtained();
  await isReady();
  const files = desk.get(TlsFiles);
  const { cert, private: key } = await selfsigned.generate([{ name: 'commonName', value: 'proof' }]);
  files.setTlsProof(NAME, { cert, key });
  const asked = async (servername: string, ALPNProtocols?: string[]) => {
    const socket = connect({
      ...{ host: '127.0.0.1', port: desk.config.publicPort, servername, rejectUnauthorized: false },
      ...(ALPNProtocols && { ALPNProtocols }),
    });
    const shown = await once(socket, 'secureConnect').then(
      () => [socket.getPeerCertificate().subject.CN, socket.alpnProtocol],
      () => 'refused',
    );
    socket.destroy();
    return shown;
  };
  expect(await asked(NAME, ['acme-tls/1'])).toEqual(['proof', 'acme-tls/1']);
  expect(await asked('other.example', ['acme-tls/1'])).toBe('refused');
  expect(await asked('../certificate', ['acme-tls/1'])).toBe('refused');
  expect((await asked(NAME))[0]).toBe(NAME);
  // The first words may come in pieces: those of new browsers do not fit into one packet.
  const inPieces = plainConnect(await relayInPieces(desk.config.publicPort), '127.0.0.1');
  const whole = connect({
    socket: inPieces,
    servername: NAME,
    rejectUnauthorized: false,
    ALPNProtocols: ['acme-tls/1'],
  });
  await once(whole, 'secureConnect');
  expect(whole.getPeerCertificate().subject.CN).toBe('proof');
  whole.destroy();
  const plain = plainConnect(desk.config.publicPort, '127.0.0.1');
  plain.write('GET / HTTP/1.1\r\n\r\n');
  plain.resume();
  await once(plain, 'close');
  // Who says nothing, or no TLS, is let go of.
  const silent = plainConnect(desk.config.publicPort, '127.0.0.1');
  silent.resume();
  await Promise.all([once(silent, 'close'), expect(overTls(NAME, '/health')).resolves.toMatchObject({ status: 200 })]);
  files.setTlsProof(NAME, null);
  expect((await asked(NAME, ['acme-tls/1'])) as unknown).not.toEqual(['proof', 'acme-tls/1']);
  expect(() => files.setTlsProof('../key', null)).toThrow(RangeError);
});
