import type { Tone } from '@kiraku/core/sentences';

/** The class of words in a tone. */
export function toneClass(tone: Tone): string {
  return tone === 'plain' ? 'soft' : `tone-${tone}`;
}
