import { HttpException } from '@nestjs/common';
import type { Problem } from '@kiraku/core/contract';

/**
 * An error that a person can mend, answered as problem details (RFC 9457).
 *
 * @param status HTTP status
 * @param title what is wrong, in a few words
 * @param detail how to mend it, in a sentence
 */
export class ProblemException extends HttpException {
  constructor(status: number, title: string, detail: string, errors?: Problem['errors']) {
    const problem: Problem = { type: 'about:blank', title, status, detail, ...(errors && { errors }) };
    super(problem, status);
    // For the log: the framework would say its own name.
    this.message = detail;
  }
}

export const notFound = (what: string) =>
  new ProblemException(
    404,
    'Not found',
    `There is no ${what} with this number. It may have been deleted in another window.`,
  );

export const invalid = (detail: string, errors?: Problem['errors']) =>
  new ProblemException(422, 'This cannot be used', detail, errors);
