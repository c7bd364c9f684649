import { PERSON_FIELDS, type Columns, type PersonField } from '@kiraku/core/contract';
import { parse } from 'csv-parse/sync';
import { stringify } from 'csv-stringify/sync';
import ICAL from 'ical.js';
import { guessColumns, isYes, PERSON_COLUMNS, tagsIn } from '@kiraku/core/people';
import { invalid } from '../http/problem.js';

/** One entry of a file of people, as text. */
export type Entry = Record<PersonField, string>;

export interface Sheet {
  /** Of a CSV file; none of a file of cards. */
  heads: string[];
  sample: string[];
  columns: Columns;
  entries: Entry[];
}

export const MAX_IMPORT_ENTRIES = 20_000;
const BLANK = Object.fromEntries(PERSON_FIELDS.map((field) => [field, ''])) as Entry;

/**
 * Reads a sheet (RFC 4180, and with the separators that spreadsheets of other countries write).
 *
 * @param chosen which column holds what; guessed from the heads where nothing is said
 */
export function readCsv(text: string, chosen: Columns | null): Sheet {
  const rows = parsed(text);
  const [heads = [], ...lines] = rows;
  if (lines.length > MAX_IMPORT_ENTRIES)
    throw invalid(`Import at most ${MAX_IMPORT_ENTRIES} people at once: split the file.`);
  const columns = chosen ?? guessColumns(heads);
  const entries = lines.map((cells) => entryOf((field) => withoutMark(cells[columns[field]] ?? '')));
  return { heads, sample: lines[0] ?? [], columns, entries };
}

function parsed(text: string): string[][] {
  const [firstLine = ''] = text.split('\n', 1);
  const delimiter = [';', '\t'].find((one) => firstLine.includes(one) && !firstLine.includes(',')) ?? ',';
  try {
    return parse(text, { bom: true, delimiter, relax_column_count: true, skip_empty_lines: true, trim: true });
  } catch (error) {
    throw invalid(`This sheet cannot be read: ${(error as Error).message}`);
  }
}

/** Reads cards (vCard, RFC 6350, and its version 3). Of several addresses the first counts. */
export function readCards(text: string): Sheet {
  const cards = cardsIn(text);
  if (cards.length > MAX_IMPORT_ENTRIES)
    throw invalid(`Import at most ${MAX_IMPORT_ENTRIES} people at once: split the file.`);
  const entries = cards.map((card) => {
    const value = (name: string) => {
      const found: unknown = card.getFirstPropertyValue(name);
      return found === null ? '' : String(Array.isArray(found) ? found[0] : found);
    };
    const read: Entry = {
      name: value('fn'),
      address: value('email').replace(/^mailto:/i, ''),
      company: value('org').split(';')[0]!,
      phone: value('tel').replace(/^tel:/i, ''),
      zone: value('tz'),
      note: value('note'),
      tags: card
        .getAllProperties('categories')
        .flatMap((property) => property.getValues())
        .join(','),
      doNotTrack: value(DO_NOT_TRACK),
    };
    return entryOf((field) => read[field]);
  });
  return { heads: [], sample: [], columns: guessColumns([]), entries };
}

/** Not in the standard: an extended property (RFC 6350, section 6.10). */
const DO_NOT_TRACK = 'x-do-not-track';

function cardsIn(text: string): ICAL.Component[] {
  try {
    const jcards = ICAL.parse(text.trim()) as unknown[];
    // One card is a component, several are a list of them.
    const list = typeof jcards[0] === 'string' ? [jcards] : jcards;
    return list.map((jcard) => new ICAL.Component(jcard as [])).filter(({ name }) => name === 'vcard');
  } catch (error) {
    throw invalid(`These cards cannot be read: ${(error as Error).message}`);
  }
}

function entryOf(cell: (field: PersonField) => string): Entry {
  const filled = PERSON_FIELDS.map((field) => [field, cell(field).trim()]);
  return { ...BLANK, ...(Object.fromEntries(filled) as Entry) };
}

/** What stands before a value so that a spreadsheet takes it for no formula. */
function withoutMark(cell: string): string {
  return /^'[=+\-@]/.test(cell) ? cell.slice(1) : cell;
}

/** A sheet (RFC 4180) that opens cleanly in spreadsheets: no value is a formula. */
export function writeCsv(people: Entry[], withHeads: boolean): string {
  return stringify(people, {
    header: withHeads,
    columns: PERSON_FIELDS.map((field) => ({ key: field, header: PERSON_COLUMNS[field] })),
    escape_formulas: true,
    record_delimiter: 'windows',
  });
}

/** Cards (vCard 4, RFC 6350). */
export function writeCards(people: Entry[]): string {
  return people.map((person) => `${card(person).toString()}\r\n`).join('');
}

function categories(tags: string): ICAL.Property {
  const property = new ICAL.Property('categories');
  property.setValues(tagsIn(tags));
  return property;
}

function card({ name, address, company, phone, zone, note, tags, doNotTrack }: Entry): ICAL.Component {
  const component = new ICAL.Component('vcard');
  const add = (property: string, value: string) => {
    if (value !== '') component.addPropertyWithValue(property, value);
  };
  add('version', '4.0');
  // A card must have a formatted name (RFC 6350, section 6.2.1).
  add('fn', name || address);
  add('email', address);
  add('org', company);
  add('tel', phone);
  add('tz', zone);
  add('note', note);
  // RFC 6350, section 6.7.1.
  if (tags !== '') component.addProperty(categories(tags));
  if (isYes(doNotTrack)) add(DO_NOT_TRACK, 'yes');
  return component;
}
