const MIN_TYPED_CHARS = 3;

/**
 * Finds what is meant by the beginnings of its name’s words, in their order; words between may be left out.
 *
 * @param typed at least three characters; fewer mean nothing
 * @example matchingNames('first em', [{ name: 'First email' }, { name: 'Email after the first' }]) // the first one
 */
export function matchingNames<T extends { name: string }>(typed: string, all: readonly T[]): T[] {
  const words = wordsOf(typed);
  if (typed.trim().length < MIN_TYPED_CHARS || words.length === 0) return [];
  return all.filter(({ name }) => {
    let at = 0;
    for (const word of wordsOf(name)) if (at < words.length && word.startsWith(words[at]!)) at += 1;
    return at === words.length;
  });
}

function wordsOf(text: string): string[] {
  return text.toLowerCase().match(/[\p{L}\p{N}]+/gu) ?? [];
}
