import fc from 'fast-check';
import { guessColumns, isYes, PERSON_COLUMNS, PERSON_FIELDS } from '@kiraku/core/people';

test.each<[heads: string[], columns: Record<string, number>]>([
  [['Company', 'Full Name', 'E-mail Address', 'Mobile'], { firm: 0, name: 1, address: 2, phone: 3, note: -1 }],
  [['First name', 'Email', 'Email 2'], { name: 0, address: 1 }],
  [['Mail', 'Organisation', 'Remarks', 'Time zone'], { address: 0, firm: 1, note: 2, zone: 3, name: -1 }],
])('%j', (heads, columns) => {
  expect(guessColumns(heads)).toMatchObject(columns);
});

test('a sheet of our own is understood, in any order of its columns', () => {
  fc.assert(
    fc.property(fc.shuffledSubarray([...PERSON_FIELDS]), (fields) => {
      const columns = guessColumns(fields.map((field) => PERSON_COLUMNS[field]));
      for (const field of PERSON_FIELDS) expect(columns[field]).toBe(fields.indexOf(field));
    }),
  );
});

test('yes is said in many ways, and no is everything else', () => {
  expect(['yes', ' TRUE', '1', 'x'].every(isYes)).toBe(true);
  expect(['', 'no', '0', 'false'].some(isYes)).toBe(false);
});
