import { judgedSequences, scores } from './labelled.mjs';

/** What no rule of ours can know, and why; whoever finds a rule that does, strikes it out. */
const BEYOND_US = [
  'slow scanner, a link at a time over differing networks', // each looks like a person of its own
  'privacy relay that waits for the night', // nothing parts it from a relay that fetches for a reader
  'gateway opens the letter in a full browser', // it does all that a reader does, in a reader’s time
  'one link, five seconds after delivery, nothing opened', // somebody who waits for the mail may be as quick
  'the sender at a new place, unmarked', // nobody has told us of the place
];

test('the set is large enough to mean something', () => {
  expect(judgedSequences().flatMap(({ hits }) => hits).length).toBeGreaterThanOrEqual(200);
});

test('no person is left out, and only the machines that cannot be known count', () => {
  const wrong = [...scores().values()].flatMap((score) => score.wrong);
  expect(wrong.filter((words) => !BEYOND_US.some((name) => words.startsWith(name)))).toEqual([]);
});

test.each(BEYOND_US)('beyond us: %s', (name) => {
  const { labels, verdicts } = judgedSequences().find((sequence) => sequence.name === name)!;
  expect(verdicts.some(({ counted }, index) => counted && labels[index] === 'machine')).toBe(true);
});
