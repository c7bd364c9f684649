import { MESSAGE_LIMITS } from './limits.js';

/** The subject of what goes on with a letter (RFC 5322, section 3.6.5). */
export function answerSubject(subject: string): string {
  return (/^re:/i.test(subject) ? subject : `Re: ${subject}`).slice(0, MESSAGE_LIMITS.subjectLength);
}

/** The Message-IDs that what goes on with a letter names, the oldest first (RFC 5322, section 3.6.4): the newest are kept. */
export function goingOn(conversation: readonly string[], headers: readonly string[]): string[] {
  return [...conversation, ...headers].slice(-MESSAGE_LIMITS.conversation);
}
