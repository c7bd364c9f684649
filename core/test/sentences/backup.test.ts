import type { BackupView } from '@kiraku/core/contract';
import { backupSentence, backupText } from '@kiraku/core/sentences';
import { HOUR } from '@kiraku/core/time';

const NOW = Date.UTC(2026, 10, 4, 12, 30);
const VIEW: BackupView = {
  ...{ folder: '/srv/backup', hasPassphrase: true, isUnderWay: false, nextAt: NOW + HOUR, lastError: null },
  backups: [],
};

test('a backup says what it has', () => {
  const entry = { name: 'x', at: NOW, bytes: 48_000_000, messages: 1234, people: 1, events: 0 };
  expect(backupText(entry)).toBe('1234 messages, 1 person, 0 events, 48 MB');
});

test.each<[string, Partial<BackupView>]>([
  ['There are no backups yet. Choose a passphrase, and one is made every night.', { hasPassphrase: false }],
  ['A backup is being made. You can go on working.', { isUnderWay: true, lastError: { at: NOW, text: 'Full' } }],
  ['The last backup failed 12:30: The disk is full', { lastError: { at: NOW, text: 'The disk is full' } }],
  ['A backup is made every night. The next one: 13:30.', {}],
])('how it stands with them: %s', (sentence, change) => {
  expect(backupSentence({ ...VIEW, ...change }, NOW)).toBe(sentence);
});
