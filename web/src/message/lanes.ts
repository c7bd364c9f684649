import type { ChartMark, CopyView, EventKind, MessageSummary } from '@kiraku/core/contract';
import { dateWords } from '@kiraku/core/time';
import { deviceWords, personWords } from '@kiraku/core/tracking';

/** Marks that stand on one line of the chart. */
export interface Lane {
  key: string;
  label: string;
  marks: ChartMark[];
}

/** More than these are joined on one line. */
const MOST_LANES = 8;
const UNKNOWN = 'device not known';
/** What no device of theirs has asked for here. */
const BY_MAIL = new Set<EventKind>(['delivered', 'bounced', 'answered', 'receipt']);

/** A line for each letter of a conversation. */
export function lanesByLetter(marks: readonly ChartMark[], letters: readonly MessageSummary[], now: number): Lane[] {
  const label = new Map(
    letters.map(({ id, subject, sentAt, queuedAt }) => [
      id,
      `${subject || 'No subject'}, ${dateWords(sentAt ?? queuedAt, now)}`,
    ]),
  );
  return lanes(marks, ({ messageId }) => [String(messageId), label.get(messageId) ?? '']);
}

/** A line for each of several recipients, or for each device of the only one. */
export function lanesByReader(marks: readonly ChartMark[], copies: readonly CopyView[]): Lane[] {
  if (copies.length > 1) {
    const names = new Map(copies.map(({ id, recipient }) => [id, personWords(recipient)]));
    return lanes(marks, ({ copyId }) => [String(copyId), names.get(copyId) ?? '']);
  }
  return lanes(marks, (mark) => {
    const words = deviceWords(mark) || (BY_MAIL.has(mark.kind) ? 'by mail' : UNKNOWN);
    return [words, words];
  });
}

function lanes(marks: readonly ChartMark[], of: (mark: ChartMark) => [key: string, label: string]): Lane[] {
  const found = new Map<string, Lane>();
  for (const mark of marks) {
    const [key, label] = of(mark);
    const lane = found.get(key) ?? { key, label, marks: [] };
    lane.marks.push(mark);
    found.set(key, lane);
  }
  const all = [...found.values()];
  if (all.length === 0) return [{ key: 'none', label: '', marks: [] }];
  if (all.length <= MOST_LANES) return all;
  const busiest = all.sort((a, b) => b.marks.length - a.marks.length);
  const others = busiest.slice(MOST_LANES - 1);
  return [
    ...busiest.slice(0, MOST_LANES - 1),
    { key: 'others', label: `${others.length} others`, marks: others.flatMap((lane) => lane.marks) },
  ];
}
