import type { DraftFile, FileVersion } from '../contract/file.js';
import { escapeHtml } from '../message/placeholders.js';
import { counted } from '../time/words.js';
import { typeWords } from './kinds.js';
import { sizeWords, titleOf } from './names.js';
import { PALETTES } from '../look/index.js';

/** Where the block of a file stands in a draft. */
const BLOCKS = /<p data-file="(\d{1,15})">[^<]*<\/p>/g;

/** A file as the block names it. */
export interface BlockFile {
  fileId: number;
  name: string;
  version: Pick<FileVersion, 'mediaType' | 'size' | 'pages'>;
}

/** The place of a file in a draft. */
export function fileMark({ fileId, name }: Pick<BlockFile, 'fileId' | 'name'>): string {
  return `<p data-file="${fileId}">${escapeHtml(titleOf(name))}</p>`;
}

/** The files that have a place in a draft, each once, in their order. */
export function filesPlaced(html: string): number[] {
  return [...new Set([...html.matchAll(BLOCKS)].map(([, id]) => Number(id)))];
}

/**
 * A draft with each file’s block in its place: those that have none follow at the end, marks of files that do not travel
 * with it go. The block is a table, which every mail program shows alike; its words are never an address.
 *
 * @param urlOf where a file is shown, in characters that need no escaping; null names it and leads nowhere
 */
export function withFileBlocks(
  html: string,
  files: readonly BlockFile[],
  urlOf: (file: BlockFile) => string | null,
): string {
  const byId = new Map(files.map((file) => [file.fileId, file]));
  const placed = new Set<number>();
  const inPlace = html.replace(BLOCKS, (_mark, id: string) => {
    const file = byId.get(Number(id));
    if (!file || placed.has(file.fileId)) return '';
    placed.add(file.fileId);
    return blockOf(file, urlOf(file));
  });
  const rest = files.filter(({ fileId }) => !placed.has(fileId));
  return inPlace + rest.map((file) => blockOf(file, urlOf(file))).join('');
}

/** A message that is quoted: its files are words like others. */
export function withFilesNamed(html: string): string {
  return html.replace(BLOCKS, (mark) => mark.replace(/^<p [^>]*>/, '<p>'));
}

/** A message without any place of a file, or of one. */
export function withoutFileMarks(html: string, fileId?: number): string {
  return html.replace(BLOCKS, (mark, id: string) => (fileId === undefined || Number(id) === fileId ? '' : mark));
}

/** A message that keeps the places of some files, and loses those of all others. */
export function withFileMarksOf(html: string, files: readonly Pick<DraftFile, 'fileId'>[]): string {
  const kept = new Set(files.map(({ fileId }) => fileId));
  return html.replace(BLOCKS, (mark, id: string) => (kept.has(Number(id)) ? mark : ''));
}

export function isLinked({ way }: Pick<DraftFile, 'way'>): boolean {
  return way === 'link';
}

/** Any HTML in ASCII only, so that it fits a message in any charset. */
export function inAscii(html: string): string {
  return html.replace(/[^\0-\x7f]/gu, (character) => `&#${character.codePointAt(0)};`);
}

/** “PDF, 2.1 MB, 12 pages”. */
export function fileWords({ mediaType, size, pages }: BlockFile['version']): string {
  return [typeWords(mediaType), sizeWords(size), pages !== null && counted(pages, 'page')].filter(Boolean).join(', ');
}

const { line, softInk } = PALETTES.light;
const CELL = `border: 1px solid ${line}; padding: 10px 14px; font-size: 15px; line-height: 1.4`;

function blockOf({ name, version }: BlockFile, url: string | null): string {
  const title = escapeHtml(titleOf(name));
  return (
    '<table role="presentation" cellspacing="0" cellpadding="0" border="0" style="margin: 12px 0; border-collapse: collapse">' +
    `<tr><td style="${CELL}">${url === null ? title : `<a href="${url}">${title}</a>`}<br>` +
    `<span style="font-size: 13px; color: ${softInk}">${escapeHtml(fileWords(version))}</span></td></tr></table>`
  );
}
