export const MIN_PASSPHRASE_CHARS = 8;
/** A guesser who has the hash tries as many in a day, with one machine and scrypt at our cost. */
const MIN_GUESSES = 1e8;
/** Estimating takes more than linear time; what is longer is strong by its length, or repeats itself before. */
const MAX_ESTIMATED_CHARS = 100;

/**
 * Says why a passphrase is too easy to guess, or null. Words that many choose, their usual variations, sequences and keyboard
 * patterns count as one guess (D. L. Wheeler, "zxcvbn: Low-Budget Password Strength Estimation", USENIX Security 2016).
 *
 * @param own what a guesser who knows the user tries first
 */
export async function passphraseProblem(passphrase: string, own: readonly string[] = []): Promise<string | null> {
  // Loaded when it is needed, which is seldom: its lists take memory.
  const [{ ZxcvbnFactory }, { adjacencyGraphs, dictionary }] = await Promise.all([
    import('@zxcvbn-ts/core'),
    import('@zxcvbn-ts/language-common'),
  ]);
  const estimate = new ZxcvbnFactory({ dictionary, graphs: adjacencyGraphs });
  const { guesses } = estimate.check(passphrase.slice(0, MAX_ESTIMATED_CHARS), [...own]);
  return guesses >= MIN_GUESSES
    ? null
    : 'This passphrase is easy to guess. Use three or four words that do not belong together.';
}

/** Says why a passphrase cannot be chosen on the terminal, where no form has looked at it; null where it can. */
export async function choiceProblem(passphrase: string): Promise<string | null> {
  if (passphrase.length >= MIN_PASSPHRASE_CHARS) return passphraseProblem(passphrase);
  return `The passphrase must have at least ${MIN_PASSPHRASE_CHARS} characters; three or four words are good.`;
}
