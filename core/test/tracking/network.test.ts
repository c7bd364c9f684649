import fc from 'fast-check';
import { isInNetwork, networkOf, readNetwork } from '@kiraku/core/tracking';

test.each([
  ['192.0.2.7', '192.0.2.7'],
  ['::ffff:192.0.2.7', '192.0.2.7'],
  ['2001:db8:1:2:3:4:5:6', '2001:db8:1:2::/64'],
  ['2001:db8:1:2::', '2001:db8:1:2::/64'],
  ['nonsense', 'nonsense'],
])('%s stands in %s', (ip, network) => expect(networkOf(ip)).toBe(network));

test.each<[string, string, boolean]>([
  ['192.0.2.7', '192.0.2.7', true],
  ['192.0.2.8', '192.0.2.7', false],
  ['192.0.2.200', '192.0.2.128/25', true],
  ['192.0.2.100', '192.0.2.128/25', false],
  ['::ffff:192.0.2.200', '192.0.2.128/25', true],
  ['2001:db8::1', '2001:db8::/32', true],
  ['2001:db9::1', '2001:db8::/32', false],
  ['2001:db8::1', '0.0.0.0/0', false],
  ['nonsense', '0.0.0.0/0', false],
])('%s in %s: %s', (ip, network, expected) => {
  expect(isInNetwork(ip, [readNetwork(network)!])).toBe(expected);
});

test.each(['', '192.0.2', '192.0.2.1/33', '10', '2001:db8::/129', '192.0.2.0/', 'a.example', '192.0.2.1 x'])(
  '%j is no network',
  (text) => expect(readNetwork(text)).toBeNull(),
);

test('whatever its form, an address is in the network of its own', () => {
  fc.assert(
    fc.property(fc.oneof(fc.ipV4(), fc.ipV6()), (ip) => {
      expect(isInNetwork(ip, [readNetwork(ip)!])).toBe(true);
      expect(networkOf(networkOf(ip).replace('/64', ''))).toBe(networkOf(ip));
    }),
  );
});
