const MIN_TYPED_CHARS = 3;

/**
 * What may be meant by a few words: those whose name has a word beginning with each of them, in the same order.
 *
 * @param typed at least three characters; fewer mean nothing
 * @example calledLike('first em', [{ name: 'First email' }, { name: 'Email after the first' }]) // the first one
 */
export function calledLike<T extends { name: string }>(typed: string, all: readonly T[]): T[] {
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
