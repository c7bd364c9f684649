/** A field with its folded lines, up to and including its line end (RFC 5322, section 2.2). */
const FIELD = /^([!-9;-~]+)[ \t]*:[^\r\n]*(?:\r\n|\r|\n|$)(?:[ \t][^\r\n]*(?:\r\n|\r|\n|$))*/gm;

/** Whether a header block, as octets in a latin1 string, has a field by that name. */
export function hasField(header: string, name: string): boolean {
  return fieldCount(header, name) > 0;
}

export function fieldCount(header: string, name: string): number {
  return fieldsOf(header, name).length;
}

/** The unfolded value of the first field by that name; undefined where there is none. */
export function fieldValue(header: string, name: string): string | undefined {
  const [field] = fieldsOf(header, name);
  return field
    ?.slice(field.indexOf(':') + 1)
    .replace(/[\r\n]+(?=[ \t])/g, '')
    .trim();
}

/** The header block without the fields by these names; every other octet stays. */
export function withoutFields(header: string, names: readonly string[]): string {
  const unmatched = new Set(names.map((name) => name.toLowerCase()));
  return header.replace(FIELD, (field, name: string) => (unmatched.has(name.toLowerCase()) ? '' : field));
}

function fieldsOf(header: string, name: string): string[] {
  return [...header.matchAll(FIELD)]
    .filter(([, found]) => found!.toLowerCase() === name.toLowerCase())
    .map(([field]) => field);
}
