import { anyOf } from './anyOf.js';
import { QUOTED_FIELDS, SENT_FROM, WROTE } from './quoteMarks.js';

/** A text of a reply taken apart. */
export interface OwnWords {
  /** What its writer wrote, without what is quoted; empty where nothing is. */
  own: string;
  /** What stands below that as a signature (RFC 3676, section 4.3); empty for none. */
  signature: string;
  hasQuote: boolean;
}

/** Of longer texts the beginning is read. */
const MAX_OWN_TEXT_LINES = 20_000;
const MAX_OWN_TEXT_LINE_CHARS = 1000;
/** An introduction may be folded into so many lines. */
const MAX_INTRO_LINES = 4;
const MAX_INTRO_CHARS = 400;
/** Among so many lines the fields above a quoted message follow each other. */
const FIELD_LINES = 7;

const QUOTED = /^\s{0,3}[>＞]/;
/** Languages that set no blank between words have no end of a word to look for. */
const WROTE_WORD = new RegExp(`(?<!\\p{L})(?:${anyOf(WROTE)})(?!\\p{L})|のメール|写道|寫道|작성`, 'iu');
/** A date or an address, and no end of a sentence. */
const BEGINS_INTRODUCTION = /^(?=.*[\d@<]).*[^.!?。！？]$/u;
const ENDS_WITH_COLON = /[:：]\s*$/;
const ADDRESS = /[^\s<>@]@[^\s<>@]+\.[^\s<>@]+/u;
const ADDRESS_AND_DIGIT = /(?=.*\d).*[^\s<>@]@[^\s<>@]+\.[^\s<>@]+/u;
/** “-----Original Message-----”, “---------- Forwarded message ---------”, “------------------ 原始邮件 ------------------” */
const RULED_TITLE = /^\s*[-–—_=*~]{2,}\s?[^-–—_=*~\s][^-–—_=*~]{0,60}[-–—_=*~]{2,}\s*$/u;
const RULE = /^\s*[_–—=-]{8,}\s*$/;
/** RFC 3676, section 4.3; many leave the blank out. */
const SIGNATURE = /^--\s*$/;
const FIELD = /^\s*[*_]{0,2}(\p{L}[\p{L}\p{M} .’'-]{0,30}?)\s?[:：][*_]{0,2}(?:\s|$)/u;

/** Places among {@link QUOTED_FIELDS}. */
const FROM = 0;
const SUBJECT = 3;
const FIELD_KINDS = new Map<string, Set<number>>();
for (const fields of Object.values(QUOTED_FIELDS))
  fields.forEach((names, kind) => {
    for (const name of names.split('|')) FIELD_KINDS.set(name, (FIELD_KINDS.get(name) ?? new Set()).add(kind));
  });

/**
 * Takes what somebody wrote out of a reply: above, below or between what is quoted, in more than thirty languages, whether
 * each quoted line has its mark or everything after an introduction is the quote.
 *
 * @example ownWords('Yes, Tuesday.\n\nOn 3 March 2026 Ines wrote:\n> Would Tuesday suit you?').own // 'Yes, Tuesday.'
 */
export function ownWords(text: string): OwnWords {
  const lines = text.split(/\r?\n/).slice(0, MAX_OWN_TEXT_LINES);
  const own: string[] = [];
  const signature: string[] = [];
  let hasQuote = false;
  let isSignature = false;
  for (let at = 0; at < lines.length;) {
    const line = lines[at]!;
    if (QUOTED.test(line)) {
      hasQuote = true;
      isSignature = false;
      at += 1;
      continue;
    }
    const introduced = introductionAt(lines, at);
    if (introduced !== null) {
      hasQuote = true;
      // Without marks at its lines, the quote is all that follows.
      if (!introduced.isMarked) break;
      at = introduced.end;
      continue;
    }
    isSignature ||= isSignatureAt(lines, at, own);
    (isSignature ? signature : own).push(line);
    at += 1;
  }
  return { own: joined(own), signature: joined(signature).replace(/^--\s*\n/, ''), hasQuote };
}

/** The introduction of a quote that begins at a line: where it ends, and whether marked lines follow. Null for none. */
function introductionAt(lines: readonly string[], at: number): { end: number; isMarked: boolean } | null {
  const line = lines[at]!;
  if (line.trim() === '' || line.length > MAX_OWN_TEXT_LINE_CHARS) return null;
  if (RULED_TITLE.test(line)) return { end: at + 1, isMarked: isMarkedAt(lines, at + 1) };
  if (RULE.test(line) && kindsOf(lines[nextWritten(lines, at + 1)]).has(FROM)) return { end: at + 1, isMarked: false };
  if (hasFieldsAt(lines, at)) return { end: at + 1, isMarked: false };
  let words = '';
  for (let end = at; end < Math.min(lines.length, at + MAX_INTRO_LINES); end += 1) {
    const next = lines[end]!.trim();
    if (next === '' || QUOTED.test(next)) break;
    words = `${words} ${next}`.trim();
    if (words.length > MAX_INTRO_CHARS) break;
    if (end === at && !BEGINS_INTRODUCTION.test(next) && !WROTE_WORD.test(next)) break;
    if (!ENDS_WITH_COLON.test(words)) continue;
    const isMarked = isMarkedAt(lines, end + 1);
    if (isIntroduction(words, isMarked, end > at)) return { end: end + 1, isMarked };
  }
  return null;
}

/** Whether words that end with a colon introduce a quote. */
function isIntroduction(words: string, isMarked: boolean, isFolded: boolean): boolean {
  if (ADDRESS_AND_DIGIT.test(words)) return WROTE_WORD.test(words) || isMarked || !isFolded;
  if (!WROTE_WORD.test(words)) return false;
  // “He wrote:” may be the writer’s own sentence: a date tells, or the quote that follows.
  return /\d/.test(words) || (isMarked && !isFolded);
}

/** Whether the fields of a quoted message begin at a line: its sender with an address, or three of different kinds. */
function hasFieldsAt(lines: readonly string[], at: number): boolean {
  const first = kindsOf(lines[at]);
  if (first.size === 0) return false;
  if (first.has(FROM) && ADDRESS.test(lines[at]!)) return true;
  const found = new Set(first);
  let fields = 1;
  for (let next = at + 1; next < Math.min(lines.length, at + FIELD_LINES); next += 1) {
    const kinds = kindsOf(lines[next]);
    if (kinds.size === 0) continue;
    fields += 1;
    for (const kind of kinds) found.add(kind);
    // A date or a place by itself may be the writer’s; a subject is not.
    if (fields >= 3 && found.size >= 3 && found.has(SUBJECT)) return true;
  }
  return false;
}

/** What the field of a line may be: one word may be another’s in another language. */
function kindsOf(line: string | undefined): ReadonlySet<number> {
  const name = FIELD.exec(line ?? '')?.[1]?.toLowerCase();
  return (name !== undefined && FIELD_KINDS.get(name)) || NO_KINDS;
}

const NO_KINDS: ReadonlySet<number> = new Set();

function isMarkedAt(lines: readonly string[], at: number): boolean {
  const next = lines[nextWritten(lines, at)];
  return next !== undefined && QUOTED.test(next);
}

function nextWritten(lines: readonly string[], at: number): number {
  let next = at;
  while (next < lines.length && lines[next]!.trim() === '') next += 1;
  return next;
}

function isSignatureAt(lines: readonly string[], at: number, own: readonly string[]): boolean {
  const line = lines[at]!;
  if (SIGNATURE.test(line)) return true;
  // What a server or a list puts below; above everything it would be the writer’s.
  if (RULE.test(line)) return own.some((one) => one.trim() !== '');
  return SENT_FROM.some((pattern) => pattern.test(line.trim()));
}

function joined(lines: readonly string[]): string {
  return lines
    .map((line) => line.trimEnd())
    .join('\n')
    .replace(/\n{3,}/g, '\n\n')
    .trim();
}
