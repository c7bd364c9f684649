import { fileURLToPath } from 'node:url';

/**
 * The file of a program or thread of its own, always as bundled: it is ready in a third of the time, since it need not
 * look for its modules one by one. The way there is the same from the parts as from the bundle, which lies as deep.
 */
export function programFile(
  name:
    | 'inspector'
    | 'painter'
    | 'mailReader.program'
    | 'recorder.worker'
    | 'reports.worker'
    | 'makeBackup'
    | 'checkDatabase',
): string {
  return fileURLToPath(new URL(`../bundle/${name}.js`, import.meta.url));
}
