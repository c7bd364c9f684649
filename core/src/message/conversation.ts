/** A copy by which a message may belong to a conversation. */
export interface Relative {
  /** Number of the message. */
  id: number;
  /** Its Message-ID. */
  header: string;
  /** The Message-IDs that it goes on with. */
  conversation: readonly string[];
}

/**
 * The messages that hang together with one: those that name, or reply to, one Message-ID (RFC 5322, section 3.6.4), and
 * those that hang together with these.
 *
 * @param relatives copies among which they are looked for, in any order
 * @returns numbers of messages, rising; the one itself among them
 */
export function conversationOf(id: number, relatives: readonly Relative[]): number[] {
  const found = new Set([id]);
  const known = new Set(relatives.filter((one) => one.id === id).flatMap(headersOf));
  // What is found may lead on to others: until nothing is found any more.
  for (let grown = true; grown;) {
    grown = false;
    for (const one of relatives) {
      if (found.has(one.id) || !headersOf(one).some((header) => known.has(header))) continue;
      grown = true;
      found.add(one.id);
      for (const header of relatives.filter((other) => other.id === one.id).flatMap(headersOf)) known.add(header);
    }
  }
  return [...found].sort((a, b) => a - b);
}

function headersOf({ header, conversation }: Relative): string[] {
  return [header, ...conversation];
}
