import { clientOf, readNetwork } from '@kiraku/core/tracking';

const PROXIES = ['127.0.0.1', '10.0.0.0/8', '2001:db8:ffff::/48'].map((text) => readNetwork(text)!);

test.each<[string, string, Parameters<typeof clientOf>[1], string]>([
  ['nobody is named', '192.0.2.7', {}, '192.0.2.7'],
  ['a stranger’s word', '192.0.2.7', { xForwardedFor: '203.0.113.1' }, '192.0.2.7'],
  ['a proxy’s word', '127.0.0.1', { xForwardedFor: '203.0.113.1' }, '203.0.113.1'],
  ['what the client made up', '127.0.0.1', { xForwardedFor: '198.51.100.9, 203.0.113.1' }, '203.0.113.1'],
  ['two proxies', '127.0.0.1', { xForwardedFor: '203.0.113.1, 10.1.2.3' }, '203.0.113.1'],
  ['a proxy that says nothing', '127.0.0.1', {}, '127.0.0.1'],
  ['nonsense', '127.0.0.1', { xForwardedFor: '"><script>' }, '127.0.0.1'],
  ['a port', '127.0.0.1', { xForwardedFor: '203.0.113.1:4711' }, '203.0.113.1'],
  ['the standard header', '127.0.0.1', { forwarded: 'for=203.0.113.1;proto=https;by=10.0.0.1' }, '203.0.113.1'],
  ['IPv6', '127.0.0.1', { forwarded: 'For="[2001:db8::17]:4711"' }, '2001:db8::17'],
  ['several elements', '127.0.0.1', { forwarded: 'for=198.51.100.9, for=203.0.113.1, for=10.9.9.9' }, '203.0.113.1'],
  ['unknown', '127.0.0.1', { forwarded: 'for=unknown' }, '127.0.0.1'],
  ['an obfuscated name', '127.0.0.1', { forwarded: 'for=203.0.113.1, for=_hidden' }, '127.0.0.1'],
  [
    'the standard over the older',
    '127.0.0.1',
    { forwarded: 'for=203.0.113.1', xForwardedFor: '192.0.2.9' },
    '203.0.113.1',
  ],
])('%s', (_name, remote, headers, client) => expect(clientOf(remote, headers, PROXIES)).toBe(client));
