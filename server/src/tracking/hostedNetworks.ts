import { readFileSync } from 'node:fs';
import { bisectRight } from 'd3-array';
import ipaddr from 'ipaddr.js';

/** Written by the build (server/networks.mjs, which says how); the way there is the same from the bundle. */
const FILE = new URL('../hostedNetworks.bin', import.meta.url);
const HEADER_BYTES = 8;

/** The first and last addresses of networks, ascending, none within another. */
interface Ranges<T extends Uint32Array | BigUint64Array> {
  from: T;
  to: T;
}

/** Networks of data centres, by the names of their owners. */
export class HostedNetworks {
  private constructor(
    private readonly ipv6: Ranges<BigUint64Array>,
    private readonly ipv4: Ranges<Uint32Array>,
  ) {}

  static read(): HostedNetworks {
    // Of its own, so that it begins where numbers of any size may.
    const { buffer } = new Uint8Array(readFileSync(FILE));
    const [sixes, fours] = new Uint32Array(buffer, 0, 2) as unknown as [number, number];
    const six = (index: number) => new BigUint64Array(buffer, HEADER_BYTES + index * sixes * 8, sixes);
    const four = (index: number) => new Uint32Array(buffer, HEADER_BYTES + sixes * 16 + index * fours * 4, fours);
    return new HostedNetworks({ from: six(0), to: six(1) }, { from: four(0), to: four(1) });
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

function isWithin<T extends Uint32Array | BigUint64Array>({ from, to }: Ranges<T>, address: T[number]): boolean {
  const index = bisectRight(from as ArrayLike<number>, address as number) - 1;
  return index >= 0 && address <= to[index]!;
}
