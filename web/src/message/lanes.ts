import { isOf } from '@kiraku/core/activity';
import { datedSubjectText, deviceText, personText } from '@kiraku/core/sentences';
import type { ChartEvent, CopyView, MessageSummary } from '@kiraku/core/contract';

/** Marks that stand on one line of the chart. */
export interface Lane {
  key: string;
  label: string;
  trailEvents: ChartEvent[];
}

/** More than these are joined on one line. */
const MAX_LANES = 8;
const UNKNOWN = 'unknown device';

/** A line for each message of a conversation. */
export function lanesByMessage(
  trailEvents: readonly ChartEvent[],
  messages: readonly MessageSummary[],
  now: number,
): Lane[] {
  const label = new Map(messages.map((message) => [message.id, datedSubjectText(message, now)]));
  return lanes(trailEvents, ({ messageId }) => [String(messageId), label.get(messageId) ?? '']);
}

/** A line for each of several recipients, or for each device of the only one. */
export function lanesByReader(trailEvents: readonly ChartEvent[], copies: readonly CopyView[]): Lane[] {
  if (copies.length > 1) {
    const names = new Map(copies.map(({ id, recipient }) => [id, personText(recipient)]));
    return lanes(trailEvents, ({ copyId }) => [String(copyId), names.get(copyId) ?? '']);
  }
  return lanes(trailEvents, (mark) => {
    const words = deviceText(mark) || (isOf('mail', mark.kind) ? 'by mail' : UNKNOWN);
    return [words, words];
  });
}

function lanes(trailEvents: readonly ChartEvent[], of: (mark: ChartEvent) => [key: string, label: string]): Lane[] {
  const found = new Map<string, Lane>();
  for (const mark of trailEvents) {
    const [key, label] = of(mark);
    const lane = found.get(key) ?? { key, label, trailEvents: [] };
    lane.trailEvents.push(mark);
    found.set(key, lane);
  }
  const all = [...found.values()];
  if (all.length === 0) return [{ key: 'none', label: '', trailEvents: [] }];
  if (all.length <= MAX_LANES) return all;
  const busiest = all.sort((a, b) => b.trailEvents.length - a.trailEvents.length);
  const others = busiest.slice(MAX_LANES - 1);
  return [
    ...busiest.slice(0, MAX_LANES - 1),
    { key: 'others', label: `${others.length} others`, trailEvents: others.flatMap((lane) => lane.trailEvents) },
  ];
}
