/** RFC 3676, section 4.2: lines of 78 characters or fewer, the space at their end included. */
const WIDTH = 76;

/** The line before a signature (RFC 3676, section 4.3): it ends with a space and is never flowed. */
const SIGNATURE_LINE = '-- ';

/**
 * Text as `text/plain; format=flowed` (RFC 3676): wrapped for programs that show lines as they come, and marked so that
 * those that know better fit each paragraph to their window.
 *
 * @param text a paragraph a line, line ends of any kind, quotations marked by `>` at the start of their lines
 * @returns the lines as they travel, ended by CRLF
 */
export function flowed(text: string): string {
  return text
    .split(/\r\n|\r|\n/)
    .flatMap(flowedParagraph)
    .join('\r\n');
}

function flowedParagraph(paragraph: string): string[] {
  if (paragraph === SIGNATURE_LINE) return [paragraph];
  const mark = /^(?:> ?)*/.exec(paragraph)![0];
  const quote = mark.replaceAll(' ', '');
  // Only a line that is to be joined with the next may end with a space.
  const words = paragraph.slice(mark.length).trimEnd();
  return wrapped(words, WIDTH - quote.length - 1).map((line) => quote + stuffed(line, quote !== ''));
}

/** Broken after spaces, which stay at the line's end; a word that is longer than a line stands whole. */
function wrapped(words: string, width: number): string[] {
  const lines = [''];
  for (const word of words.match(/\S+ ?| /g) ?? []) {
    const line = lines.at(-1)!;
    const breakable = line.endsWith(' ') && line.trim() !== '' && line !== SIGNATURE_LINE;
    if (breakable && line.length + word.trimEnd().length > width) lines.push(word);
    else lines[lines.length - 1] = line + word;
  }
  return lines;
}

/** Section 4.4: a space in front of what would else be taken for a quotation, for a stuffed line or for a mailbox's mark. */
function stuffed(line: string, quoted: boolean): string {
  return line !== '' && (quoted || /^(?: |>|From )/.test(line)) ? ` ${line}` : line;
}
