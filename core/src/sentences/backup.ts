import type { BackupEntry, BackupView } from '../contract/index.js';
import { sizeWords } from '../files/names.js';
import { counted, shortWords } from '../time/words.js';

/** What a backup has: “1234 messages, 210 people, 5,120 events, 48 MB”. */
export function backupText({ messages, people, events, bytes }: BackupEntry): string {
  return [
    counted(messages, 'message'),
    counted(people, 'person', 'people'),
    counted(events, 'event'),
    sizeWords(bytes),
  ].join(', ');
}

/** How it stands with the backups, and when the next one is made. */
export function backupSentence(view: BackupView, now: number): string {
  if (!view.hasPassphrase) return 'There are no backups yet. Choose a passphrase, and one is made every night.';
  if (view.isUnderWay) return 'A backup is being made. You can go on working.';
  if (view.lastError) return `The last backup failed ${shortWords(view.lastError.at, now)}: ${view.lastError.text}`;
  return `A backup is made every night. The next one: ${shortWords(view.nextAt ?? now, now)}.`;
}
