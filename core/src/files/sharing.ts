import type { FileKind, FileVersion, SentFile, ViewerFile } from '../contract/file.js';

/** What becomes of a file of each kind: it is shown, after it was turned into pages where that is needed, or not at all. */
const SHOWN: Record<FileKind, { as: ViewerFile['shows']; turned?: true }> = {
  pages: { as: 'pages' },
  office: { as: 'pages', turned: true },
  picture: { as: 'picture' },
  video: { as: 'video' },
  audio: { as: 'audio' },
  other: { as: 'none' },
};

const NOT_SHOWN = 'Files of this type can only be downloaded';

/** How a file stands after it was looked at: ready to be shown, waiting to be turned into pages, or only to be downloaded. */
export function preparationOfFile(
  kind: FileKind,
  problem: string | null,
): Pick<FileVersion, 'preparation' | 'problem'> {
  const { as, turned } = SHOWN[kind];
  if (problem !== null || as === 'none') return { preparation: 'download-only', problem: problem ?? NOT_SHOWN };
  return { preparation: turned ? 'waiting' : 'ready', problem: null };
}

/** Whether its bytes are shown as they are. */
export function isShownAsItIs(kind: FileKind): boolean {
  const { as, turned } = SHOWN[kind];
  return as !== 'none' && !turned;
}

/** How a version is shown to whoever opens it now. */
export function shownAs({ kind, preparation }: Pick<FileVersion, 'kind' | 'preparation'>): ViewerFile['shows'] {
  if (preparation === 'ready') return SHOWN[kind].as;
  return preparation === 'download-only' ? 'none' : 'soon';
}

/** Whether a link leads to its file at a time. */
export function isOpen({ closedAt, endsAt }: Pick<SentFile, 'closedAt' | 'endsAt'>, now: number): boolean {
  return closedAt === null && (endsAt === null || now < endsAt);
}

/** Whether it can be downloaded: as was chosen, save that what cannot be shown would otherwise be of no use. */
export function mayBeDownloaded(
  { mayDownload }: Pick<SentFile, 'mayDownload'>,
  { preparation }: Pick<FileVersion, 'preparation'>,
): boolean {
  return mayDownload || preparation === 'download-only';
}
