import { PERSON_FIELDS, type Columns, type PersonField } from '../contract/index.js';

/** The heads of the columns of a sheet of people, as written; the first name of each, as read. */
export const PERSON_COLUMNS: Record<PersonField, string> = {
  name: 'name',
  address: 'address',
  company: 'company',
  phone: 'phone',
  zone: 'time_zone',
  note: 'note',
  tags: 'tags',
  doNotTrack: 'do_not_track',
};

/** Words by which a column of somebody else's sheet is recognised, the surest first. */
const KNOWN_BY: Record<PersonField, readonly RegExp[]> = {
  address: [/e-?mail/, /^address$/, /mail/],
  name: [/^(full|display)?\s*name$/, /^contact$/, /name/],
  company: [/firm|company|organi[sz]ation|^org$/, /account|employer/],
  phone: [/phone|^tel|mobile|cell/],
  zone: [/time[\s_-]*zone|^tz$|^zone$/],
  note: [/^notes?$|comment|remark/],
  tags: [/^(tag|label|categor|group)/],
  doNotTrack: [/do[\s_-]*not[\s_-]*track|opt[\s_-]*out/],
};

/**
 * Guesses from the heads of a sheet which column holds what. Each column is exported once.
 *
 * @param heads as they stand in the first row
 */
export function guessColumns(heads: readonly string[]): Columns {
  const plain = heads.map((head) => head.trim().toLowerCase());
  const columns = Object.fromEntries(PERSON_FIELDS.map((field) => [field, -1])) as Columns;
  const taken = new Set<number>();
  for (const [field, patterns] of Object.entries(KNOWN_BY) as [PersonField, readonly RegExp[]][]) {
    for (const pattern of patterns) {
      const found = plain.findIndex((head, index) => !taken.has(index) && pattern.test(head));
      if (found < 0) continue;
      columns[field] = found;
      taken.add(found);
      break;
    }
  }
  return columns;
}

const YES = new Set(['true', 'yes', 'y', '1', 'x']);

/** Whether a cell says yes. */
export function isYes(cell: string): boolean {
  return YES.has(cell.trim().toLowerCase());
}
