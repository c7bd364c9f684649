import fc from 'fast-check';
import { ownWords } from '@kiraku/core/incoming';

test.each([
  ['Yes, on Thursday.\n\n> Dear Marit,\n> here', 'Yes, on Thursday.'],
  ['Yes.\n\n-----Original Message-----\nFrom: Ines', 'Yes.'],
  ['Ja.\n\n----- Ursprüngliche Nachricht -----\nLiebe', 'Ja.'],
  ['Yes.\n---------- Forwarded message ---------\nDear', 'Yes.'],
  ['Oui.\n-- Message d’origine --\nChère', 'Oui.'],
  ['好。\n------------------ 原始邮件 ------------------\n你好', '好。'],
  ['Yes.\n______________________________\nFrom: Ines', 'Yes.'],
  ['Yes.\nFrom: Ines <ines@tallowreed.example>\nSent: today', 'Yes.'],
  ['Ja.\nVon: Ines <ines@tallowreed.example>', 'Ja.'],
  ['Yes.\nOn 2 Nov 2026, Ines Valdaro wrote:\nDear', 'Yes.'],
  ['Ja.\nAm 2. Nov. 2026 schrieb Ines <ines@x.example>:\nLiebe', 'Ja.'],
  ['Oui.\nLe 2 nov. 2026, Ines a écrit :\nChère', 'Oui.'],
  ['Ja.\nDen 2 nov. 2026 skrev Ines:\nKära', 'Ja.'],
  ['Joo.\nInes kirjoitti 2.11.2026:\nHei', 'Joo.'],
  ['Sí.\nEl 2 nov 2026, Ines escribió:\nHola', 'Sí.'],
  ['Sì.\nIl 2 nov 2026 Ines ha scritto:\nCara', 'Sì.'],
  ['Tak.\nw dniu 2.11.2026 Ines napisała:\nDroga', 'Tak.'],
  ['Да.\n2 ноября 2026 г. Ines написала:\nПривет', 'Да.'],
  ['はい。\n2026年11月2日(月) 10:00 Ines <ines@x.example>:\n> こんにちは', 'はい。'],
  ['כן.\nבתאריך 2 בנוב׳ 2026, Ines <ines@x.example> כתב:\n> שלום', 'כן.'],
  ['Yes.\nOn 2 Nov 2026 at 10:00, Ines Valdaro <ines@x.example>\nwrote:\n> Dear', 'Yes.'],
  ['Yes.\nInes Valdaro wrote:\n> Dear', 'Yes.'],
  ['Ja.\n\nVon: Ines\nGesendet: Montag\nAn: Marit\nBetreff: Platten\n\nLiebe Marit', 'Ja.'],
  ['Sopii.\n\nLähettäjä: Ines\nLähetetty: ma\nAihe: Paneelit\n\nHei', 'Sopii.'],
  // Nothing of these is a quote.
  ['She wrote to me, and I said yes.', 'She wrote to me, and I said yes.'],
  ['She wrote:\nnothing.', 'She wrote:\nnothing.'],
  ['From: 3 May\nTo: 5 May\nDate: soon', 'From: 3 May\nTo: 5 May\nDate: soon'],
  ['We need:\n2 panels', 'We need:\n2 panels'],
  // Below, and between.
  ['> Does it suit?\n\nIt does.', 'It does.'],
  ['Ines Valdaro wrote:\n> Does it suit?\nIt does.\n> And the colour?\nToo.', 'It does.\nToo.'],
  ['> only\n> a quote', ''],
  ['', ''],
])('%j says “%s”', (text, own) => {
  expect(ownWords(text).own).toBe(own);
});

test.each([
  ['Yes.\n-- \nMarit Oakes', 'Yes.', 'Marit Oakes'],
  ['Yes.\n--\nMarit Oakes', 'Yes.', 'Marit Oakes'],
  ['Yes.\n\nSent from my telephone', 'Yes.', 'Sent from my telephone'],
  ['Ja.\nVon meinem Telefon gesendet\n\n> Liebe', 'Ja.', 'Von meinem Telefon gesendet'],
  ['Yes.\n_____________\nThis message is confidential.', 'Yes.', '_____________\nThis message is confidential.'],
  ['Sent from Oslo with the morning ferry, the panels have arrived at last, all twelve of them.', undefined, ''],
])('%j: the signature stands apart', (text, own, signature) => {
  expect(ownWords(text)).toMatchObject({ own: own ?? text, signature });
});

test('whatever somebody writes above a marked quote is theirs, and nothing of the quote is', () => {
  const line = fc.stringMatching(/^[a-z]{1,12}( [a-z]{1,12}){0,5}$/);
  fc.assert(
    fc.property(
      fc.array(line, { minLength: 1, maxLength: 6 }),
      fc.array(line, { minLength: 1, maxLength: 6 }),
      (own, quote) => {
        const text = [...own, '', 'On 2 Nov 2026 Ines Valdaro wrote:', ...quote.map((one) => `> ${one}`)].join('\n');
        expect(ownWords(text)).toEqual({ own: own.join('\n'), signature: '', hasQuote: true });
      },
    ),
  );
});

test('a hundred thousand lines are read in a moment, and a line of a million characters', () => {
  const many = 'On 2 Nov 2026 at 10\n'.repeat(100_000);
  expect(ownWords(many).own.split('\n').length).toBeLessThanOrEqual(20_000);
  expect(ownWords('-'.repeat(1_000_000)).hasQuote).toBe(false);
  expect(ownWords('a:'.repeat(500_000)).hasQuote).toBe(false);
});
