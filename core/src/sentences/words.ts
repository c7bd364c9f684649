/** “opened once”, “opened 4 times”. */
export function times(verb: string, count: number): string {
  return count === 1 ? `${verb} once` : `${verb} ${count} times`;
}

/**
 * A name in quotation marks; its direction does not turn the text around it (Unicode UAX #9, isolates).
 *
 * @example quoted('price list') // “price list”
 */
export function quoted(name: string): string {
  return `“${isolated(name)}”`;
}

/** A strange text of unknown direction, isolated where it has characters that run from right to left. */
export function isolated(text: string): string {
  return RIGHT_TO_LEFT.test(text) ? `\u2068${text}\u2069` : text;
}

const RIGHT_TO_LEFT = /[\u0590-\u08ff\ufb1d-\ufdff\ufe70-\ufefc]/;

/** The name, or the address where no name is known. */
export function personText({ name, address }: { name: string; address: string }): string {
  return isolated(name || address);
}

/** “Marit Oakes”, “Marit Oakes and 3 more”; what is said of nobody. */
export function peopleText(people: readonly { name: string; address: string }[], nobody: string): string {
  const [first, ...others] = people;
  if (!first) return nobody;
  return others.length === 0 ? personText(first) : `${personText(first)} and ${others.length} more`;
}

/** Joins what there is: falsy parts are left out. */
export function joined(parts: readonly (string | false | null | undefined)[], separator = ' '): string {
  return parts.filter(Boolean).join(separator);
}

/**
 * So many names, and how many more there are.
 *
 * @example namesText(['Marit', 'Jun', 'Bea'], 2) // Marit, Jun and 1 more
 */
export function namesText(names: readonly string[], most: number): string {
  const more = names.length - most;
  return more > 0 ? `${names.slice(0, most).join(', ')} and ${more} more` : names.join(', ');
}
