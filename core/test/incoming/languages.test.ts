import { readFileSync } from 'node:fs';
import { automaticOf, ownWords, readSubject, subjectRoot } from '@kiraku/core/incoming';
import { received } from './mail.js';

/** What programs write in the languages of the world. A word that is missed in real mail is added here, and then there. */
interface Languages {
  replyPrefixes: Record<string, string[]>;
  automaticReplies: Record<string, string[]>;
  absences: Record<string, string[]>;
  calendarReplies: Record<string, string[]>;
  wrote: Record<string, string[]>;
  /** The names of a quoted message’s sender, date, recipients and subject. */
  quotedFields: Record<string, [from: string[], date: string[], to: string[], subject: string[]]>;
  absenceSentences: Record<string, string>;
  sentFrom: string[];
}

const languages = JSON.parse(readFileSync(new URL('./languages.json', import.meta.url), 'utf8')) as Languages;
/** Each word with its language, so that a failure names them. */
const words = (table: Record<string, string[]>) =>
  Object.entries(table).flatMap(([language, list]) => list.map((word): [string, string] => [language, word]));

/** Where capitals lead back to the same word: those of Turkish and German do not always. */
const inCapitals = (word: string) => (word.toUpperCase().toLowerCase() === word ? word.toUpperCase() : word);

test('there are thirty and more of them, and of absences twenty and more', () => {
  for (const table of [languages.replyPrefixes, languages.wrote, languages.automaticReplies])
    expect(Object.keys(table).length).toBeGreaterThanOrEqual(30);
  for (const table of [languages.absences, languages.absenceSentences, languages.quotedFields])
    expect(Object.keys(table).length).toBeGreaterThanOrEqual(20);
});

test.each(words(languages.replyPrefixes))('%s: “%s:” goes before a subject', (_language, word) => {
  for (const form of [word, word.toUpperCase(), `[EXT] ${word}`, `Re: ${word}[2]`, `${word}\u3000`])
    expect(subjectRoot(`${form}: Panels`)).toBe('panels');
  expect(readSubject(`${word}: Panels`).isReply).toBe(true);
});

test.each([...words(languages.automaticReplies), ...words(languages.absences)])(
  '%s: “%s” names what a program replies',
  (_language, word) => {
    for (const subject of [word, `${inCapitals(word)}: Panels`, `[EXT] ${word}`])
      expect([subject, automaticOf(received({ subject })).is]).toEqual([subject, 'yes']);
    expect(subjectRoot(`${word}: Re: Panels`)).toBe('panels');
    // A person’s reply to a subject that only begins alike.
    expect(automaticOf(received({ subject: `Re: ${word}x Panels` })).is).not.toBe('yes');
  },
);

test.each(words(languages.calendarReplies))('%s: “%s” is what a calendar puts before a subject', (_language, word) => {
  expect(subjectRoot(`${word}: Panels`)).toBe('panels');
  expect(automaticOf(received({ subject: `${word}: Panels` })).is).toBe('no');
});

test.each(Object.entries(languages.absenceSentences))('%s: “%s” sounds like a program', (_language, text) => {
  expect(automaticOf(received({ text })).is).toBe('perhaps');
});

test.each(words(languages.wrote))('%s: “%s” introduces a quote', (_language, word) => {
  expect(ownWords(`Yes.\n2.11.2026 Ines Valdaro ${word}:\nDear Marit`).own).toBe('Yes.');
  expect(ownWords(`Yes.\nInes Valdaro ${word}:\n> Dear Marit`).own).toBe('Yes.');
});

test.each(Object.entries(languages.quotedFields))(
  '%s: the fields of a quoted message are known',
  (_language, fields) => {
    const [from, date, to, subject] = fields;
    for (const name of from)
      expect(ownWords(`Yes.\n\n${name}: Ines <ines@tallowreed.example>\nDear Marit`).own).toBe('Yes.');
    const quoted = (...names: string[]) =>
      ownWords(`Yes.\n\n${names.map((name) => `${name}: x`).join('\n')}\n\nDear`).own;
    for (const one of date) expect(quoted(from[0]!, one, subject[0]!)).toBe('Yes.');
    for (const one of to) expect(quoted(from[0]!, one, subject[0]!)).toBe('Yes.');
    for (const one of subject) expect(quoted(from[0]!, date[0]!, one)).toBe('Yes.');
  },
);

test.each(languages.sentFrom)('“%s” is no part of what was written', (line) => {
  expect(ownWords(`Yes.\n\n${line}`)).toMatchObject({ own: 'Yes.', signature: line });
});
