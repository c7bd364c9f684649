const EVERYWHERE = new Set(['0.0.0.0', '::']);

/** Whether what listens on a host is reached from other machines as well, by any of its addresses. */
export function isEverywhere(host: string): boolean {
  return EVERYWHERE.has(host);
}

/** How what listens on a host is reached from this machine: listening on every address, on that of the loopback. */
export function reachedHost(host: string): string {
  return isEverywhere(host) ? '127.0.0.1' : host;
}

/** The same in an address, where one of IPv6 stands in brackets (RFC 3986, section 3.2.2). */
export function reachedUrl(host: string, port: number): string {
  const reached = reachedHost(host);
  return `http://${reached.includes(':') ? `[${reached}]` : reached}:${port}`;
}
