import { MY_ZONE } from '../shared/time/zone.js';

/** A moment in words that are read as that very moment. */
export function wordsOf(at: number): string {
  const parts = { day: 'numeric', month: 'long', year: 'numeric', hour: '2-digit', minute: '2-digit' } as const;
  return new Intl.DateTimeFormat('en-GB', { ...parts, timeZone: MY_ZONE }).format(at).replace(' at ', ' ');
}
