/** Deeper than anything that the API takes. */
export const MAX_JSON_DEPTH = 16;
/** The longest lists are rows of a sheet, which come as text. */
export const MAX_JSON_KEYS = 10_000;
export const MAX_JSON_VALUES = 50_000;

const QUOTE = 0x22;
const BACKSLASH = 0x5c;
const COMMA = 0x2c;
const COLON = 0x3a;
const OPENING = new Set([0x5b, 0x7b]);
const CLOSING = new Set([0x5d, 0x7d]);

/**
 * Says why JSON (RFC 8259) is not to be parsed and checked, or null where it may be: what checks it takes more than linear
 * time of very many keys, and does not come back from very deep nesting. One pass over the octets.
 */
export function jsonShapeProblem(octets: Uint8Array): string | null {
  let depth = 0;
  let keys = 0;
  let values = 0;
  let isString = false;
  for (let at = 0; at < octets.length; at += 1) {
    const octet = octets[at]!;
    if (isString) {
      if (octet === BACKSLASH) at += 1;
      else if (octet === QUOTE) isString = false;
    } else if (octet === QUOTE) isString = true;
    else if (octet === COLON) keys += 1;
    else if (octet === COMMA) values += 1;
    else if (CLOSING.has(octet)) depth -= 1;
    else if (OPENING.has(octet)) {
      depth += 1;
      if (depth > MAX_JSON_DEPTH) return `The JSON is nested in more than ${MAX_JSON_DEPTH} levels.`;
    }
    if (keys > MAX_JSON_KEYS) return `The JSON has more than ${MAX_JSON_KEYS} keys.`;
    if (values > MAX_JSON_VALUES) return `The JSON has more than ${MAX_JSON_VALUES} values.`;
  }
  return null;
}
