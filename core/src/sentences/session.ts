import type { OpenSession, PasskeyView } from '../contract/index.js';
import { capital, shortWords, whenWords } from '../time/words.js';
import { deviceText } from './event.js';

/** In which browser a session is open. */
export function sessionDeviceText(session: OpenSession): string {
  return capital(deviceText(session) || 'an unknown browser');
}

/** Since when a session is open, and when it was used last. */
export function sessionTimesText({ createdAt, lastSeenAt, isThis }: OpenSession, now: number): string {
  const since = `signed in ${whenWords(createdAt, now)}`;
  return isThis ? `This browser, ${since}` : `${capital(since)}, last used ${whenWords(lastSeenAt, now)}`;
}

/** When an app password was used last. */
export function lastUsedText(lastUsedAt: number | null, now: number): string {
  return lastUsedAt === null ? 'never used' : `last used ${whenWords(lastUsedAt, now)}`;
}

/** Where a passkey is good, and when it was used: “at desk.company.example, last used 3 hours ago”. */
export function passkeyText({ host, lastUsedAt }: PasskeyView, now: number): string {
  return `at ${host}, ${lastUsedAt === null ? 'not used yet' : `last used ${shortWords(lastUsedAt, now)}`}`;
}
