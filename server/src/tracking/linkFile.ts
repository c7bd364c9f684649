import { closeSync, existsSync, fstatSync, openSync, readFileSync, readSync } from 'node:fs';
import { join } from 'node:path';

/*
 * Where the links lead that have left, beside the database, for the day on which it cannot be read: lines of a token, a
 * tab and a target. One file has them sorted by token; the other those that left since, in any order.
 */
const LONGEST_LINE_BYTES = 70_000;

export function sortedLinks(dataDir: string): string {
  return join(dataDir, 'links.sorted');
}

export function recentLinks(dataDir: string): string {
  return join(dataDir, 'links.recent');
}

export function linkLine(token: string, url: string): string {
  return `${token}\t${url.replace(/[\r\n]/g, '')}\n`;
}

/** Where a link leads by those files; null where they do not say. */
export function findLink(dataDir: string, token: string): string | null {
  return findAmong(recentLinks(dataDir), token) ?? findSorted(sortedLinks(dataDir), token);
}

function findAmong(file: string, token: string): string | null {
  if (!existsSync(file)) return null;
  const line = readFileSync(file, 'utf8')
    .split('\n')
    .find((one) => one.startsWith(`${token}\t`));
  return line?.slice(token.length + 1) ?? null;
}

/** Halves the file until the line is found: some twenty reads among millions. */
function findSorted(file: string, token: string): string | null {
  if (!existsSync(file)) return null;
  const fd = openSync(file, 'r');
  try {
    let low = 0;
    let high = fstatSync(fd).size;
    while (low < high) {
      const middle = Math.floor((low + high) / 2);
      const { start, end, text } = lineAt(fd, middle, low);
      const found = text.slice(0, text.indexOf('\t'));
      if (found === token) return text.slice(token.length + 1);
      if (found < token) low = end;
      else high = start;
    }
    return null;
  } finally {
    closeSync(fd);
  }
}

/** The line in which a position lies; it begins at `from` at the earliest. */
function lineAt(fd: number, position: number, from: number): { start: number; end: number; text: string } {
  const first = Math.max(from, position - LONGEST_LINE_BYTES);
  const bytes = Buffer.alloc(position - first + LONGEST_LINE_BYTES);
  const read = bytes.subarray(0, readSync(fd, bytes, 0, bytes.length, first));
  const start = position === first ? 0 : read.lastIndexOf(0x0a, position - first - 1) + 1;
  const newline = read.indexOf(0x0a, position - first);
  const end = newline === -1 ? read.length : newline;
  return { start: first + start, end: first + end + 1, text: read.toString('utf8', start, end) };
}
