import type { CopyView } from '../contract/message.js';
import { MESSAGE_LIMITS } from './limits.js';

/** The subject of what goes on with a message (RFC 5322, section 3.6.5). */
export function replySubject(subject: string): string {
  return (/^re:/i.test(subject) ? subject : `Re: ${subject}`).slice(0, MESSAGE_LIMITS.maxSubjectChars);
}

/** The Message-IDs that what goes on with a message names, the oldest first (RFC 5322, section 3.6.4): the newest are kept. */
export function goingOn(conversation: readonly string[], headers: readonly string[]): string[] {
  return [...conversation, ...headers].slice(-MESSAGE_LIMITS.maxConversationIds);
}

type Active = Pick<CopyView, 'id'> & { tally: Pick<CopyView['tally'], 'lastEventAt'> };

/** The copies of a message, those whose recipients did something last first; the others as they were addressed. */
export function byLastActivity<Copy extends Active>(copies: readonly Copy[]): Copy[] {
  return [...copies].sort((a, b) => (b.tally.lastEventAt ?? 0) - (a.tally.lastEventAt ?? 0));
}

/** Whose copy a reply goes to: of several recipients the one who did something last, alone; null for the only one. */
export function replyCopyId(copies: readonly Active[]): number | null {
  return copies.length > 1 ? byLastActivity(copies)[0]!.id : null;
}
