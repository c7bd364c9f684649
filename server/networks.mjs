/**
 * Picks the networks of data centres out of the list of all networks and their owners (data of RouteViews and DB-IP,
 * CC BY 4.0), and writes down where they begin and end: half a million rows need not be looked at with each start.
 *
 * The file: how many there are of IPv6 and of IPv4 (two 32-bit numbers), then of each the first and the last addresses,
 * ascending: 64 bits of IPv6, which is told apart by /64, and 32 of IPv4, in the order of octets of this machine; then of
 * each the owner’s place in the list of owners (32 bits); then that list, in JSON.
 */
import { readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';

const require = createRequire(import.meta.url);

/** Names by which operators of data centres say what they do. */
const HOSTING = /host(ing|er)|cloud|data ?cent|servers?\b|\bvps\b|\bcolo(cation)?\b|dedicated|amazon|google|microsoft/i;
/** Through these, people go out who hide their address. */
const PEOPLE = /cloudflare/i;

const owners = new Map();

function rangesIn(file, read) {
  const ranges = { from: [], to: [], owner: [] };
  for (const line of readFileSync(require.resolve(`@ip-location-db/asn/${file}`), 'latin1').split('\n')) {
    // “first,last,number,owner”: all but the owner are digits.
    if (!HOSTING.test(line) || PEOPLE.test(line)) continue;
    const [, from, to, name] = /^(\d+),(\d+),\d+,"?(.*?)"?$/.exec(line);
    if (!owners.has(name)) owners.set(name, owners.size);
    ranges.from.push(read(from));
    ranges.to.push(read(to));
    ranges.owner.push(owners.get(name));
  }
  return ranges;
}

const ipv6 = rangesIn('asn-ipv6-num.csv', (text) => BigInt(text) >> 64n);
const ipv4 = rangesIn('asn-ipv4-num.csv', Number);
const parts = [
  Uint32Array.of(ipv6.from.length, ipv4.from.length),
  BigUint64Array.from(ipv6.from),
  BigUint64Array.from(ipv6.to),
  Uint32Array.from(ipv4.from),
  Uint32Array.from(ipv4.to),
  Uint32Array.from(ipv6.owner),
  Uint32Array.from(ipv4.owner),
  Buffer.from(JSON.stringify([...owners.keys()])),
];
writeFileSync(
  new URL('dist/hostedNetworks.bin', import.meta.url),
  Buffer.concat(parts.map((part) => Buffer.from(part.buffer, part.byteOffset, part.byteLength))),
);
