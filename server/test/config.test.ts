import { resolve } from 'node:path';
import { readConfig, tlsNames } from '@kiraku/server/environment/config';
import { reachedUrl } from '@kiraku/server/environment/reachedHost';

test('without anything set, the desk is private and the public site is public', () => {
  expect(readConfig({})).toEqual({
    dataDir: resolve('./data'),
    backupDir: resolve('./data-backup'),
    backupCommand: null,
    logFile: null,
    host: '127.0.0.1',
    port: 4600,
    publicHost: '0.0.0.0',
    publicPort: 4610,
    publicUrl: 'http://127.0.0.1:4610',
    submissionHost: '127.0.0.1',
    submissionPort: 4587,
    submissionTlsPort: null,
    lmtpHost: '127.0.0.1',
    lmtpPort: 4624,
    deskUrls: [],
    deskProxies: [],
    tls: null,
    isDemo: false,
  });
});

test('what is set holds, and the public address has no slash at its end', () => {
  const env = {
    KIRAKU_DATA: '/var/lib/kiraku',
    KIRAKU_BACKUP: '/mnt/backup',
    KIRAKU_LOG: '/var/log/kiraku.log',
    KIRAKU_BACKUP_COMMAND: 'sync-away',
    KIRAKU_HOST: '::1',
    KIRAKU_PORT: '5000',
    KIRAKU_PUBLIC_HOST: '192.0.2.1',
    KIRAKU_PUBLIC_PORT: '5010',
    KIRAKU_PUBLIC_URL: 'https://letters.firm.example/',
    KIRAKU_SUBMISSION_HOST: '0.0.0.0',
    KIRAKU_SUBMISSION_PORT: '5087',
    KIRAKU_SUBMISSION_TLS_PORT: '465',
    KIRAKU_LMTP_HOST: '192.0.2.2',
    KIRAKU_LMTP_PORT: '5024',
    KIRAKU_URL: 'https://desk.firm.example/, http://desk.lan:4600',
    KIRAKU_PROXY: '127.0.0.1, 10.0.0.0/24',
    KIRAKU_DEMO: '1',
  };
  expect(readConfig(env)).toEqual({
    dataDir: '/var/lib/kiraku',
    backupDir: '/mnt/backup',
    backupCommand: 'sync-away',
    logFile: '/var/log/kiraku.log',
    host: '::1',
    port: 5000,
    publicHost: '192.0.2.1',
    publicPort: 5010,
    publicUrl: 'https://letters.firm.example',
    submissionHost: '0.0.0.0',
    submissionPort: 5087,
    submissionTlsPort: 465,
    lmtpHost: '192.0.2.2',
    lmtpPort: 5024,
    deskUrls: ['https://desk.firm.example', 'http://desk.lan:4600'],
    deskProxies: ['127.0.0.1', '10.0.0.0/24'],
    tls: null,
    isDemo: true,
  });
});

test('the public address follows host and port where it is not set', () => {
  expect(readConfig({ KIRAKU_PUBLIC_HOST: '192.0.2.1', KIRAKU_PUBLIC_PORT: '80' }).publicUrl).toBe(
    'http://192.0.2.1:80',
  );
});

test.each([
  ['KIRAKU_PORT', 'eighty'],
  ['KIRAKU_PORT', '70000'],
  ['KIRAKU_PUBLIC_PORT', '-1'],
  ['KIRAKU_PUBLIC_PORT', '80.5'],
  ['KIRAKU_PUBLIC_URL', 'letters.firm.example'],
  ['KIRAKU_PUBLIC_URL', 'ftp://letters.firm.example'],
  ['KIRAKU_PUBLIC_URL', 'https://letters.firm.example/?x=1&y="'],
])('%s=%s is refused by its name, with what it must be', (name, value) => {
  expect(() => readConfig({ [name]: value })).toThrow(new RegExp(`^${name} is “.*”. It must be `));
});

describe('TLS', () => {
  const NAME = { KIRAKU_PUBLIC_URL: 'https://track.reed.example', KIRAKU_TLS: 'acme' };

  test('by an authority: the usual ports, and the desk trusts the public site about whom it forwards for', () => {
    expect(readConfig(NAME)).toMatchObject({
      ...{ publicPort: 443, deskProxies: ['127.0.0.1', '::1'] },
      tls: { kind: 'acme', directory: null, plainPort: 80 },
    });
    const change = {
      KIRAKU_ACME: 'https://acme.reed.example/directory',
      KIRAKU_PLAIN_PORT: '8080',
      KIRAKU_PUBLIC_PORT: '8443',
    };
    expect(readConfig({ ...NAME, ...change })).toMatchObject({
      publicPort: 8443,
      tls: { kind: 'acme', directory: 'https://acme.reed.example/directory', plainPort: 8080 },
    });
  });

  test('the names that a certificate is for', () => {
    const config = readConfig({
      ...NAME,
      KIRAKU_URL: 'https://desk.reed.example, http://desk.lan:4600, https://track.reed.example',
    });
    expect(tlsNames(config)).toEqual(['track.reed.example', 'desk.reed.example']);
  });

  test.each([
    [{ KIRAKU_TLS: 'yes' }, /KIRAKU_TLS is “yes”\. It must be acme or files\./],
    [{ KIRAKU_PUBLIC_URL: 'http://track.reed.example' }, /set KIRAKU_PUBLIC_URL to https/],
    [{ KIRAKU_TLS: 'files', KIRAKU_TLS_CERT: 'a.crt' }, /Set KIRAKU_TLS_CERT and KIRAKU_TLS_KEY/],
    [{ KIRAKU_ACME: 'acme' }, /KIRAKU_ACME is “acme”\. It must be/],
  ])('what cannot be meant is refused: %j', (change, words) => {
    expect(() => readConfig({ ...NAME, ...change })).toThrow(words);
  });
});

test('what listens everywhere is reached at the loopback, and IPv6 stands in brackets', () => {
  expect(['0.0.0.0', '::', '192.0.2.1', '::1'].map((host) => reachedUrl(host, 4600))).toEqual([
    ...['http://127.0.0.1:4600', 'http://127.0.0.1:4600', 'http://192.0.2.1:4600', 'http://[::1]:4600'],
  ]);
});
