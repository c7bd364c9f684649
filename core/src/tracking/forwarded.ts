import { isInNetwork, readNetwork, type Network } from './network.js';

/** What a request says of whom it was forwarded for: header values, where they came. */
export interface ForwardedHeaders {
  /** RFC 7239. */
  forwarded?: string;
  /** The older way, which most proxies still go. */
  xForwardedFor?: string;
}

/**
 * The address of the client behind proxies. Each proxy appends whom it got the request from, so they are read from the
 * end, as long as the one who says so is a proxy that was named: anybody else may have made it up.
 *
 * @param remote the address that the connection came from
 */
export function clientOf(remote: string, headers: ForwardedHeaders, proxies: readonly Network[]): string {
  const hops = headers.forwarded === undefined ? listed(headers.xForwardedFor) : forwardedFor(headers.forwarded);
  let client = remote;
  while (isInNetwork(client, proxies)) {
    const before = hops.pop();
    if (before === undefined) break;
    // “unknown”, or an obfuscated name (RFC 7239, section 6): as far as it can be known.
    const address = plainAddress(before);
    if (address === null) break;
    client = address;
  }
  return client;
}

function listed(value: string | undefined): string[] {
  return (value ?? '')
    .split(',')
    .map((part) => part.trim())
    .filter(Boolean);
}

/** The `for` of each element (RFC 7239, section 4), in their order. */
function forwardedFor(value: string): string[] {
  return [...value.matchAll(/(?:^|[;,])\s*for=("[^"]*"|[^;,\s]*)/gi)].map(([, node]) => node!.replace(/^"|"$/g, ''));
}

/** An address without brackets and port (RFC 7239, section 6). */
function plainAddress(node: string): string | null {
  const bare = /^\[([\da-f:.]+)\](?::\d+)?$/i.exec(node)?.[1] ?? node.replace(/^(\d+\.\d+\.\d+\.\d+):\d+$/, '$1');
  return readNetwork(bare) && !bare.includes('/') ? bare : null;
}
