import { PERSON_FIELDS } from '@kiraku/core/contract';
import fc from 'fast-check';
import { guessColumns, isYes, PERSON_COLUMNS } from '@kiraku/core/people';

test.each<[heads: string[], columns: Record<string, number>]>([
  [['Company', 'Full Name', 'E-mail Address', 'Mobile'], { company: 0, name: 1, address: 2, phone: 3, note: -1 }],
  [['First name', 'Email', 'Email 2'], { name: 0, address: 1 }],
  [['Mail', 'Organisation', 'Remarks', 'Time zone'], { address: 0, company: 1, note: 2, zone: 3, name: -1 }],
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

test.each<[head: string, field: string]>([
  ...['E-mail', 'email', 'Address', 'Mailbox'].map((head): [string, string] => [head, 'address']),
  ...['Name', 'Full Name', 'display name', 'Contact', 'Last name'].map((head): [string, string] => [head, 'name']),
  ...['Firm', 'Company', 'Organization', 'organisation', 'Org', 'Account', 'Employer'].map((head): [string, string] => [
    head,
    'company',
  ]),
  ...['Phone', 'Telephone', 'Tel.', 'Mobile', 'Cell'].map((head): [string, string] => [head, 'phone']),
  ...['Time zone', 'timezone', 'TZ', 'Zone'].map((head): [string, string] => [head, 'zone']),
  ...['Note', 'Notes', 'Comments', 'Remark'].map((head): [string, string] => [head, 'note']),
  ...['Do not track', 'do_not_track', 'Opt-out', 'opt out'].map((head): [string, string] => [head, 'doNotTrack']),
])('a column headed “%s” holds the %s', (head, field) => {
  const columns = guessColumns(['Id', ` ${head} `]);
  expect(Object.entries(columns).filter(([, index]) => index === 1)).toEqual([[field, 1]]);
});

test('the surest head wins, and a column holds one thing', () => {
  expect(guessColumns(['Company name', 'Name'])).toMatchObject({ name: 1, company: 0 });
  expect(guessColumns(['Mail', 'E-mail'])).toMatchObject({ address: 1 });
  expect(guessColumns(['Name'])).toMatchObject({ name: 0, company: -1, phone: -1 });
  expect(['Y', ' x ', 'True'].every(isYes)).toBe(true);
});
