import type { EventView } from '../contract/event.js';
import { counted } from '../time/words.js';
import { reasonOf } from '../tracking/judge.js';

/** Why an event is not counted: “a security filter followed several links at once”; the bare name where a rule has gone. */
export function reasonText(name: string): string {
  return reasonOf(name)?.words ?? name;
}

/** “Not counted: an automatic reply.”, “Counted, because you said so.” */
export function verdictSentence({ counted: isCounted, override, reason, times }: EventView): string {
  if (isCounted) return override === true ? 'Counted, because you said so.' : 'Counted: nothing suggests a machine.';
  return reason === null
    ? `Not counted: no reason is known${requestsText(times)}.`
    : `${notCountedText(reason, times)}.`;
}

/** Why an event is not counted, below its line: “Not counted: an automatic reply, 3 requests”. */
export function notCountedText(reason: string, requests: number): string {
  return `Not counted: ${reasonText(reason)}${requestsText(requests)}`;
}

function requestsText(requests: number): string {
  return requests > 1 ? `, ${counted(requests, 'request')}` : '';
}
