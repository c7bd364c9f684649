import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import fc from 'fast-check';
import { Places } from '@kiraku/server/tracking/places';

const require = createRequire(import.meta.url);
const places = new Places();

/** First addresses of networks whose rows say something. */
function networks(file: string, says: RegExp, howMany: number): string[] {
  const lines = readFileSync(require.resolve(file), 'latin1').split('\n');
  const found = lines
    .filter((line) => says.test(line))
    .slice(0, howMany)
    .map((line) => line.split(',')[0]!);
  // Nothing found would prove nothing.
  expect(found.length).toBeGreaterThan(0);
  return found;
}

test.each(['127.0.0.1', '192.168.1.7', '10.0.0.1', '::1', 'fe80::1', '2001:db8::1', '', 'nonsense'])(
  '%s is nowhere',
  (ip) => expect(places.find(ip, 'city')).toEqual({ name: null, owner: null }),
);

test('addresses are told apart by what their owners call themselves, of both families', () => {
  for (const family of ['ipv4', 'ipv6']) {
    const file = `@ip-location-db/asn/asn-${family}.csv`;
    for (const ip of networks(file, /Hosting/, 20)) expect(places.find(ip, 'none').owner).toMatch(/Hosting[^"]*$/);
    for (const ip of networks(file, /,"?[A-Z]\w+ (University|Telecom)"?$/, 20))
      expect(places.find(ip, 'none').owner).toBeNull();
  }
});

test('a place is named no closer than is wanted', () => {
  for (const ip of networks('@ip-location-db/asn/asn-ipv4.csv', /Telecom/, 50)) {
    expect(places.find(ip, 'none').name).toBeNull();
    const [country, city] = [places.find(ip, 'country').name, places.find(ip, 'city').name];
    expect(country).not.toMatch(/,/);
    if (country !== null && city !== null) expect(city.endsWith(country)).toBe(true);
  }
});

test('any address whatever is answered', () => {
  fc.assert(
    fc.property(
      fc.oneof(fc.ipV4(), fc.ipV6()),
      fc.constantFrom('country' as const, 'city' as const),
      (ip, closeness) => {
        const { name, owner } = places.find(ip, closeness);
        expect(name === null || name.length > 1).toBe(true);
        expect(owner === null || owner.length > 0).toBe(true);
      },
    ),
    { numRuns: 300 },
  );
});
