import { copiesSentence, untrackedSentence } from '@kiraku/core/sentences';

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
