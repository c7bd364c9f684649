import { FILE_ORDERS, foundFiles } from '@kiraku/core/files';
import { FILE_ORDER_TEXTS } from '@kiraku/core/sentences';
import type { FileView } from '@kiraku/core/contract';

const file = (id: number, name: string, part: Partial<FileView>): FileView => ({
  id,
  name,
  addedAt: id,
  versions: [],
  percent: null,
  messages: 0,
  views: 0,
  lastViewAt: null,
  ...part,
});
const FILES = [
  file(1, 'Panels for the reading room.pdf', { messages: 1, lastViewAt: 50 }),
  file(2, 'prices, Autumn.xlsx', { messages: 4 }),
  file(3, 'Colour card.jpg', { messages: 4, lastViewAt: 90 }),
];
const ids = (files: FileView[]) => files.map(({ id }) => id);

test.each([
  ['added', [3, 2, 1]],
  ['name', [3, 1, 2]],
  ['sent', [3, 2, 1]],
  ['viewed', [3, 1, 2]],
] as const)('sorted by %s', (order, expected) => {
  expect(ids(foundFiles(FILES, '', order))).toEqual(expected);
  expect(ids(FILES)).toEqual([1, 2, 3]);
});

test.each([
  ['ROOM', [1]],
  ['room panels', [1]],
  ['autumn', [2]],
  ['room autumn', []],
  ['  ', [3, 2, 1]],
])('“%s” finds %j', (words, expected) => expect(ids(foundFiles(FILES, words, 'added'))).toEqual(expected));

test('each order has a name', () => expect(Object.keys(FILE_ORDER_TEXTS)).toEqual([...FILE_ORDERS]));
