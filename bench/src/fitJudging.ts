import { readFileSync, writeFileSync } from 'node:fs';
import { EVIDENCE } from '@kiraku/core/tracking';
import { BEYOND_US, HALVES, judgedSequences, LABELLED, type Sequence } from './lib/labelled.js';

/*
 * Fits the weights of evidence to the fitting half of the behaviours, and to the labelled set: logistic regression, by
 * gradient descent. What speaks for a person never weighs against one, and the other way round: each weight keeps its
 * sign. Lessons about networks are those that the weights of before teach, so that it is run until it changes nothing.
 */
const STEPS = 20_000;
const RATE = 0.5;
/** What cannot be told from people is rarer than they are. */
const BEYOND_US_WEIGHT = 0.3;
/** Nothing outweighs it: it is not fitted. */
const ACTED = 'acted';
/** Draws every weight towards nothing: what was seen seldom does not weigh too much. */
const RIDGE = 0.0001;
const WEIGHTS_FILE = new URL('../../core/src/tracking/weights.ts', import.meta.url);

interface Row {
  pieces: number[];
  isPerson: boolean;
  /** Every class weighs the same, however many hits it has. */
  weight: number;
}

const names: readonly string[] = EVIDENCE.map(({ name }) => name);
const signs = EVIDENCE.map(({ speaksFor }) => (speaksFor === 'person' ? 1 : -1));

function rowsOf(sequences: Sequence[]): Row[] {
  const judged = judgedSequences(sequences);
  const sizes = new Map<string, number>();
  for (const { class: of, evidence } of judged)
    sizes.set(of, (sizes.get(of) ?? 0) + evidence.filter((pieces) => pieces !== null).length);
  return judged.flatMap(({ class: of, evidence, labels }) =>
    evidence.flatMap((pieces, index) =>
      pieces === null || pieces.includes(ACTED)
        ? []
        : [
            {
              pieces: pieces.map((name) => names.indexOf(name)),
              isPerson: labels[index] !== 'machine',
              weight: (of.startsWith(BEYOND_US) ? BEYOND_US_WEIGHT : 1) / sizes.get(of)! / sizes.size,
            },
          ],
    ),
  );
}

/** Rows that are alike, as one. */
function gathered(rows: Row[]): Row[] {
  const alike = new Map<string, Row>();
  for (const row of rows) {
    const key = `${row.isPerson} ${row.pieces.join()}`;
    const known = alike.get(key);
    if (known) known.weight += row.weight;
    else alike.set(key, { ...row });
  }
  return [...alike.values()];
}

/** @returns the prior, and then the weight of each piece of evidence */
function fit(rows: Row[]): number[] {
  let weights = [0, ...signs.map(() => 0)];
  let ahead = weights;
  for (let step = 0; step < STEPS; step += 1) {
    const slope = slopeAt(ahead, rows);
    const next = ahead.map((weight, index) => {
      const sign = index === 0 ? 1 : signs[index - 1]!;
      return sign * Math.max(0, sign * (weight - RATE * slope[index]!));
    });
    // Nesterov, 1983: looks ahead in the direction of the last step.
    const before = weights;
    ahead = next.map((weight, index) => weight + (step / (step + 3)) * (weight - before[index]!));
    weights = next;
  }
  return weights.map((weight) => Math.round(weight * 10) / 10);
}

/** Of the loss, in the direction of each weight. */
function slopeAt(weights: number[], rows: Row[]): number[] {
  const slope = weights.map((weight) => 2 * RIDGE * weight);
  for (const { pieces, isPerson, weight } of rows) {
    const logOdds = pieces.reduce((sum, piece) => sum + weights[piece + 1]!, weights[0]!);
    const error = weight * (1 / (1 + Math.exp(-logOdds)) - Number(isPerson));
    slope[0]! += error;
    for (const piece of pieces) slope[piece + 1]! += error;
  }
  return slope;
}

/** The file as it is checked in, with other numbers. */
function written(text: string, [prior, ...weights]: number[]): string {
  return names.reduce(
    (file, name, index) =>
      name === ACTED
        ? file
        : file.replace(
            new RegExp(`^(  '?${name}'?: )[-\\d.]+`, 'm'),
            (_, before: string) => `${before}${weights[index]}`,
          ),
    text.replace(/(PRIOR = )[-\d.]+/, `$1${prior}`),
  );
}

const fitted = fit(gathered([...rowsOf(HALVES.fitting), ...rowsOf(LABELLED)]));
const before = readFileSync(WEIGHTS_FILE, 'utf8');
const after = written(before, fitted);
writeFileSync(WEIGHTS_FILE, after);
console.log(
  after === before ? '# the weights are those that were found before' : '# new weights: build, and run this again',
);
console.log(`prior ${fitted[0]}`);
names.forEach((name, index) => console.log(name === ACTED ? `${name} stays` : `${name} ${fitted[index + 1]}`));
