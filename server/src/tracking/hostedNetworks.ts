import { readFileSync } from 'node:fs';
import { bisectRight } from 'd3-array';
import ipaddr from 'ipaddr.js';

/** Written by the build (server/networks.mjs, which says how); the way there is the same from the bundle. */
const FILE = new URL('../hostedNetworks.bin', import.meta.url);
const HEADER_BYTES = 8;

/** The first and last addresses of networks, ascending, none within another, and whose they are. */
interface Ranges<T extends Uint32Array | BigUint64Array> {
  from: T;
  to: T;
  /** Places in the list of owners. */
  owner: Uint32Array;
}

/** Networks of data centres, by the names of their owners. */
export class HostedNetworks {
  private constructor(
    private readonly ipv6: Ranges<BigUint64Array>,
    private readonly ipv4: Ranges<Uint32Array>,
    private readonly owners: readonly string[],
  ) {}

  static read(): HostedNetworks {
    // Of its own, so that it begins where numbers of any size may.
    const { buffer } = new Uint8Array(readFileSync(FILE));
    const [sixes, fours] = new Uint32Array(buffer, 0, 2) as unknown as [number, number];
    const six = (index: number) => new BigUint64Array(buffer, HEADER_BYTES + index * sixes * 8, sixes);
    const four = (index: number) => new Uint32Array(buffer, HEADER_BYTES + sixes * 16 + index * fours * 4, fours);
    const ownersAt = HEADER_BYTES + sixes * 16 + fours * 8;
    const owner = (before: number, number: number) => new Uint32Array(buffer, ownersAt + before * 4, number);
    const names = Buffer.from(buffer, ownersAt + (sixes + fours) * 4).toString();
    return new HostedNetworks(
      { from: six(0), to: six(1), owner: owner(0, sixes) },
      { from: four(0), to: four(1), owner: owner(sixes, fours) },
      JSON.parse(names) as string[],
    );
  }

  /** The name of the data centre’s operator that an address belongs to; null where it belongs to none. */
  ownerOf(ip: string): string | null {
    if (!ipaddr.isValid(ip)) return null;
    const address = ipaddr.process(ip);
    const bytes = Buffer.from(address.toByteArray());
    const owner =
      address.kind() === 'ipv4'
        ? ownerIn(this.ipv4, bytes.readUInt32BE())
        : ownerIn(this.ipv6, bytes.readBigUInt64BE());
    return owner === null ? null : this.owners[owner]!;
  }
}

function ownerIn<T extends Uint32Array | BigUint64Array>({ from, to, owner }: Ranges<T>, address: T[number]) {
  const index = bisectRight(from as ArrayLike<number>, address as number) - 1;
  return index >= 0 && address <= to[index]! ? owner[index]! : null;
}
