/** Too many are waiting already. */
export class TooManyWaitingError extends Error {}

/** Does one thing after the other, and refuses more than may wait. */
export class OneAtATime {
  private last: Promise<unknown> = Promise.resolve();
  private waiting = 0;

  constructor(private readonly maxWaiting: number) {}

  /** @throws TooManyWaitingError */
  run<T>(work: () => Promise<T>): Promise<T> {
    if (this.waiting > this.maxWaiting) return Promise.reject(new TooManyWaitingError('Too many at once'));
    this.waiting += 1;
    const done = this.last.then(work).finally(() => (this.waiting -= 1));
    this.last = done.catch(() => undefined);
    return done;
  }
}
