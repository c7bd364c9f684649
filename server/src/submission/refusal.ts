/** A refusal in the words of RFC 5321 and RFC 3463: the code, the enhanced code, and what to do about it. */
export class Refusal extends Error {
  constructor(
    readonly responseCode: number,
    enhanced: string,
    /** The same for the user. */
    readonly words: string,
  ) {
    super(`${enhanced} ${words}`);
  }
}
