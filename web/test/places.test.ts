import { isFound, PLACES } from '../src/search/places.js';

const found = (words: string) =>
  PLACES.flatMap(({ places }) => places.filter((place) => isFound(place, words))).map(({ label }) => label);

test.each<[words: string, label: string]>([
  ['today', 'Today'],
  ['write', 'Write a message'],
  ['dark', 'Light or dark'],
  ['imap', 'Mailbox for replies'],
  ['quiet hours', 'Notifications'],
  ['import csv', 'Import people'],
  ['PASSWORD', 'Passphrase and sign-in'],
])('“%s” finds %s', (words, label) => expect(found(words)).toContain(label));

test('the beginning of each word is enough; nothing is found in the middle of one', () => {
  expect(found('set')).toContain('Settings');
  expect(found('ettings')).toEqual([]);
  expect(found('dark imap')).toEqual([]);
});

test('each place has a name of its own', () => {
  const all = found('');
  expect(new Set(all).size).toBe(all.length);
});
