import type { Mailbox } from '../contract/mailbox.js';

/** What is known of whom a message goes to, and of who writes it. */
export interface Known {
  recipient: Mailbox | undefined;
  company: string;
  sender: Mailbox | undefined;
}

/** What can stand between {{ and }}. */
export const PLACEHOLDERS: Record<string, (known: Known) => string> = {
  'first name': ({ recipient }) => recipient?.name.trim().split(/\s+/)[0] ?? '',
  name: ({ recipient }) => recipient?.name.trim() ?? '',
  company: ({ company }) => company,
  'my name': ({ sender }) => sender?.name ?? '',
};

const PLACEHOLDER = /\{\{\s*([^{}|]{1,60}?)\s*(?:\|([^{}]{0,200}))?\}\}/g;

/**
 * Fills `{{first name}}` and `{{first name|there}}`: with what is known, else with what follows the bar. What is
 * neither known nor has a fallback stays as it is, and so do names that are none of ours; the checks before sending
 * point them out.
 *
 * @param escape what a value must be put through to stand in the text
 */
export function fillPlaceholders(
  text: string,
  known: Known,
  escape: (value: string) => string = (value) => value,
): string {
  return text.replace(PLACEHOLDER, (whole, name: string, fallback: string | undefined) => {
    const read = Object.hasOwn(PLACEHOLDERS, name.toLowerCase()) && PLACEHOLDERS[name.toLowerCase()];
    if (!read) return whole;
    const value = read(known);
    return value === '' ? (fallback ?? whole) : escape(value);
  });
}

/** A text as it stands in HTML. */
export function escapeHtml(text: string): string {
  return text.replace(/[&<>"]/g, (sign) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[sign]!);
}
