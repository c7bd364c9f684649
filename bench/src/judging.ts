import { report } from './lib/report.js';

/*
 * How well the labelled hits are judged, per class. A person taken for a machine is a missed call, and weighs five times
 * as much as a machine taken for a person.
 */
interface Score {
  hits: number;
  right: number;
  cost: number;
  worst: number;
  wrong: string[];
}

// The labelled set belongs to the core's tests, which are not compiled.
const LABELLED = new URL('../../core/test/tracking/labelled.mjs', import.meta.url);
const { scores } = (await import(LABELLED.href)) as { scores(): Map<string, Score> };

const all = { hits: 0, right: 0, cost: 0, worst: 0 };
for (const [name, score] of scores()) {
  report(`judged_right_${name.replaceAll(' ', '_')}`, (100 * score.right) / score.hits, `% of ${score.hits} hits`);
  for (const words of score.wrong) console.log(`# wrong: ${words}`);
  for (const key of ['hits', 'right', 'cost', 'worst'] as const) all[key] += score[key];
}
report('judged_right_all', (100 * all.right) / all.hits, `% of ${all.hits} hits`);
report('judged_cost', (100 * all.cost) / all.worst, '% of judging everything wrong, persons weighing five times');
