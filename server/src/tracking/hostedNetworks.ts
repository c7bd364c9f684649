import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { bisectRight } from 'd3-array';
import ipaddr from 'ipaddr.js';

const require = createRequire(import.meta.url);

/** Names by which operators of data centres say what they do. */
const HOSTING = /host(ing|er)|cloud|data ?cent|servers?\b|\bvps\b|\bcolo(cation)?\b|dedicated|amazon|google|microsoft/i;
/** Through these, people go out who hide their address. */
const PEOPLE = /cloudflare/i;
/** IPv6 is told apart by /64: the upper half of an address. */
const LOWER_HALF = 64n;

/** The first and last addresses of networks, ascending, none within another. */
interface Ranges<T> {
  from: T[];
  to: T[];
}

/** Networks of data centres, by the names of their owners (data of RouteViews and DB-IP, CC BY 4.0). */
export class HostedNetworks {
  private constructor(
    private readonly ipv4: Ranges<number>,
    private readonly ipv6: Ranges<bigint>,
  ) {}

  /** Takes a moment: some half a million rows are looked at. */
  static read(): HostedNetworks {
    return new HostedNetworks(
      rangesIn('@ip-location-db/asn/asn-ipv4-num.csv', Number),
      rangesIn('@ip-location-db/asn/asn-ipv6-num.csv', (text) => BigInt(text) >> LOWER_HALF),
    );
  }

  includes(ip: string): boolean {
    if (!ipaddr.isValid(ip)) return false;
    const address = ipaddr.process(ip);
    const bytes = Buffer.from(address.toByteArray());
    return address.kind() === 'ipv4'
      ? isWithin(this.ipv4, bytes.readUInt32BE())
      : isWithin(this.ipv6, bytes.readBigUInt64BE());
  }
}

function rangesIn<T>(file: string, read: (text: string) => T): Ranges<T> {
  const ranges: Ranges<T> = { from: [], to: [] };
  for (const line of readFileSync(require.resolve(file), 'latin1').split('\n')) {
    // “first,last,number,owner”: all but the owner are digits.
    if (!HOSTING.test(line) || PEOPLE.test(line)) continue;
    const [from, to] = line.split(',', 2) as [string, string];
    ranges.from.push(read(from));
    ranges.to.push(read(to));
  }
  return ranges;
}

function isWithin<T extends number | bigint>({ from, to }: Ranges<T>, address: T): boolean {
  const index = bisectRight(from as number[], address as number) - 1;
  return index >= 0 && address <= to[index]!;
}
