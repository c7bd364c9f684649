import { anyOf } from './anyOf.js';
import { ABSENCE, AUTOMATIC_REPLY } from './automaticSubjects.js';
import { CALENDAR_PREFIXES } from './calendarReply.js';
import { REPLY_PREFIXES } from './replyPrefixes.js';

const MAX_INCOMING_SUBJECT_CHARS = 1000;
/** Stands before one another in any number; more than this is no subject any more. */
const MAX_PREFIXES = 40;

/** “Re[2]:”, “AW (3):”, “RE^2:”, “回复：” */
const NUMBER = '\\s*(?:\\[\\d{1,3}\\]|\\(\\d{1,3}\\)|\\^\\d{1,3})?';
const COLON = '\\s*[:：﹕∶]\\s*';
const REPLY = new RegExp(`^(?:${anyOf(REPLY_PREFIXES)})${NUMBER}${COLON}`, 'iu');
const BEFORE_SUBJECT = new RegExp(
  `^(?:${anyOf(AUTOMATIC_REPLY, ABSENCE, CALENDAR_PREFIXES)})(?:\\s*[:：﹕∶]\\s*|\\s+[-–—]\\s+)`,
  'iu',
);
/** “[EXTERNAL]”, “(extern)”, “【社外】”, “***SPAM***”, “EXTERNAL:” : what a server or a list put there. */
const TAG =
  /^(?:\[[^\][]{1,60}\]|【[^】【]{1,60}】|［[^］［]{1,60}］|\((?:ext|extern|external|externe|externo|esterno|spam)\)|\*{2,}[^*]{1,40}\*{2,}|(?:external|extern|externe|externo|esterno|ekstern)\s*[:：])\s*/iu;

/** A subject taken apart. */
export interface SubjectParts {
  /** Whether something before it says that it is a reply or was forwarded. */
  isReply: boolean;
  /** What is left without such prefixes and without tags, before the words of automatic and of calendar replies go. */
  title: string;
  /** In lower case, without all of these: what tells whether one message goes on with another. */
  root: string;
}

/**
 * Takes a subject apart: prefixes of replies and forwards in the languages of {@link REPLY_PREFIXES}, with numbers and colons
 * of full width, and tags in brackets, stacked in any order.
 *
 * @example readSubject('[EXTERNAL] AW: Re[2]: Panels').root // 'panels'
 */
export function readSubject(subject: string): SubjectParts {
  let title = subject.normalize('NFC').slice(0, MAX_INCOMING_SUBJECT_CHARS).replace(/\s+/g, ' ').trim();
  let isReply = false;
  for (let n = 0; n < MAX_PREFIXES; n += 1) {
    const rest = title.replace(REPLY, '');
    isReply ||= rest !== title;
    const next = rest.replace(TAG, '').trim();
    // A subject that is nothing but a tag is that tag.
    if (next === title || next === '') break;
    title = next;
  }
  const root = title.replace(BEFORE_SUBJECT, '').trim();
  const inner = root === title || root === '' ? title : readSubject(root).root;
  return { isReply, title, root: inner.toLowerCase() };
}

/** A subject without what programs put before it, for telling whether one replies to another. */
export function subjectRoot(subject: string): string {
  return readSubject(subject).root;
}
