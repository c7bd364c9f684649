const CAUSES: readonly [pattern: RegExp, words: string][] = [
  [/altnames|does not match certificate/i, 'its certificate is for another name'],
  [/expired/i, 'its certificate has expired'],
  [/self.signed|SELF_SIGNED|unable to (verify|get)|UNABLE_TO/i, 'nobody vouches for its certificate'],
  [/wrong version|packet length|unknown protocol/i, 'it does not speak TLS on this port'],
];

/**
 * Why a connection could not be encrypted, in our own words: what a server says of itself is told to nobody who can name
 * any server.
 */
export function tlsWords(message: string): string {
  return CAUSES.find(([pattern]) => pattern.test(message))?.[1] ?? 'they did not agree on how';
}
