import { behaviours, BEYOND_US, HALVES } from './behaviours.mjs';
import { judgedSequences, reliability, scores } from './labelled.mjs';

/** The least that is judged right, in percent: of people, of machines, and of each behaviour by itself. */
const LEAST = { people: 99, machines: 97, each: 95 };
/** In shares: how far what is said may be from what is so. */
const CALIBRATION_ERROR = 0.05;
const OF_EACH = 40;

type Sequences = typeof HALVES.checking;
const knowable = (sequences: Sequences) => sequences.filter(({ class: of }) => !of.startsWith(BEYOND_US));

function shares(sequences: Sequences): Record<'person' | 'machine', number> {
  const right = { person: 0, machine: 0 };
  const all = { person: 0, machine: 0 };
  for (const { labels, verdicts } of judgedSequences(knowable(sequences)))
    labels.forEach((label, index) => {
      if (label === 'repeat') return;
      all[label] += 1;
      right[label] += Number(verdicts[index]!.counted === (label === 'person'));
    });
  return { person: (100 * right.person) / all.person, machine: (100 * right.machine) / all.machine };
}

describe.each([
  ['the checking half', HALVES.checking],
  ['others by chance', behaviours(0.52, OF_EACH)],
  ['others again', behaviours(0.93, OF_EACH)],
])('%s', (_name, sequences) => {
  test('of people and of machines, enough are judged right', () => {
    const { person, machine } = shares(sequences);
    expect(person).toBeGreaterThanOrEqual(LEAST.people);
    expect(machine).toBeGreaterThanOrEqual(LEAST.machines);
  });

  test('no behaviour is misread', () => {
    const each = [...scores(knowable(sequences))].map(
      ([name, { hits, right }]) => [name, (100 * right) / hits] as const,
    );
    expect(each.filter(([, share]) => share < LEAST.each)).toEqual([]);
  });

  test('what is said to be likely is as likely as it is said', () => {
    expect(reliability(sequences).error).toBeLessThan(CALIBRATION_ERROR);
  });
});

test('what cannot be told from people counts, and is never said to be certain', () => {
  const beyond = HALVES.checking.filter(({ class: of }) => of.startsWith(BEYOND_US));
  const verdicts = judgedSequences(beyond).flatMap((sequence) => sequence.verdicts);
  expect(verdicts.length).toBeGreaterThan(100);
  // Whoever finds evidence that tells them apart moves them up among the others.
  expect(verdicts.every(({ counted }) => counted)).toBe(true);
  expect(Math.max(...verdicts.map(({ likelihood }) => likelihood!))).toBeLessThan(98);
});

test('the set is large enough to mean something, and the same seed writes the same', () => {
  const all = [...HALVES.fitting, ...HALVES.checking];
  expect(all.length).toBeGreaterThanOrEqual(250);
  expect(all.flatMap(({ hits }) => hits).length).toBeGreaterThanOrEqual(1000);
  expect(new Set(HALVES.fitting.map((one) => one.class))).toEqual(new Set(HALVES.checking.map((one) => one.class)));
  expect(behaviours(0.5, 2)).toEqual(behaviours(0.5, 2));
  expect(behaviours(0.5, 2)).not.toEqual(behaviours(0.51, 2));
});
