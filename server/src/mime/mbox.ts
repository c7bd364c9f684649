/** Days and months as asctime(3) has them, whatever the language of the machine. */
const DAYS = ['Sun', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat'];
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/**
 * A mail as it stands in an mbox file (RFC 4155): after a line with its sender and time in UTC, with lines that end with LF, and
 * a “>” more before each line that would begin another mail, so that it can be taken off again.
 *
 * @param mail octets, one character each, with lines that end with CRLF
 */
export function mboxEntry(from: string, at: number, mail: string): string {
  const body = mail.replaceAll('\r\n', '\n').replace(/^(>*From )/gm, '>$1');
  return `From ${from} ${asctime(at)}\n${body}${body.endsWith('\n') ? '' : '\n'}\n`;
}

function asctime(at: number): string {
  const time = new Date(at);
  const two = (number: number) => String(number).padStart(2, '0');
  const clock = [time.getUTCHours(), time.getUTCMinutes(), time.getUTCSeconds()].map(two).join(':');
  const day = String(time.getUTCDate()).padStart(2, ' ');
  return `${DAYS[time.getUTCDay()]} ${MONTHS[time.getUTCMonth()]} ${day} ${clock} ${time.getUTCFullYear()}`;
}

/** Of a longer mail, its beginning is read. */
const MAX_ENTRY_BYTES = 50 * 1024 * 1024;
/** The line before a mail is no longer. */
const MAX_FROM_LINE_BYTES = 1000;
const FROM = Buffer.from('From ');
/** What begins a mail has a year in it, and text that begins with the word rarely does. */
const FROM_LINE = /^From .*\b\d{4}\b/;

/** Whether a file is an mbox: it begins with the line that stands before a mail. */
export function isMbox(beginning: Buffer): boolean {
  return beginning.subarray(0, FROM.length).equals(FROM);
}

/**
 * The mails of an mbox file (RFC 4155), in their order, as they come. What another program has left unquoted within a mail
 * ends it only after an empty line, and with a year.
 *
 * @param chunks of the file, from its beginning
 */
export async function* mboxMails(chunks: AsyncIterable<Buffer>): AsyncGenerator<Buffer> {
  let mail = new Growing();
  let rest: Buffer = Buffer.alloc(0);
  let isBegun = false;
  for await (const chunk of chunks) {
    rest = rest.length === 0 ? chunk : Buffer.concat([rest, chunk]);
    for (;;) {
      const found = nextEntry(rest, isBegun || mail.length > 0);
      if (found === null) break;
      mail.add(rest.subarray(0, found.end));
      if (isBegun) yield mail.whole();
      mail = new Growing();
      isBegun = true;
      rest = rest.subarray(found.next);
    }
    // A line that may begin a mail is looked at when all of it has come.
    const sure = Math.max(0, rest.length - MAX_FROM_LINE_BYTES);
    mail.add(rest.subarray(0, sure));
    rest = rest.subarray(sure);
  }
  mail.add(rest);
  if (isBegun) yield mail.whole();
}

/** Where the mail before ends, and where the next begins; null where none is found. */
function nextEntry(bytes: Buffer, isWithin: boolean): { end: number; next: number } | null {
  for (let at = bytes.indexOf(FROM); at !== -1; at = bytes.indexOf(FROM, at + 1)) {
    const line = bytes.subarray(at, at + MAX_FROM_LINE_BYTES);
    const lineEnd = line.indexOf(0x0a);
    const isFirst = at === 0 && !isWithin;
    if (!isFirst && !isAfterEmptyLine(bytes, at)) continue;
    if (lineEnd === -1 || !FROM_LINE.test(line.toString('latin1', 0, lineEnd))) continue;
    return { end: at, next: at + lineEnd + 1 };
  }
  return null;
}

function isAfterEmptyLine(bytes: Buffer, at: number): boolean {
  return /\n\r?\n$/.test(bytes.toString('latin1', Math.max(0, at - 3), at));
}

/** The bytes of a mail that is being read. */
class Growing {
  private readonly parts: Buffer[] = [];
  length = 0;

  add(bytes: Buffer): void {
    const part = bytes.subarray(0, MAX_ENTRY_BYTES - this.length);
    if (part.length > 0) this.parts.push(part);
    this.length += part.length;
  }

  /** Without the empty line after it, and without what quotes a line that would begin a mail. */
  whole(): Buffer {
    const written = Buffer.concat(this.parts).toString('latin1');
    return Buffer.from(written.replace(/\r?\n$/, '').replace(/^>(>*From )/gm, '$1'), 'latin1');
  }
}
