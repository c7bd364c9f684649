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
  const requests = times > 1 ? `, ${counted(times, 'request')}` : '';
  return `Not counted: ${reason === null ? 'no reason is known' : reasonText(reason)}${requests}.`;
}
