import type { CopyState, MessageState } from '../contract/index.js';

/** What the user, or the clock, can do with a message until it has left, and from which state into which. */
export const MESSAGE_MOVES = {
  /** Send was pressed: it leaves at a time. */
  send: { from: 'draft', to: 'scheduled' },
  /** It is a draft again, as if it had never been sent. */
  recall: { from: 'scheduled', to: 'draft' },
  reschedule: { from: 'scheduled', to: 'scheduled' },
  /** Its copies are in the outbox: from here on they say how it stands. */
  leave: { from: 'scheduled', to: 'queued' },
} as const satisfies Record<string, { from: MessageState; to: MessageState }>;

export type MessageMove = keyof typeof MESSAGE_MOVES;

/** The states of a message that has not left: what it says, and whether it is sent at all, can still be changed. */
export const NOT_LEFT = [MESSAGE_MOVES.send.from, MESSAGE_MOVES.leave.from] as const satisfies readonly MessageState[];

export function hasLeft({ state }: { state: MessageState }): boolean {
  return !(NOT_LEFT as readonly MessageState[]).includes(state);
}

/** How a message stands as a whole. */
export interface MessageDelivery {
  state: Extract<MessageState, 'queued' | 'sent' | 'failed'>;
  /** When its first copy was taken; null where none has been. */
  sentAt: number | null;
}

/**
 * How a message stands by how its copies stand: it is on its way while one waits, sent when one has left, though others
 * may have failed, and failed when all have.
 *
 * @param copies of each state at least one, with the first time at which one of it was taken
 * @example messageDelivery([{ state: 'failed', sentAt: null }, { state: 'sent', sentAt: 5 }]) // { state: 'sent', sentAt: 5 }
 */
export function messageDelivery(copies: readonly { state: CopyState; sentAt: number | null }[]): MessageDelivery {
  const times = copies.flatMap(({ state, sentAt }) => (state === 'sent' && sentAt !== null ? [sentAt] : []));
  const has = (state: CopyState) => copies.some((copy) => copy.state === state);
  return {
    state: has('queued') ? 'queued' : has('sent') ? 'sent' : 'failed',
    sentAt: times.length > 0 ? Math.min(...times) : null,
  };
}
