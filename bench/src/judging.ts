import {
  describeAgent,
  judgeAround,
  networkOf,
  REACH_MS,
  Surroundings,
  UNKNOWN_NETWORK,
  type Hit,
  type Situation,
} from '@kiraku/core/tracking';
import { BEYOND_US, HALVES, judgedSequences, reliability, scores, type Score, type Sequence } from './lib/labelled.js';
import { report } from './lib/report.js';

/*
 * How well hits are judged: of the half of the behaviours that no weight was fitted to, and of the labelled set, per class;
 * how often what was said to be likely was so; and what judging costs. A person taken for a machine is a missed call, and
 * weighs five times as much as a machine taken for a person.
 */
const OTHERS = 500;
const SECOND = 1000;
const ROUNDS = 20_000;

const nameOf = (text: string) => text.replaceAll(/\W+/g, '_');
const reportRight = (name: string, { right, hits }: Pick<Score, 'right' | 'hits'>) =>
  report(`judged_right_${nameOf(name)}`, (100 * right) / hits, `% of ${hits} hits`);

for (const [name, score] of scores(HALVES.checking)) reportRight(name, score);
for (const label of ['person', 'machine'] as const)
  reportRight(`all ${label === 'person' ? 'people' : 'machines'}`, sharesOf(label));

const { bins, error } = reliability(HALVES.checking);
for (const { said, was, hits } of bins)
  report(`judged_person_where_${Math.round(said)}_percent_was_said`, was, `% of ${hits} hits`);
report('judged_calibration_error', 100 * error, '% of likelihood');

const all = { hits: 0, right: 0, cost: 0, worst: 0 };
for (const [name, score] of scores()) {
  reportRight(`labelled ${name}`, score);
  for (const words of score.wrong) console.log(`# wrong: ${words}`);
  for (const key of ['hits', 'right', 'cost', 'worst'] as const) all[key] += score[key];
}
reportRight('labelled all', all);
report('judged_cost', (100 * all.cost) / all.worst, '% of judging everything wrong, persons weighing five times');
report('judging_one_hit', microsecondsPerHit(), `µs, among ${OTHERS} others of its message`);

/** Of what can be known. */
function sharesOf(label: 'person' | 'machine'): Pick<Score, 'right' | 'hits'> {
  const knowable = HALVES.checking.filter((sequence: Sequence) => !sequence.class.startsWith(BEYOND_US));
  const share = { right: 0, hits: 0 };
  for (const { labels, verdicts } of judgedSequences(knowable))
    labels.forEach((of, index) => {
      if (of !== label) return;
      share.hits += 1;
      share.right += Number(verdicts[index]!.counted === (label === 'person'));
    });
  return share;
}

/** Hits of a hundred recipients, one after the other: as many as are within reach of each. */
function microsecondsPerHit(): number {
  const agent = describeAgent('Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0');
  const hitOf = (id: number): Hit => {
    const ip = `192.0.2.${id % 100}`;
    const linkId = id % 3 === 0 ? null : id % 4;
    // Written out: copied by spreading, each of very many would get a shape of its own.
    return {
      id,
      at: 3600 * SECOND + (id * REACH_MS) / OTHERS,
      kind: linkId === null ? 'opened' : 'clicked',
      copyId: id % 100,
      linkId,
      sentFileId: null,
      ip,
      network: networkOf(ip),
      userAgent: 'reader',
      agent,
      method: 'GET',
      purpose: '',
      ownDevice: false,
      dnt: false,
      hosted: id % 10 === 0,
      active: false,
    };
  };
  const others = Array.from({ length: OTHERS }, (_, id) => hitOf(id));
  const situation: Situation = {
    copies: new Map(others.map(({ copyId }) => [copyId, { sentAt: 0, colleague: false }])),
    links: 4,
    networkFrom: () => UNKNOWN_NETWORK,
    optOutAsked: () => false,
    ...{ ownNetworks: [], colleagues: 'count', respectDnt: false, trackForMs: null, notifyForMs: null },
  };
  const surroundings = new Surroundings(others);
  const round = (number: number) => {
    const hit = hitOf(OTHERS + number);
    surroundings.add(hit);
    return judgeAround(hit, surroundings, situation).size;
  };
  for (let number = 0; number < ROUNDS; number += 1) round(number);
  const began = performance.now();
  for (let number = ROUNDS; number < 2 * ROUNDS; number += 1) round(number);
  return (1000 * (performance.now() - began)) / ROUNDS;
}
