import { createServer } from 'node:net';
import { once } from 'node:events';
import type { DkimView, Trial } from '@kiraku/core/contract';
import { tryPort } from '@kiraku/server/delivery/portTrial';
import { tryDkim } from '@kiraku/server/settings/dkimTrial';
import { desk, useDesk } from './harness.js';
import { NameServer } from './nameServer.js';

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
  let dns: NameServer;
  beforeAll(async () => (dns = await NameServer.start()));
  afterAll(() => dns.stop());

  test.each<[name: string, published: string[][] | undefined, ok: boolean, words: RegExp]>([
    ['published', [['v=DKIM1; k=rsa; p=MIIabc']], true, /^It works/],
    ['published in parts, beside another', [['v=spf1 -all'], ['v=DKIM1; k=rsa; p=MII', 'abc']], true, /^It works/],
    ['published with blanks in its key', [['p=MII abc; k=rsa']], true, /^It works/],
    ['an older one', [['v=DKIM1; k=rsa; p=MIIold']], false, /another record at kiraku\._domainkey\.reed\.example/],
    ['revoked', [['v=DKIM1; p=']], false, /another record/],
    ['missing', undefined, false, /no record at kiraku\._domainkey\.reed\.example yet/],
    ['not there, but its name is', [], false, /no record/],
  ])('%s', async (_name, published, ok, words) => {
    dns.records.clear();
    if (published) dns.records.set('kiraku._domainkey.reed.example', published);
    expect(await tryDkim(VIEW, [dns.address])).toEqual({ ok, words: expect.stringMatching(words) });
  });

  test('is not asked for where nothing is signed', async () => {
    expect((await desk.call('POST', '/api/settings/dkim/try')).status).toBe(404);
  });
});
