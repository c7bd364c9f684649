import type { Finding } from '../contract/index.js';
import { sizeWords } from '../files/names.js';
import { counted, DAY, dateWords, durationWords, MINUTE, shortWords } from '../time/words.js';
import { attention, failing, fine } from './finding.js';

const GB = 1e9;
/** SQLite, a large upload and a backup need room; a disk that is full loses what happens. */
const DISK = { failingBytes: GB / 2, attentionBytes: 2 * GB, attentionShare: 0.05 };
/** A certificate is renewed a month before; who gets two weeks has still time for what must be done by hand. */
const CERTIFICATE_DAYS = { failing: 3, attention: 14 };
/** A night can be missed. */
const MAX_BACKUP_AGE_DAYS = 3;
/** What others say of the time may be on its way for as long. */
const MAX_CLOCK_OFFSET_MS = 2 * MINUTE;

/** @param bytes free, and of the whole disk */
export function diskFinding({ free, all }: { free: number; all: number }): Finding {
  const detail = `${sizeWords(free)} of ${sizeWords(all)} are free.`;
  if (free < DISK.failingBytes) return failing(detail, 'Make room: a full disk loses opens and clicks.');
  if (free < DISK.attentionBytes || free < DISK.attentionShare * all) return attention(detail, 'Make room soon.');
  return fine(detail);
}

/** Of the time that a certificate is valid, this much is left when it is renewed. */
const RENEW_WITH_LEFT = 1 / 3;

/** When a certificate is to be renewed: with a third of its time left, as authorities ask for. All in epoch milliseconds. */
export function renewalAt(validFrom: number, validTo: number): number {
  return validTo - (validTo - validFrom) * RENEW_WITH_LEFT;
}

/** How long a certificate is still valid. */
export function certificateFinding(name: string, validUntil: number, now: number, advice: string): Finding {
  const days = Math.floor((validUntil - now) / DAY);
  if (validUntil <= now) return failing(`The certificate of ${name} expired ${dateWords(validUntil, now)}.`, advice);
  const detail = `The certificate of ${name} is valid for ${counted(days, 'more day', 'more days')}.`;
  if (days < CERTIFICATE_DAYS.failing) return failing(detail, advice);
  return days < CERTIFICATE_DAYS.attention ? attention(detail, advice) : fine(detail);
}

/** @param offset how far this machine is ahead, in milliseconds; null where nobody could be asked */
export function clockFinding(offset: number): Finding {
  if (Math.abs(offset) <= MAX_CLOCK_OFFSET_MS) return fine('The clock of this machine is right.');
  return failing(
    `The clock of this machine is ${durationWords(Math.abs(offset))} ${offset > 0 ? 'ahead' : 'behind'}.`,
    'Let the system set it by the network (NTP).',
  );
}

/** @param lastAt when the newest one was made; null where there is none */
export function backupFinding(
  hasPassphrase: boolean,
  lastAt: number | null,
  lastError: string | null,
  now: number,
): Finding {
  const advice = 'Look at Settings, Backups.';
  if (!hasPassphrase) return attention('No backups are made.', 'Choose a passphrase for them in Settings, Backups.');
  if (lastError !== null) return failing(`The last backup failed: ${lastError}`, advice);
  if (lastAt === null) return attention('There is no backup yet.', advice);
  const detail = `The newest backup: ${shortWords(lastAt, now)}.`;
  return now - lastAt > MAX_BACKUP_AGE_DAYS * DAY ? failing(detail, advice) : fine(detail);
}
