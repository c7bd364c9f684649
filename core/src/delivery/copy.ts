import type { CopyState, DeliveryAction, DsnState } from '../contract/index.js';
import { retryDelayMs } from './retries.js';

/** What the outbox has to do yet for a copy. Times in epoch milliseconds. */
export interface Waiting {
  /** When it was put into the outbox. */
  since: number;
  /** How often it was tried. */
  attempts: number;
  nextAttemptAt: number;
}

/** How a copy stands with the mail servers. */
export interface CopyDelivery {
  state: CopyState;
  /** When the outgoing mail server took it; null where it never did. */
  sentAt: number | null;
  /** What a mail server said against it. */
  lastError: string | null;
  /** What became of the request for a delivery receipt; null where none was asked for. */
  dsnState: DsnState | null;
  /** Null where nothing waits: exactly while it is not `queued`. */
  waiting: Waiting | null;
}

/** What can happen to a copy. */
export type DeliveryEvent =
  /** The outgoing mail server took it. */
  | { kind: 'accepted'; at: number; dsnState: DsnState | null }
  /** It was not taken for now (RFC 5321, section 4.2.1: 4yz); from an age of `giveUpMs` it is not tried again. */
  | { kind: 'delayed'; at: number; words: string; giveUpMs: number }
  /** It was refused for good (5yz). */
  | { kind: 'refused'; words: string }
  /** The user wants it tried now: again where it waits, anew where it failed. */
  | { kind: 'retried'; at: number }
  | { kind: 'resent'; at: number }
  /** Its recipient is erased: it does not leave any more. */
  | { kind: 'withdrawn'; words: string }
  /** It may have left already, and nobody knows: it leaves only when the user wants it to. */
  | { kind: 'held'; words: string }
  /** A report (RFC 3464) says what became of it after it was taken. */
  | { kind: 'reported'; action: DeliveryAction; words: string; address: string };

/** @returns how the copy stands then; null where the event changes nothing */
type Transition<Kind extends DeliveryEvent['kind']> = (
  copy: CopyDelivery,
  event: Extract<DeliveryEvent, { kind: Kind }>,
) => CopyDelivery | null;

/** What may follow what: an event that a state does not name changes nothing in it. */
const TRANSITIONS: Record<CopyState, { [Kind in DeliveryEvent['kind']]?: Transition<Kind> }> = {
  queued: {
    accepted,
    delayed,
    refused: (copy, { words }) => failed(copy, words),
    retried: (copy, { at }) => ({ ...copy, waiting: { ...copy.waiting!, attempts: 0, nextAttemptAt: at } }),
    withdrawn: (copy, { words }) => failed(copy, words),
    held: (copy, { words }) => failed(copy, words),
    // Its “250” was lost, and it goes again: how it stands is said by the attempt that is noted.
    reported: (copy, { action }) => (action === 'failed' ? null : receipt(copy, action)),
  },
  sent: {
    reported: (copy, { action, words, address }) => {
      if (action !== 'failed') return receipt(copy, action);
      // Behind one address there can be several: where one of them got it, the copy has arrived.
      if (hasArrived(copy)) return { ...copy, lastError: `${address} did not get it: ${words}` };
      return { ...failed(copy, words), dsnState: 'failed' };
    },
  },
  failed: {
    // It was withdrawn while it was being handed over.
    accepted,
    resent: (copy, { at }) => ({ ...copy, state: 'queued', lastError: null, waiting: waitingSince(at) }),
    reported: (copy, { action }) => {
      if (action === 'failed') return null;
      // A report had called it failed, and somebody behind its address got it all the same.
      const isTakenBack = copy.dsnState === 'failed' && action !== 'delayed';
      return receipt(isTakenBack ? { ...copy, state: 'sent' } : copy, action);
    },
  },
};

const DONE = { waiting: null } as const;
/** Word comes late, and in any order: what has arrived, or failed, is not delayed. */
const CAN_BE_DELAYED = new Set<DsnState | null>(['asked']);
const ARRIVED = new Set<DsnState | null>(['delivered', 'relayed']);

/**
 * A copy as it is put into the outbox.
 *
 * @param at epoch milliseconds
 */
export function newDelivery(at: number): CopyDelivery & { waiting: Waiting } {
  return { state: 'queued', sentAt: null, lastError: null, dsnState: null, waiting: waitingSince(at) };
}

/**
 * How a copy stands after something happened to it.
 *
 * @returns null where it changes nothing: what comes twice, or too late
 * @example afterDelivery(newDelivery(0), { kind: 'refused', words: '550 Unknown' })?.state // failed
 */
export function afterDelivery(copy: CopyDelivery, event: DeliveryEvent): CopyDelivery | null {
  const transition = TRANSITIONS[copy.state][event.kind] as Transition<DeliveryEvent['kind']> | undefined;
  return transition?.(copy, event) ?? null;
}

/**
 * As which event in a message’s history it is recorded that something happened to a copy; null where it is not.
 *
 * @param after how the copy stands since
 */
export function recordedAs(event: DeliveryEvent, { state }: CopyDelivery): 'bounced' | 'delivered' | null {
  if (event.kind === 'held') return null;
  if (event.kind !== 'reported') return state === 'failed' ? 'bounced' : null;
  if (event.action === 'failed') return 'bounced';
  return event.action === 'delayed' ? null : 'delivered';
}

/**
 * What one mail reports of a copy, in the order in which it is to be noted: behind one address there can be several, and
 * where some of them got it, it has arrived.
 */
export function arrivalsFirst<Report extends { action: DeliveryAction }>(reports: readonly Report[]): Report[] {
  const isFailed = ({ action }: Report) => Number(action === 'failed');
  return [...reports].sort((a, b) => isFailed(a) - isFailed(b));
}

/** Whether the user can have a copy in a state tried again, and by which event. */
export function retryOf(state: CopyState): 'retried' | 'resent' | null {
  if (TRANSITIONS[state].retried) return 'retried';
  return TRANSITIONS[state].resent ? 'resent' : null;
}

function accepted(copy: CopyDelivery, { at, dsnState }: Extract<DeliveryEvent, { kind: 'accepted' }>): CopyDelivery {
  return { ...copy, ...DONE, state: 'sent', sentAt: at, lastError: null, dsnState };
}

function delayed(
  copy: CopyDelivery,
  { at, words, giveUpMs }: Extract<DeliveryEvent, { kind: 'delayed' }>,
): CopyDelivery {
  const { since, attempts } = copy.waiting!;
  if (at - since >= giveUpMs) return failed(copy, words);
  const waiting = { since, attempts: attempts + 1, nextAttemptAt: at + retryDelayMs(attempts + 1) };
  return { ...copy, lastError: words, waiting };
}

function failed(copy: CopyDelivery, lastError: string): CopyDelivery {
  return { ...copy, ...DONE, state: 'failed', lastError };
}

function receipt(copy: CopyDelivery, action: Exclude<DeliveryAction, 'failed'>): CopyDelivery | null {
  if (action === 'delayed' && !CAN_BE_DELAYED.has(copy.dsnState)) return null;
  // To a list: those behind it say nothing.
  return { ...copy, dsnState: action === 'expanded' ? 'relayed' : action };
}

function hasArrived({ dsnState }: CopyDelivery): boolean {
  return ARRIVED.has(dsnState);
}

function waitingSince(at: number): Waiting {
  return { since: at, attempts: 0, nextAttemptAt: at };
}
