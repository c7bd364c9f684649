/**
 * The core may use neither Node's nor the browser's libraries, but the URL class of the WHATWG standard is part of
 * every JavaScript runtime it is meant for. Only what the core uses of it is declared.
 */
declare class URL {
  constructor(url: string, base?: string);
  readonly href: string;
  readonly protocol: string;
  readonly hostname: string;
  readonly pathname: string;
}
