/** The fields of one block, by their names in lower case. */
export type Fields = ReadonlyMap<string, string>;

/**
 * Reads blocks of header fields (RFC 5322, section 2.2; folded lines by 2.2.3), set apart by blank lines, as reports
 * consist of them (RFC 3464, section 2.1). Lines that are none are passed over; of fields that come twice the first counts.
 */
export function readFields(text: string): Fields[] {
  return text
    .replace(/\r\n?/g, '\n')
    .split(/\n[ \t]*\n+/)
    .map(readBlock)
    .filter((fields) => fields.size > 0);
}

function readBlock(block: string): Fields {
  const fields = new Map<string, string>();
  for (const line of block.replace(/\n[ \t]+/g, ' ').split('\n')) {
    const match = /^([!-9;-~]{1,100})[ \t]*:[ \t]*(.*)$/.exec(line);
    const name = match?.[1]!.toLowerCase();
    if (name !== undefined && !fields.has(name)) fields.set(name, match![2]!.trim());
  }
  return fields;
}

/** The address in a field that names its type first, as in “rfc822; marit@company.example” (RFC 3464, section 2.1.2). */
export function typedAddress(value: string | undefined): string | null {
  if (value === undefined) return null;
  const address = value
    .replace(/^[\w-]+\s*;/, '')
    .replace(/^.*<|>.*$/g, '')
    .trim();
  return address.includes('@') ? address : null;
}
