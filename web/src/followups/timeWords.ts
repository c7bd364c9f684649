import { exactWords } from '@kiraku/core/time';
import { MY_ZONE } from '../shared/time/zone.js';

/** To the minute: “Thu, 26 Nov 2026, 09:00”. */
export function timeWords(at: number): string {
  return exactWords(at).replace(/:\d\d(?=\D*$)/, '');
}

/** A moment in words that are read as that very moment. */
export function wordsOf(at: number): string {
  const parts = { day: 'numeric', month: 'long', year: 'numeric', hour: '2-digit', minute: '2-digit' } as const;
  return new Intl.DateTimeFormat('en-GB', { ...parts, timeZone: MY_ZONE }).format(at).replace(' at ', ' ');
}
