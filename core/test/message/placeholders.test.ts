import fc from 'fast-check';
import { disclosureOf, escapeHtml, fillPlaceholders, OPT_OUT_PLACE, type Known } from '@kiraku/core/message';
import { planInstrumenting } from '@kiraku/core/tracking';

const known: Known = {
  recipient: { name: 'Marit <b> Oakes', address: 'marit@lindqvist.example' },
  company: '',
  sender: { name: 'Ines Valdaro', address: 'ines@tallowreed.example' },
};

test.each([
  ['Dear {{first name}},', 'Dear Marit,'],
  ['Dear {{ First Name | there }},', 'Dear Marit,'],
  ['{{company|your rooms}}', 'your rooms'],
  ['{{company|}}', ''],
  ['{{company}}', '{{company}}'],
  ['{{my name}}', 'Ines Valdaro'],
  ['{{shoe size}} {{constructor}} {{}} {{a', '{{shoe size}} {{constructor}} {{}} {{a'],
])('%s becomes %s', (text, filled) => {
  expect(fillPlaceholders(text, known)).toBe(filled);
});

test('a value is only a text in HTML', () => {
  expect(fillPlaceholders('<p>{{name}}</p>', known, escapeHtml)).toBe('<p>Marit &lt;b&gt; Oakes</p>');
});

test('a text without places stays as it is', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme' }), (text) => {
      fc.pre(!text.includes('{{'));
      expect(fillPlaceholders(text, known)).toBe(text);
    }),
  );
});

test('whatever the wording of the disclosure, it has one link, fits any charset, and shows every sign', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme', maxLength: 200 }), (wording) => {
      const { html, text } = disclosureOf(wording);
      expect(planInstrumenting(html).links.map(({ url }) => url)).toEqual([OPT_OUT_PLACE]);
      expect(html).toMatch(/^[\x20-\x7e]*$/);
      expect(text).toContain(OPT_OUT_PLACE);
    }),
  );
});

test('the words in brackets lead to the page', () => {
  const { html } = disclosureOf('I know. [No & thanks] Bye.');
  expect(planInstrumenting(html).links[0]!.text).toBe('No & thanks');
  expect(html).not.toContain('[');
});
