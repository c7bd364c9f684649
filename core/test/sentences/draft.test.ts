import {
  copiesSentence,
  leavingText,
  savedText,
  sendText,
  sharedFilesText,
  untrackedSentence,
} from '@kiraku/core/sentences';
import { appointmentWords, clockWords } from '@kiraku/core/time';

const NOW = Date.UTC(2026, 10, 23, 12);

const to = (name: string, address = 'somebody@company.example') => ({ name, address });
const MARIT = to('Marit Oakes');
const JUN = to('Jun Falk');

test.each<[name: string, recipients: { name: string; address: string }[], isTracked: boolean, text: string]>([
  ['nobody yet', [], true, 'Add a recipient.'],
  ['one', [MARIT], true, 'Marit gets a copy with its own image and links.'],
  ['one without a name', [to('', 'm@x.example')], true, 'm@x.example gets a copy with its own image and links.'],
  ['two', [MARIT, JUN], true, 'Marit, Jun each get their own copy, so you know who did what.'],
  ['three', [MARIT, JUN, MARIT], true, 'Marit, Jun, Marit each get their own copy, so you know who did what.'],
  [
    'very many',
    Array.from({ length: 250 }, () => JUN),
    true,
    'Jun, Jun, Jun and 247 more each get their own copy, so you know who did what.',
  ],
  ['from right to left', [to('דנה לוי')], true, '\u2068דנה\u2069 gets a copy with its own image and links.'],
  ['without tracking', [MARIT], false, 'It is sent without tracking image or links.'],
])('who gets which copy: %s', (_name, recipients, isTracked, text) => {
  expect(copiesSentence(recipients, isTracked)).toBe(text);
});

test('who is not tracked is named, one or several', () => {
  expect(untrackedSentence([MARIT])).toBe('Marit Oakes gets it without tracking, at their request.');
  expect(untrackedSentence([MARIT, to('', 'a@b.example')])).toBe(
    'Marit Oakes, a@b.example get it without tracking, at their request.',
  );
});

test.each([
  [0, 'Send', 'Sending 0 copies'],
  [1, 'Send', 'Sending'],
  [2, 'Send together', 'Sending 2 copies'],
  [250, 'Send together', 'Sending 250 copies'],
])('what is pressed for %d recipients, and what is said then', (count, button, title) => {
  expect(sendText(count)).toBe(button);
  expect(leavingText(count, null, NOW)).toBe(title);
});

test('a message that can still be recalled is being sent; one for later is scheduled', () => {
  expect(leavingText(1, NOW + 30_000, NOW)).toBe('Sending');
  expect(leavingText(1, NOW + 120_000, NOW)).toBe('Sending');
  expect(leavingText(3, NOW + 3_600_000, NOW)).toBe(`Scheduled for ${appointmentWords(NOW + 3_600_000)}`);
});

test('when a draft was saved', () => {
  expect(savedText(NOW)).toBe(`Saved ${clockWords(NOW)}`);
});

test('what another app has shared is named, very many files not each', () => {
  expect(sharedFilesText(['Felt.pdf'])).toBe('Shared by another app: “Felt.pdf”.');
  expect(sharedFilesText(['a', 'b', 'c', 'd', 'e'])).toBe('Shared by another app: “a”, “b”, “c” and 2 more.');
});
