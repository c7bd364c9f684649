const UTF16_MARKS = { fffe: 'utf-16le', feff: 'utf-16be' } as const;

/**
 * The text of a file as spreadsheets of several countries and years write it: in UTF-16 where its first bytes say so
 * (Unicode, section 23.8), in UTF-8 where it can be that, and else in windows-1252, in which every byte is a character.
 */
export function sheetText(bytes: ArrayBuffer): string {
  const mark = [...new Uint8Array(bytes.slice(0, 2))].map((byte) => byte.toString(16)).join('');
  if (mark in UTF16_MARKS) return new TextDecoder(UTF16_MARKS[mark as keyof typeof UTF16_MARKS]).decode(bytes);
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder('windows-1252').decode(bytes);
  }
}
