import { MATCH_BEGINS, MATCH_ENDS } from '../contract/list.js';

/** Words shown before the first match, and from it on. */
const BEFORE = 5;
const FROM = 14;

/** The words that somebody searches for, as they are compared: without accents, in lower case. */
export function searchedWords(text: string): string[] {
  return (text.match(/[\p{L}\p{N}\p{M}]+/gu) ?? []).map(folded);
}

/**
 * The words around the first match in the first text that has one, each match marked. A word matches by its beginning,
 * and accents make no difference, as in the index that found it.
 *
 * @returns an empty text where nothing matches
 */
export function snippetOf(texts: readonly string[], words: string): string {
  const searched = searchedWords(words);
  for (const text of texts) {
    const parts = text.split(/\s+/).filter(Boolean);
    const first = parts.findIndex((part) => matches(part, searched));
    if (first === -1) continue;
    const begin = Math.max(0, first - BEFORE);
    const shown = parts.slice(begin, first + FROM).map((part) => (matches(part, searched) ? marked(part) : part));
    return `${begin > 0 ? '… ' : ''}${shown.join(' ')}${first + FROM < parts.length ? ' …' : ''}`;
  }
  return '';
}

function matches(part: string, searched: readonly string[]): boolean {
  return searchedWords(part).some((word) => searched.some((wanted) => word.startsWith(wanted)));
}

function marked(part: string): string {
  return MATCH_BEGINS + part + MATCH_ENDS;
}

function folded(word: string): string {
  return word.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase();
}
