import { accessSync, constants } from 'node:fs';
import { mkdir, rm, symlink, writeFile } from 'node:fs/promises';
import { delimiter, join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { MINUTE } from '@kiraku/core/time';
import { runBounded, type Bounds } from '../process/bounded.js';

const BOUNDS: Bounds = {
  timeMs: 2 * MINUTE,
  memoryBytes: 2 * 1024 * 1024 * 1024,
  fileBytes: 512 * 1024 * 1024,
};

/** By the type that the content shows: LibreOffice chooses how to read by the name’s end. */
const EXTENSIONS: [pattern: RegExp, extension: string][] = [
  [/presentationml/, 'pptx'],
  [/wordprocessingml/, 'docx'],
  [/spreadsheetml/, 'xlsx'],
  [/opendocument\.presentation/, 'odp'],
  [/opendocument\.text/, 'odt'],
  [/opendocument\.spreadsheet/, 'ods'],
  [/rtf/, 'rtf'],
];

/** No macros run, and nothing is fetched that a document points to. */
const CAUTION = `<?xml version="1.0" encoding="UTF-8"?>
<oor:items xmlns:oor="http://openoffice.org/2001/registry">
<item oor:path="/org.openoffice.Office.Common/Security/Scripting"><prop oor:name="DisableMacrosExecution" oor:op="fuse"><value>true</value></prop></item>
<item oor:path="/org.openoffice.Office.Common/Security/Scripting"><prop oor:name="BlockUntrustedRefererLinks" oor:op="fuse"><value>true</value></prop></item>
<item oor:path="/org.openoffice.Office.Common/Security/Scripting"><prop oor:name="DisableActiveContent" oor:op="fuse"><value>true</value></prop></item>
<item oor:path="/org.openoffice.Office.Writer/Content/Update"><prop oor:name="Link" oor:op="fuse"><value>0</value></prop></item>
<item oor:path="/org.openoffice.Office.Calc/Content/Update"><prop oor:name="Link" oor:op="fuse"><value>1</value></prop></item>
</oor:items>
`;

/** What turns slides, text documents and sheets into pages; null where LibreOffice is not on this machine. */
export function findConverter(): string | null {
  const folders = (process.env['PATH'] ?? '').split(delimiter);
  const paths = folders.flatMap((folder) => ['soffice', 'libreoffice'].map((name) => join(folder, name)));
  return paths.find(isProgram) ?? null;
}

/**
 * Turns an office document into a PDF.
 *
 * @param path of the document
 * @param folder an empty one, which is used up
 * @returns the path of the PDF, in the folder
 * @throws OutOfBoundsError where it takes too long; Error where it cannot be done
 */
export async function convertToPdf(
  program: string,
  path: string,
  mediaType: string,
  folder: string,
  signal: AbortSignal,
): Promise<string> {
  const profile = join(folder, 'profile');
  await mkdir(join(profile, 'user'), { recursive: true });
  await writeFile(join(profile, 'user', 'registrymodifications.xcu'), CAUTION);
  const source = join(folder, `document.${extensionOf(mediaType)}`);
  await symlink(path, source);
  const args = ['--headless', '--norestore', '--nologo', `-env:UserInstallation=${pathToFileURL(profile)}`];
  await runBounded(program, [...args, '--convert-to', 'pdf', '--outdir', folder, source], BOUNDS, {
    home: folder,
    signal,
  });
  await rm(profile, { recursive: true });
  return join(folder, 'document.pdf');
}

function extensionOf(mediaType: string): string | undefined {
  return EXTENSIONS.find(([pattern]) => pattern.test(mediaType))?.[1];
}

function isProgram(path: string): boolean {
  try {
    accessSync(path, constants.X_OK);
    return true;
  } catch {
    return false;
  }
}
