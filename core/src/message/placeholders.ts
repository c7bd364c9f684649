import type { Mailbox } from '../contract/mailbox.js';

/** What is known of whom a message goes to, and of who writes it. */
export interface Known {
  recipient: Mailbox | undefined;
  company: string;
  sender: Mailbox | undefined;
  /** What else is known of the recipient, by its name in lower case: the columns of a sheet. */
  columns?: Readonly<Record<string, string>>;
}

/** What can stand between {{ and }}. */
export const PLACEHOLDERS: Record<string, (known: Known) => string> = {
  'first name': ({ recipient }) => recipient?.name.trim().split(/\s+/)[0] ?? '',
  name: ({ recipient }) => recipient?.name.trim() ?? '',
  company: ({ company }) => company,
  'my name': ({ sender }) => sender?.name ?? '',
};

const PLACEHOLDER = /\{\{\s*([^{}|:]{1,60}?)\s*(?:\|([^{}]{0,200}))?\}\}/g;
/** A part of a condition: any text, and names in single braces. */
const PART = String.raw`((?:[^{}|]|\{[^{}]{1,260}\})*)`;
const CONDITION = new RegExp(
  String.raw`\{\{\s*if\s+([^{}:|]{1,60}?)\s*:${PART}(?:\|\s*otherwise\s*:${PART})?\}\}`,
  'gi',
);
const NAME_WITHIN = /\{([^{}]*)\}/g;

/**
 * Fills `{{first name}}` and `{{first name|there}}`: with what is known, else with what follows the bar. Of
 * `{{if company: at {company} | otherwise: at your place}}` stays the part that applies; without the second, nothing.
 * What is neither known nor has a fallback stays as it is, and so do names that are none of ours; the checks before
 * sending point them out.
 *
 * @param escape what a value must be put through to stand in the text
 */
export function fillPlaceholders(
  text: string,
  known: Known,
  escape: (value: string) => string = (value) => value,
): string {
  const fillNames = (part: string) =>
    part.replace(PLACEHOLDER, (whole, name: string, fallback: string | undefined) => {
      const value = valueOf(name, known);
      if (value === undefined) return whole;
      return value === '' ? (fallback ?? whole) : escape(value);
    });
  const chosen = text.replace(CONDITION, (whole, name: string, then: string, otherwise = '') => {
    const value = valueOf(name, known);
    if (value === undefined) return whole;
    return (value === '' ? otherwise : then).trimEnd().replace(NAME_WITHIN, '{{$1}}');
  });
  return fillNames(chosen);
}

/**
 * What of a text still is a placeholder, each once, as it stands there; empty where it can be sent.
 *
 * @param text plain: in HTML, tags could stand between the braces
 */
export function placeholdersIn(text: string): string[] {
  const whole = text.match(ANY_PLACEHOLDER) ?? [];
  const rest = text.replace(ANY_PLACEHOLDER, '').match(/\{\{|\}\}/g) ?? [];
  return [...new Set([...whole, ...rest])];
}

const ANY_PLACEHOLDER = /\{\{(?:[^{}]|\{[^{}]*\})*\}\}/g;

/** Empty where it is known that there is nothing; undefined where there is no such name. */
function valueOf(name: string, known: Known): string | undefined {
  const key = name.toLowerCase();
  if (Object.hasOwn(PLACEHOLDERS, key)) return PLACEHOLDERS[key]!(known);
  return known.columns && Object.hasOwn(known.columns, key) ? known.columns[key]!.trim() : undefined;
}

/** A text as it stands in HTML. */
export function escapeHtml(text: string): string {
  return text.replace(/[&<>"]/g, (sign) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[sign]!);
}
