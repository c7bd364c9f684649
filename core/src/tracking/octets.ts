import { planLetter, type LetterPlan } from './links.js';

/** Charsets that switch by escape sequences (RFC 1468 and kin): between them, octets that look like ASCII are none. */
const SWITCHING = /^(iso-2022-|hz-gb-2312)/;
/* eslint no-control-regex: off -- these are about control characters */
/** What follows an escape other than those to ASCII and JIS X 0201 Roman; SO … SI; `~{ … ~}`. */
const SWITCHED = [/\x1b(?!\([BJ])[^\x1b]*/g, /\x0e[^\x0f]*/g, /~\{[\s\S]*?~\}/g];

/** UTF-16 and UTF-32 write no character as ASCII does: nothing can be woven into their octets. */
export function hasAsciiOctets(charset: string): boolean {
  return !/^(utf-?(16|32)|ucs-?[24]|iso-10646)/i.test(charset);
}

/**
 * The plan of a letter given as octets, one to a character (a “latin1” string), in whatever charset they are: weaving
 * it changes the octets of the woven places and no other, so nothing is ever converted. The links' texts and addresses
 * are octets too: take them from the decoded letter.
 *
 * @param charset its name in lower case; one for which {@link hasAsciiOctets} holds
 */
export function planOctets(octets: string, charset: string): LetterPlan {
  const readable = SWITCHING.test(charset)
    ? SWITCHED.reduce((text, pattern) => text.replace(pattern, (run) => 'x'.repeat(run.length)), octets)
    : octets;
  return { ...planLetter(readable), html: octets };
}
