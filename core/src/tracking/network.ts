import ipaddr from 'ipaddr.js';

type Address = ipaddr.IPv4 | ipaddr.IPv6;
/** A network as first address and length of its prefix (RFC 4632, RFC 4291). */
export type Network = [Address, number];

/** Without leading zeros, which some take for octal. */
const PLAIN_IPV4 = /^(?:(?:0|[1-9]\d{0,2})\.){3}(?:0|[1-9]\d{0,2})$/;
/** RFC 6177: an end site is given a /64 or more, of which its devices change addresses at will. */
const DEVICE_PREFIX = { ipv4: 32, ipv6: 64 };
/** In a data centre, what belongs together comes from neighbouring addresses: the least that is routed (RFC 7454). */
const HOSTED_PREFIX = { ipv4: 24, ipv6: 48 };

/**
 * The network that a hit belongs to, as others see it: an IPv4 address itself, and the /64 of an IPv6 address; of a data
 * centre, the /24 and the /48, since its machines change their addresses.
 */
export function networkOf(ip: string, hosted = false): string {
  // As sockets write nearly every address: nothing to take apart.
  if (PLAIN_IPV4.test(ip)) return hosted ? `${ip.slice(0, ip.lastIndexOf('.'))}.0/${HOSTED_PREFIX.ipv4}` : ip;
  const address = addressOf(ip);
  if (!address) return ip;
  const prefix = (hosted ? HOSTED_PREFIX : DEVICE_PREFIX)[address.kind()];
  if (prefix === DEVICE_PREFIX.ipv4) return address.toString();
  return `${(address instanceof ipaddr.IPv4 ? ipaddr.IPv4 : ipaddr.IPv6).networkAddressFromCIDR(`${address.toString()}/${prefix}`).toString()}/${prefix}`;
}

/** Reads an address, or a network in CIDR notation (RFC 4632, section 3.1). Null where it is neither. */
export function readNetwork(text: string): Network | null {
  const trimmed = text.trim();
  if (ipaddr.isValidCIDR(trimmed)) return ipaddr.parseCIDR(trimmed);
  // Shortened forms of IPv4 (“10.1”) would mean something else than they seem to.
  if (!trimmed.includes(':') && !ipaddr.IPv4.isValidFourPartDecimal(trimmed)) return null;
  const address = addressOf(trimmed);
  return address && [address, address instanceof ipaddr.IPv4 ? 32 : 128];
}

export function isInNetwork(ip: string, networks: readonly Network[]): boolean {
  if (networks.length === 0) return false;
  const address = addressOf(ip);
  if (!address) return false;
  return networks.some(([base, length]) => base.kind() === address.kind() && address.match(base, length));
}

/** Whether it is this very machine (RFC 1122, section 3.2.1.3; RFC 4291, section 2.5.3). */
export function isLoopback(network: string): boolean {
  return network.startsWith('127.') || network === LOOPBACK_IPV6;
}

/** An IPv4 client of a dual-stack socket shows as an IPv4-mapped address (RFC 4291, section 2.5.5.2): as IPv4. */
function addressOf(ip: string): Address | null {
  return ipaddr.isValid(ip) ? ipaddr.process(ip) : null;
}

const LOOPBACK_IPV6 = networkOf('::1');
