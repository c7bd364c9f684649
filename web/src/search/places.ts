import { PAGES } from '../shared/pages.js';

/** A place that can be gone to by its name; `words` are others by which one might look for it. */
interface Place {
  label: string;
  path: string;
  words: string;
}

const ACTIONS: Place[] = [
  { label: 'Write a message', path: '/write', words: 'new compose email mail send' },
  { label: 'Import people', path: '/people?import=1', words: 'csv sheet contacts address book' },
];

const SETTINGS: Place[] = [
  { label: 'Name and address', path: '/settings#settings-account', words: 'sender account outgoing smtp server' },
  { label: 'Signature', path: '/settings#settings-signatures', words: 'signature footer' },
  { label: 'Light or dark', path: '/settings#settings-light', words: 'theme dark mode colours' },
  { label: 'Time format', path: '/settings#settings-times', words: 'clock date 12 24 hours' },
  {
    label: 'Check-up',
    path: '/settings/check-up',
    words: 'check test health errors restart disk full spf dkim dmarc certificate clock version',
  },
  { label: 'Other mail apps', path: '/settings#settings-programs', words: 'submission smtp phone program' },
  { label: 'DKIM', path: '/settings#settings-dkim', words: 'dkim sign key dns' },
  { label: 'Tracking of new messages', path: '/settings#settings-writing', words: 'opens clicks default disclosure' },
  { label: 'Mailbox for replies', path: '/settings/mailbox', words: 'imap lmtp replies receipts incoming' },
  { label: 'Notifications', path: '/settings/notifications', words: 'push sound desktop quiet hours mute email' },
  { label: 'What counts', path: '/settings/counting', words: 'machines robots own devices networks rules judge' },
  { label: 'Files: conversion and limits', path: '/settings/files', words: 'office documents download view only' },
  {
    label: 'Earlier mail',
    path: '/settings/earlier-mail',
    words: 'import history sent mbox eml imap before past messages',
  },
  { label: 'Backups', path: '/settings/backups', words: 'backup restore move machine lost passphrase export' },
  { label: 'Passphrase and sign-in', path: '/settings/sign-in', words: 'password session sign out privacy retention' },
];

/** Everything that has a name of its own: what to do, the pages, the settings. */
export const PLACES: readonly { kind: string; places: readonly Place[] }[] = [
  { kind: 'Action', places: ACTIONS },
  { kind: 'Page', places: PAGES.map(({ label, path }) => ({ label, path, words: '' })) },
  { kind: 'Setting', places: SETTINGS },
];

/** Whether each of some words begins a word of the place. */
export function isFound({ label, words }: Pick<Place, 'label' | 'words'>, searched: string): boolean {
  const own = `${label} ${words}`.toLowerCase().split(/[\s:,]+/);
  return searched
    .toLowerCase()
    .split(/\s+/)
    .filter(Boolean)
    .every((part) => own.some((word) => word.startsWith(part)));
}
