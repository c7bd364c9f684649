import { readFields, typedAddress } from '@kiraku/core/incoming';

const read = (text: string) => readFields(text).map((fields) => Object.fromEntries(fields));

test('blocks stand apart by blank lines, also those with blanks in them', () => {
  expect(read('A: 1\r\nB: 2\r\n\r\nC: 3\r\n')).toEqual([{ a: '1', b: '2' }, { c: '3' }]);
  expect(read('A: 1\n \t\nB: 2\n\n\n\nC: 3')).toEqual([{ a: '1' }, { b: '2' }, { c: '3' }]);
  expect(read('\n\n')).toEqual([]);
});

test('folded lines are one, names are compared without case, and of two the first counts', () => {
  expect(read('Subject: one\r\n  two\n\tthree\nSUBJECT: four')).toEqual([{ subject: 'one two three' }]);
  expect(read('Status : 5.1.1')).toEqual([{ status: '5.1.1' }]);
});

test('what is no field is passed over', () => {
  expect(read('no field at all\nA: 1\n: nothing\nB B: 2')).toEqual([{ a: '1' }]);
  expect(read('nothing\nhere')).toEqual([]);
  expect(read(`${'x'.repeat(101)}: 1\nA: 1`)).toEqual([{ a: '1' }]);
});

test.each([
  ['rfc822; marit@lindqvist.example', 'marit@lindqvist.example'],
  ['rfc822;marit@lindqvist.example', 'marit@lindqvist.example'],
  ['utf-8 ; grüße@lindqvist.example', 'grüße@lindqvist.example'],
  ['marit@lindqvist.example', 'marit@lindqvist.example'],
  ['rfc822; Marit <marit@lindqvist.example> (x)', 'marit@lindqvist.example'],
  ['rfc822; marit', null],
  ['', null],
  [undefined, null],
])('the address in %j is %j', (value, address) => {
  expect(typedAddress(value)).toBe(address);
});
