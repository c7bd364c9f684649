/**
 * The core may use neither Node's nor the browser's libraries, but the URL classes of the WHATWG standard are part of
 * every JavaScript runtime it is meant for. Only what the core uses of it is declared.
 */
declare class URL {
  constructor(url: string, base?: string);
  readonly href: string;
  readonly protocol: string;
  readonly hostname: string;
  readonly pathname: string;
}

declare class URLSearchParams {
  constructor(init?: string | [string, string][]);
  [Symbol.iterator](): IterableIterator<[string, string]>;
  toString(): string;
}
