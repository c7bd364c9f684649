import { range, shuffler } from 'd3-array';
import { randomLcg } from 'd3-random';

/**
 * Which wording each of several people gets: at random, and each wording as often as any other, or once more. Within
 * each block of as many people as there are wordings, every wording comes once (permuted blocks: S. J. Pocock, Clinical
 * Trials, 1983, section 5.3), so that a round that is stopped early is balanced too.
 *
 * @param seed between 0 and 1; the same gives the same, and those who are added later change nothing for the others
 * @returns for each person the wording’s place, from 0
 */
export function assignWordings(people: number, wordings: number, seed: number): number[] {
  const shuffle = shuffler(randomLcg(seed));
  const blocks = range(Math.ceil(people / wordings)).map(() => shuffle(range(wordings)));
  return blocks.flat().slice(0, people);
}
