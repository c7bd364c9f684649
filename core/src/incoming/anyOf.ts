/** What programs write, by language (BCP 47), in lower case. */
export type WordsByLanguage = Readonly<Record<string, readonly string[]>>;

/**
 * The source of a pattern that fits any word of some tables: the longest first, since the beginning of one may be another.
 *
 * @example new RegExp(`^(?:${anyOf({ en: ['re'], de: ['aw'] })}):`)
 */
export function anyOf(...tables: readonly WordsByLanguage[]): string {
  const words = new Set(tables.flatMap((table) => Object.values(table).flat()));
  return [...words]
    .sort((a, b) => b.length - a.length)
    .map((word) => word.replace(/[.*+?^${}()|[\]\\/]/g, '\\$&'))
    .join('|');
}
