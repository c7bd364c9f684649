import { createSocket, type Socket as UdpSocket } from 'node:dgram';
import { createServer } from 'node:net';
import { once } from 'node:events';
import type { DkimView, Trial } from '@kiraku/core/contract';
import { tryPort } from '@kiraku/server/delivery/portTrial';
import { tryDkim } from '@kiraku/server/settings/dkimTrial';
import { desk, useDesk } from './harness.js';

useDesk('all');

describe('the ports for other mail programs and servers', () => {
  test('answer the test', async () => {
    expect(await desk.json<Trial>('POST', '/api/settings/submission/try')).toEqual({
      ok: true,
      words: `It works: port ${desk.config.submissionPort} responds, and the connection is encrypted.`,
    });
    expect(await desk.json<Trial>('POST', '/api/settings/mailbox/lmtp/try')).toEqual({
      ok: true,
      words: `It works: port ${desk.config.lmtpPort} responds.`,
    });
  });

  test('a port that is closed, taken, or not for mail is said to be so', async () => {
    expect(await tryPort('127.0.0.1', 0)).toEqual({
      ok: false,
      words: 'The port could not be opened: another program uses it.',
    });
    const other = createServer((socket) => socket.end('HTTP/1.1 400 Bad Request\r\n\r\n')).listen(0, '127.0.0.1');
    await once(other, 'listening');
    const { port } = other.address() as { port: number };
    const refused = await tryPort('0.0.0.0', port);
    expect(refused).toMatchObject({ ok: false, words: expect.stringContaining(`Port ${port} does not respond`) });
    other.close();
    await once(other, 'close');
    expect(await tryPort('127.0.0.1', port)).toMatchObject({ ok: false });
  });
});

describe('the record of a signature', () => {
  const VIEW: DkimView = { domain: 'reed.example', selector: 'kiraku', record: 'v=DKIM1; k=rsa; p=MIIabc' };
  let dns: UdpSocket;
  /** What the name server says of any name: its TXT records, each in parts; undefined where it knows none. */
  let records: string[][] | undefined;
  const server = () => `127.0.0.1:${dns.address().port}`;

  beforeAll(async () => {
    dns = createSocket('udp4');
    dns.on('message', (query, { port, address }) => dns.send(responseTo(query, records), port, address));
    dns.bind(0, '127.0.0.1');
    await once(dns, 'listening');
  });
  afterAll(() => void dns.close());

  test.each<[name: string, published: string[][] | undefined, ok: boolean, words: RegExp]>([
    ['published', [['v=DKIM1; k=rsa; p=MIIabc']], true, /^It works/],
    ['published in parts, beside another', [['v=spf1 -all'], ['v=DKIM1; k=rsa; p=MII', 'abc']], true, /^It works/],
    ['published with blanks in its key', [['p=MII abc; k=rsa']], true, /^It works/],
    ['an older one', [['v=DKIM1; k=rsa; p=MIIold']], false, /another record at kiraku\._domainkey\.reed\.example/],
    ['revoked', [['v=DKIM1; p=']], false, /another record/],
    ['missing', undefined, false, /no record at kiraku\._domainkey\.reed\.example yet/],
    ['not there, but its name is', [], false, /no record/],
  ])('%s', async (_name, published, ok, words) => {
    records = published;
    expect(await tryDkim(VIEW, [server()])).toEqual({ ok, words: expect.stringMatching(words) });
  });

  test('is not asked for where nothing is signed', async () => {
    expect((await desk.call('POST', '/api/settings/dkim/try')).status).toBe(404);
  });
});

/** A response of a name server to a query for TXT records (RFC 1035, section 4). */
function responseTo(query: Buffer, records: string[][] | undefined): Buffer {
  const questionEnd = query.indexOf(0, 12) + 5;
  const header = Buffer.alloc(12);
  query.copy(header, 0, 0, 2);
  // Response, recursion available; 3: there is no such name.
  header.writeUInt16BE(0x8180 | (records ? 0 : 3), 2);
  header.writeUInt16BE(1, 4);
  header.writeUInt16BE(records?.length ?? 0, 6);
  const answers = (records ?? []).map((parts) => {
    const data = Buffer.concat(parts.map((part) => Buffer.from([part.length, ...Buffer.from(part)])));
    const answer = Buffer.alloc(12);
    answer.writeUInt16BE(0xc00c, 0);
    answer.writeUInt16BE(16, 2);
    answer.writeUInt16BE(1, 4);
    answer.writeUInt16BE(data.length, 10);
    return Buffer.concat([answer, data]);
  });
  return Buffer.concat([header, query.subarray(12, questionEnd), ...answers]);
}
