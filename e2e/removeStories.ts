import { rmSync } from 'node:fs';

/** After a run: the stories that its worlds were copied from. */
export default function removeStories(): void {
  rmSync(process.env['KIRAKU_STORIES']!, { recursive: true, force: true });
}
