import type { NotRecordedView, ProcessName, ProcessView } from '../contract/index.js';
import { counted, shortWords } from '../time/words.js';

/** As the page calls the processes. */
export const PROCESS_NAMES: Record<ProcessName, string> = { desk: 'Kiraku', 'public site': 'Public address' };

/** Since when a process runs, and how it ended before. */
export function processSentence({ startedAt, restarts, lastEnd }: ProcessView, now: number): string {
  const running = `Running since ${shortWords(startedAt, now)}`;
  if (!lastEnd) return `${running}.`;
  const times = restarts === 1 ? 'once' : `${restarts} times`;
  return `${running}, restarted ${times}. It ended ${shortWords(lastEnd.at, now)}: ${lastEnd.why}`;
}

/** What could not be recorded. */
export function notRecordedTitle({ count }: NotRecordedView): string {
  return `${counted(count, 'open or click', 'opens and clicks')} could not be recorded`;
}

/** Why, what it meant to recipients, and what to do. */
export function notRecordedSentence({ lastAt, why }: NotRecordedView, now: number): string {
  return `The last one: ${shortWords(lastAt, now)}, ${why}. Recipients still saw images and followed links. Make room on the disk.`;
}

/** Why something in the background failed. */
export function failureSentence({ at, text }: { at: number; text: string }, now: number): string {
  return `Failed ${shortWords(at, now)}: ${text}`;
}
