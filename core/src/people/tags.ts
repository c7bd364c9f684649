/** What a person’s tags may hold. */
export const MAX_TAGS = 20;
export const MAX_TAG_CHARS = 40;

/**
 * Tags as they are kept: without blanks at their ends, each once in any case, and as one that is in use is written.
 *
 * @param tags as typed
 * @param inUse those that people have already
 * @example cleanTags([' café ', 'CAFÉ', 'new'], ['Café']) // ['Café', 'new']
 */
export function cleanTags(tags: readonly string[], inUse: readonly string[] = []): string[] {
  const spelling = new Map(inUse.map((tag) => [tag.toLowerCase(), tag]));
  const clean = new Map<string, string>();
  for (const typed of tags) {
    const tag = typed.normalize('NFC').replace(/\s+/g, ' ').trim();
    const key = tag.toLowerCase();
    if (tag !== '' && !clean.has(key)) clean.set(key, spelling.get(key) ?? tag);
  }
  return [...clean.values()];
}

/**
 * Reads the tags of one cell of a sheet; they are separated by commas or semicolons.
 *
 * @example tagsIn('café; Helsinki') // ['café', 'Helsinki']
 */
export function tagsIn(cell: string): string[] {
  return cleanTags(cell.split(/[,;]/));
}

/** What is wrong with tags, in words that say how to mend it; null where nothing is. */
export function tagsProblem(tags: readonly string[]): string | null {
  if (tags.length > MAX_TAGS) return `Give a person at most ${MAX_TAGS} tags.`;
  const long = tags.find((tag) => tag.length > MAX_TAG_CHARS);
  if (long !== undefined) return `A tag has at most ${MAX_TAG_CHARS} characters: shorten “${long.slice(0, 12)}…”.`;
  // They separate tags in a sheet.
  const separated = tags.find((tag) => /[,;]/.test(tag));
  return separated === undefined ? null : `A tag has no comma or semicolon: make two of “${separated}”.`;
}
