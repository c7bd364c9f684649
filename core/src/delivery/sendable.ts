import { MESSAGE_LIMITS } from '../message/index.js';

/** What one press of Send may put into the outbox, over all copies; a copy is a little longer than its message. */
const MAX_COMPOSED_BYTES = 200_000_000;
const COPY_OVERHEAD = 1.5;

/** Of a draft, what decides whether it can be sent. */
export interface Sendable {
  recipients: number;
  /** Whether it has neither a subject, nor anything in its body, nor a file. */
  isEmpty: boolean;
  /** Its body with the files that travel in it. */
  bytes: number;
  links: number;
}

/** Why a draft cannot be sent; `field` where that is one of its own. */
export interface SendProblem {
  field?: 'recipients' | 'html';
  detail: string;
}

/** The first of them that applies is said. */
const PROBLEMS: { applies(draft: Sendable): boolean; problem(draft: Sendable): SendProblem }[] = [
  {
    applies: ({ recipients }) => recipients === 0,
    problem: () => ({ field: 'recipients', detail: 'Add a recipient.' }),
  },
  {
    applies: ({ isEmpty }) => isEmpty,
    problem: () => ({ field: 'html', detail: 'Write a subject or a message first.' }),
  },
  {
    applies: ({ bytes, recipients }) => bytes * COPY_OVERHEAD * recipients > MAX_COMPOSED_BYTES,
    problem: () => ({
      detail: 'The message is too large for so many recipients. Send its files as links, or to fewer people at a time.',
    }),
  },
  {
    applies: ({ links }) => links > MESSAGE_LIMITS.maxLinks,
    problem: ({ links }) => ({
      detail: `The message has ${links} links; at most ${MESSAGE_LIMITS.maxLinks} are possible. Remove some.`,
    }),
  },
];

/**
 * Why a draft cannot be sent, and how to mend it; null where it can.
 *
 * @example sendProblem({ recipients: 0, isEmpty: false, bytes: 9, links: 0 })?.detail // Add a recipient.
 */
export function sendProblem(draft: Sendable): SendProblem | null {
  return PROBLEMS.find(({ applies }) => applies(draft))?.problem(draft) ?? null;
}
