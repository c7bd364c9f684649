import { report } from './lib/report.js';

/*
 * How well the labelled hits are judged, per class. A person taken for a machine is a missed call, and weighs five times
 * as much as a machine taken for a person. Before them, people and machines as they behave by chance.
 */
interface Score {
  hits: number;
  right: number;
  cost: number;
  worst: number;
  wrong: string[];
}

/** Another than those of the tests, which were written by looking at theirs. */
const BEHAVIOURS_SEED = 0.77;
const BEHAVIOURS_OF_EACH = 100;

// The labelled set belongs to the core's tests, which are not compiled.
const fromTests = (name: string) => import(new URL(`../../core/test/tracking/${name}`, import.meta.url).href);
const { scores } = (await fromTests('labelled.mjs')) as { scores(from?: unknown): Map<string, Score> };
const { behaviours } = (await fromTests('behaviours.mjs')) as { behaviours(seed: number, ofEach: number): unknown };

const reportRight = (name: string, { right, hits }: Score) =>
  report(`judged_right_${name.replaceAll(/\W+/g, '_')}`, (100 * right) / hits, `% of ${hits} hits`);

for (const [name, score] of scores(behaviours(BEHAVIOURS_SEED, BEHAVIOURS_OF_EACH))) reportRight(name, score);

const all = { hits: 0, right: 0, cost: 0, worst: 0 };
for (const [name, score] of scores()) {
  reportRight(name, score);
  for (const words of score.wrong) console.log(`# wrong: ${words}`);
  for (const key of ['hits', 'right', 'cost', 'worst'] as const) all[key] += score[key];
}
report('judged_right_all', (100 * all.right) / all.hits, `% of ${all.hits} hits`);
report('judged_cost', (100 * all.cost) / all.worst, '% of judging everything wrong, persons weighing five times');
