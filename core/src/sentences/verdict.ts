import type { EventView } from '../contract/event.js';
import { counted } from '../time/words.js';
import { isUncertain, reasonOf } from '../tracking/judge.js';

type Judged = Pick<EventView, 'reason' | 'evidence'>;

/** What a reason or a piece of evidence says: “a security filter followed several links at once”; its bare name where it has gone. */
export function reasonText(name: string): string {
  return reasonOf(name)?.words ?? name;
}

/**
 * Whether an event counts and by what: “Not counted: an automatic reply.”, “Counted: it came over an ordinary connection. 93%
 * likely a person.”
 */
export function verdictSentence(event: EventView): string {
  const { counted: isCounted, override, reason, evidence, times } = event;
  if (isCounted && override === true) return 'Counted, because you said so.';
  if (isCounted) return withLikelihood(event, `Counted: ${evidenceText(evidence) ?? 'nothing suggests a machine'}.`);
  return withLikelihood(
    event,
    reason === null
      ? `Not counted: no reason is known${requestsText(times)}.`
      : `${notCountedText({ reason, evidence }, times)}.`,
  );
}

/** Why an event is not counted, below its line: “Not counted: an automatic reply, 3 requests”. */
export function notCountedText({ reason, evidence }: Judged, requests: number): string {
  // What a fact decides, no evidence decides with it.
  const isWeighed = evidence?.split(',')[0] === reason;
  const why = (isWeighed ? evidenceText(evidence) : null) ?? reasonText(reason ?? '');
  return `Not counted: ${why}${requestsText(requests)}`;
}

/** A count, and of how many of it nobody can be sure: “4, 1 uncertain”. */
export function countText(all: number, uncertain: number): string {
  return uncertain > 0 ? `${all}, ${uncertain} uncertain` : String(all);
}

/** Of how many events of one line nobody can be sure: “uncertain”, “2 uncertain”; null where of none. */
export function uncertainText(events: readonly EventView[]): string | null {
  const uncertain = events.filter(isUncertain).length;
  if (uncertain === 0) return null;
  return events.length === 1 ? 'uncertain' : `${uncertain} uncertain`;
}

/** Past activity like what was decided on: “7 similar opens, clicks and views still count.” */
export function similarText(number: number, isCounted: boolean): string {
  const what = counted(number, 'similar open, click or view', 'similar opens, clicks and views');
  if (isCounted) return `${what} ${number === 1 ? 'does' : 'do'} not count.`;
  return `${what} still ${number === 1 ? 'counts' : 'count'}.`;
}

/** “7 similar ones do not count now.” */
export function similarDecidedText(number: number, isCounted: boolean): string {
  const verb = isCounted ? (number === 1 ? 'counts' : 'count') : number === 1 ? 'does not count' : 'do not count';
  return `${counted(number, 'similar one', 'similar ones')} ${verb} now.`;
}

function withLikelihood(event: EventView, sentence: string): string {
  if (event.likelihood === null || event.override !== null) return sentence;
  const likely = `${event.likelihood}% likely a person.`;
  return `${sentence} ${isUncertain(event) ? `Uncertain: ${likely}` : likely}`;
}

function evidenceText(evidence: string | null): string | null {
  return evidence === null ? null : evidence.split(',').map(reasonText).join(', and ');
}

function requestsText(requests: number): string {
  return requests > 1 ? `, ${counted(requests, 'request')}` : '';
}
