import type { FileKind } from '../contract/file.js';

/** How files of a type are called and shown; the first pattern that fits stands. */
const TYPES: readonly { pattern: RegExp; kind: FileKind; words: string }[] = [
  { pattern: /^application\/pdf$/, kind: 'pages', words: 'PDF' },
  { pattern: /presentationml|opendocument\.presentation/, kind: 'office', words: 'Slides' },
  { pattern: /spreadsheetml|opendocument\.spreadsheet/, kind: 'office', words: 'Sheet' },
  { pattern: /wordprocessingml|opendocument\.text|^application\/rtf$/, kind: 'office', words: 'Document' },
  // None that can hold a script.
  { pattern: /^image\/(png|jpeg|gif|webp|avif)$/, kind: 'picture', words: 'Image' },
  { pattern: /^video\/(mp4|webm)$/, kind: 'video', words: 'Video' },
  { pattern: /^audio\/(mpeg|mp4|x-m4a|ogg|opus|wav|webm|aac|flac|x-flac)$/, kind: 'audio', words: 'Audio' },
  { pattern: /^(image|video)\//, kind: 'other', words: 'Image or video' },
  { pattern: /zip|compressed|x-tar|gzip|x-7z|x-rar/, kind: 'other', words: 'Archive' },
  { pattern: /./, kind: 'other', words: 'File' },
];

export function kindOfType(mediaType: string): FileKind {
  return typeOf(mediaType).kind;
}

/** “PDF”, “Slides”, “Picture”: what people call it. */
export function typeWords(mediaType: string): string {
  return typeOf(mediaType).words;
}

function typeOf(mediaType: string) {
  return TYPES.find(({ pattern }) => pattern.test(mediaType)) ?? TYPES.at(-1)!;
}
