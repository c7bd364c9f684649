import fc from 'fast-check';
import { conversationOf, type Relative } from '@kiraku/core/message';

/** Messages by number, each with the message it goes on from; all to two people, each with a copy of their own. */
function messages(...goesOnFrom: (number | null)[]): Relative[] {
  const chain = (of: number): string[] => {
    const before = goesOnFrom[of - 1]!;
    return before === null ? [] : [...chain(before), `<${before}.a@desk>`];
  };
  return goesOnFrom.flatMap((_before, index) =>
    ['a', 'b'].map((copy) => ({
      id: index + 1,
      header: `<${index + 1}.${copy}@desk>`,
      conversation: chain(index + 1),
    })),
  );
}

test('what was written on belongs together, from whichever message one looks, and nothing else', () => {
  const relatives = messages(null, 1, null, 2, 3);
  for (const id of [1, 2, 4]) expect(conversationOf(id, relatives)).toEqual([1, 2, 4]);
  for (const id of [3, 5]) expect(conversationOf(id, relatives)).toEqual([3, 5]);
});

test('two replies to the other copy of one message belong together, too', () => {
  const relatives: Relative[] = [
    { id: 1, header: '<1.a@desk>', conversation: [] },
    { id: 1, header: '<1.b@desk>', conversation: [] },
    { id: 2, header: '<2@desk>', conversation: ['<1.a@desk>'] },
    { id: 3, header: '<3@desk>', conversation: ['<1.b@desk>'] },
  ];
  for (const id of [1, 2, 3]) expect(conversationOf(id, relatives)).toEqual([1, 2, 3]);
});

test('a message without relatives is a conversation of its own', () => {
  expect(conversationOf(7, [])).toEqual([7]);
});

test('belonging together does not depend on order or on where one begins', () => {
  const trees = fc
    .array(fc.nat(), { minLength: 1, maxLength: 10 })
    .map((picks) =>
      messages(...picks.map((pick, index) => (pick % 3 === 0 || index === 0 ? null : (pick % index) + 1))),
    );
  fc.assert(
    fc.property(
      trees.chain((all) => fc.tuple(fc.constant(all), fc.shuffledSubarray(all, { minLength: all.length }))),
      ([all, mixed]) => {
        for (const { id } of all) {
          const together = conversationOf(id, all);
          expect(conversationOf(id, mixed)).toEqual(together);
          for (const other of together) expect(conversationOf(other, mixed)).toEqual(together);
        }
      },
    ),
  );
});
