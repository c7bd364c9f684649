import fc from 'fast-check';
import { escapeHtml, fillPlaceholders, placeholdersIn, type Known } from '@kiraku/core/message';

const known = (more: Partial<Known> = {}): Known => ({
  recipient: { name: 'Marit Oakes', address: 'marit@orchard.example' },
  company: 'Orchard Street Café',
  sender: { name: 'Ines Valdaro', address: 'ines@tallowreed.example' },
  ...more,
});

test.each([
  ['Hello {{first name}}', known(), 'Hello Marit'],
  ['Hello {{ First Name | there }}', known({ recipient: undefined }), 'Hello  there '],
  ['{{rooms}} rooms', known({ columns: { rooms: ' 12 ' } }), '12 rooms'],
  ['{{rooms|some}} rooms', known({ columns: { rooms: '' } }), 'some rooms'],
  ['{{if company: at {company} | otherwise: at your place}}.', known(), ' at Orchard Street Café.'],
  ['{{if company: at {company} | otherwise: at your place}}.', known({ company: '' }), ' at your place.'],
  ['Yes{{if company: , {company}}}.', known({ company: '' }), 'Yes.'],
  ['{{if rooms: {rooms} rooms | otherwise: for {first name|you}}}', known({ columns: { rooms: '' } }), ' for Marit'],
])('%s is filled', (text, from, filled) => {
  expect(fillPlaceholders(text, from)).toBe(filled);
  expect(placeholdersIn(filled)).toEqual([]);
});

test.each([
  ['{{rooms}}', known()],
  ['{{company}}', known({ company: '' })],
  ['{{if rooms: many}}', known()],
  ['{{if company: at {company} for {rooms}}}', known()],
  ['{{', known()],
  ['Hello {{first <b>name}}', known()],
  ['}} {{first name}}', known()],
])('what cannot be filled of %s is found', (text, from) => {
  expect(placeholdersIn(fillPlaceholders(text, from)).length).toBeGreaterThan(0);
});

test('whatever is known is put in as text, whatever it says', () => {
  fc.assert(
    fc.property(fc.string(), fc.string(), (company, rooms) => {
      const text = '<p>{{company|none}} {{if rooms: {rooms} | otherwise: none}}</p>';
      const filled = fillPlaceholders(text, known({ company, columns: { rooms } }), escapeHtml);
      expect(filled.replace(/^<p>|<\/p>$/g, '')).not.toMatch(/[<>]/);
    }),
  );
});

test('a text of placeholders that never end is looked through at once', () => {
  const text = '{{if company: {company} '.repeat(20_000);
  const begun = performance.now();
  placeholdersIn(fillPlaceholders(text, known()));
  expect(performance.now() - begun).toBeLessThan(2000);
});
