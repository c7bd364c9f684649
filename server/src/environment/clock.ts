/** The one source of “now”, so that tests and the demo's history can set it. */
export class Clock {
  /** UTC epoch milliseconds. */
  now(): number {
    return Date.now();
  }
}
