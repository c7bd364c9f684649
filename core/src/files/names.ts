import { FILE_LIMITS } from './limits.js';

/** Control characters, what separates lines, and what turns the direction of the text around it. */
const INVISIBLE = /[\p{Cc}\p{Cf}\u2028\u2029]+/gu;
/** What some system takes for a path, a drive, or a pattern. */
const UNFIT = /[<>:"|?*\\/]+/g;

/**
 * A file’s name as it may be kept, shown and offered for saving: the last part of a path, in one line, without what
 * could make it look like another. Never empty; too long a name keeps its extension.
 */
export function fileName(given: string): string {
  const last = given.split(/[\\/]/).findLast((part) => part.trim() !== '') ?? '';
  const clean = last
    .normalize('NFC')
    .replace(INVISIBLE, '')
    .replace(UNFIT, ' ')
    .replace(/\s+/g, ' ')
    .trim()
    .replace(/^\.+|[. ]+$/g, '');
  if (clean === '') return 'file';
  const characters = [...clean];
  if (characters.length <= FILE_LIMITS.maxNameChars) return clean;
  const extension = extensionOf(clean);
  return characters.slice(0, FILE_LIMITS.maxNameChars - extension.length).join('') + extension;
}

/** The name without its extension: mail programs make a link of “price.zip”, which is a name on the Internet. */
export function titleOf(name: string): string {
  const extension = extensionOf(name);
  return extension === '' ? name : name.slice(0, -extension.length);
}

/** “.pdf”; empty where there is none. */
export function extensionOf(name: string): string {
  return /(?<=.)\.[A-Za-z0-9]{1,10}$/.exec(name)?.[0] ?? '';
}

const UNITS = ['KB', 'MB', 'GB'];

/** “640 KB”, “2.1 MB”: by thousands, as shops and systems of today count. */
export function sizeWords(bytes: number): string {
  if (bytes < 1000) return bytes === 1 ? '1 byte' : `${bytes} bytes`;
  let size = bytes;
  let unit = -1;
  // 999,950 bytes would be “1000 KB”.
  while (unit < 0 || (size >= 999.95 && unit < UNITS.length - 1)) {
    size /= 1000;
    unit += 1;
  }
  return `${size < 10 ? Number(size.toFixed(1)) : Math.round(size)} ${UNITS[unit]}`;
}
