import { behaviours } from './behaviours.mjs';
import { scores } from './labelled.mjs';

/** The least share that is judged right, in percent: what cannot be known yet is named here, and not left out. */
const LEAST: Record<string, number> = {
  'people: by themselves': 99,
  'people: in a mail program, and a browser for the link': 99,
  'people: of one office, at the same moment': 92,
  'people: behind a proxy in a data centre': 92,
  'people: again, within moments': 99,
  'machines: at delivery, every link': 99,
  // Where minutes lie between the links, each is seen by itself.
  'machines: slowly, the image and then every link': 75,
  'machines: the shadow of a person': 95,
  'machines: a link from each of several networks': 97,
  // Nothing is remembered yet of what a network did on another day.
  'machines: again on a later day': 60,
  'machines: all copies at delivery': 97,
};
const OF_EACH = 40;

test.each([0.11, 0.52, 0.93])('people and machines as they behave, by chance (%d)', (seed) => {
  const found = scores(behaviours(seed, OF_EACH));
  const shares = [...found].map(([name, { hits, right }]) => [name, (100 * right) / hits] as const);
  expect(shares.map(([name]) => name)).toEqual(Object.keys(LEAST));
  expect(shares.filter(([name, share]) => !(share >= LEAST[name]!))).toEqual([]);
});

test('the same seed writes the same, and another one others', () => {
  expect(behaviours(0.5, 2)).toEqual(behaviours(0.5, 2));
  expect(behaviours(0.5, 2)).not.toEqual(behaviours(0.51, 2));
  const hits = behaviours(0.5, OF_EACH).flatMap((sequence) => sequence.hits);
  expect(hits.length).toBeGreaterThan(1000);
});
