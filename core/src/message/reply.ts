import { MESSAGE_LIMITS } from './limits.js';

/** The subject of what goes on with a message (RFC 5322, section 3.6.5). */
export function replySubject(subject: string): string {
  return (/^re:/i.test(subject) ? subject : `Re: ${subject}`).slice(0, MESSAGE_LIMITS.maxSubjectChars);
}

/** The Message-IDs that what goes on with a message names, the oldest first (RFC 5322, section 3.6.4): the newest are kept. */
export function goingOn(conversation: readonly string[], headers: readonly string[]): string[] {
  return [...conversation, ...headers].slice(-MESSAGE_LIMITS.maxConversationIds);
}
