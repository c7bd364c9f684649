import { planInstrumenting, type InstrumentPlan } from './links.js';

/** Charsets that switch by escape sequences (RFC 1468 and kin): between them, octets that look like ASCII are none. */
const SWITCHING = /^(iso-2022-|hz-gb-2312)/;
/* eslint no-control-regex: off -- these are about control characters */
/** What follows an escape other than those to ASCII and JIS X 0201 Roman; SO … SI; `~{ … ~}`. */
const SWITCHED = [/\x1b(?!\([BJ])[^\x1b]*/g, /\x0e[^\x0f]*/g, /~\{[\s\S]*?~\}/g];

/** UTF-16 and UTF-32 write no character as ASCII does: nothing can be instrumented into their octets. */
export function hasAsciiOctets(charset: string): boolean {
  return !/^(utf-?(16|32)|ucs-?[24]|iso-10646)/i.test(charset);
}

/** The mark at the beginning of a UTF-8 text (RFC 3629, section 6), as octets. It stays the first. */
const BYTE_ORDER_MARK = /^\xef\xbb\xbf/;

/** Octets as they can be parsed, of the same length: what only looks like ASCII is none. */
export function readableOctets(octets: string, charset: string): string {
  const unmarked = octets.replace(BYTE_ORDER_MARK, '   ');
  return SWITCHING.test(charset)
    ? SWITCHED.reduce((text, pattern) => text.replace(pattern, (run) => 'x'.repeat(run.length)), unmarked)
    : unmarked;
}

/**
 * The plan of a message given as octets, one to a character (a “latin1” string), in whatever charset they are: instrumenting
 * it changes the octets of the instrumented places and no other, so nothing is ever converted. The links' texts are octets
 * too: take them from the decoded message.
 *
 * @param charset its name in lower case; one for which {@link hasAsciiOctets} holds
 * @param readHref what the value of an address says, from its octets
 */
export function planOctets(octets: string, charset: string, readHref: (written: string) => string): InstrumentPlan {
  return { ...planInstrumenting(readableOctets(octets, charset), readHref), html: octets };
}
