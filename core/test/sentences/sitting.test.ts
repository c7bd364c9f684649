import { sittingsOf } from '@kiraku/core/activity';
import { sittingContext, sittingsDayText, sittingText } from '@kiraku/core/sentences';
import type { EventView } from '@kiraku/core/contract';
import { HOUR, MINUTE, SECOND } from '@kiraku/core/time';
import { eventView } from '../eventView.js';

const NOW = Date.UTC(2026, 10, 8, 12);
const MARIT = { name: 'Marit Oakes', address: 'marit@lindqvist.example', kind: 'to' as const };
const JUN = { name: 'Jun Falk', address: 'jun@lindqvist.example', kind: 'cc' as const };
const view = { now: NOW, pagesOf: (id: number | null) => (id === 1 ? 8 : null) };
const OPENED: Partial<EventView> = { kind: 'opened' };
const CLICKED: Partial<EventView> = { kind: 'clicked', label: 'price list' };
const VIEWED: Partial<EventView> = { kind: 'file_viewed', label: 'Plan.pdf', sentFileId: 1 };
const page = (number: number): Partial<EventView> => ({
  ...VIEWED,
  kind: 'page_viewed',
  page: number,
  readMs: 100 * SECOND,
});

/** One sitting of these events, the oldest first, a minute apart; it ended so long ago. */
function sitting(parts: Partial<EventView>[], endedMs = HOUR) {
  const events = parts.map((part, index) =>
    eventView({ eventId: index, at: NOW - endedMs - (parts.length - 1 - index) * MINUTE, recipient: MARIT, ...part }),
  );
  return sittingsOf(events.reverse())[0]!;
}

test.each<[parts: Partial<EventView>[], text: string]>([
  [[OPENED], 'opened it'],
  [[OPENED, OPENED], 'opened it 2 times'],
  [[OPENED, CLICKED], 'opened it and clicked “price list”'],
  [[CLICKED, CLICKED], 'clicked “price list”'],
  [[CLICKED, { ...CLICKED, label: 'map' }], 'clicked “price list” and “map”'],
  [[CLICKED, { ...CLICKED, label: 'map' }, { ...CLICKED, label: 'shop' }], 'clicked 3 links'],
  [[{ kind: 'clicked', label: null }], 'clicked 1 link'],
  [
    [OPENED, CLICKED, VIEWED, page(1), page(3)],
    'opened it, clicked “price list” and read 2 of 8 pages of “Plan.pdf” for 3 min 20 s',
  ],
  [[VIEWED, ...[1, 2, 3, 4, 5, 6, 7, 8].map(page)], 'read all 8 pages of “Plan.pdf” for 13 min 20 s'],
  [[VIEWED], 'viewed “Plan.pdf”'],
  [[{ ...VIEWED, sentFileId: 2, label: 'Felt.jpg' }], 'viewed “Felt.jpg”'],
  [[{ kind: 'downloaded', label: 'Plan.pdf' }], 'downloaded “Plan.pdf”'],
  [[{ kind: 'replied', label: 'Gladly' }], 'Replied: “Gladly”'],
])('%#: %s', (parts, text) => {
  expect(sittingText(sitting(parts), view)).toBe(text);
});

test('who reads a file this moment is on a page of it; a machine is on none', () => {
  const reading = [OPENED, VIEWED, page(1), page(5)];
  expect(sittingText(sitting(reading, 9 * MINUTE), view)).toBe(
    'opened it and is on page 5 of 8 in “Plan.pdf”, 3 min 20 s so far',
  );
  const machine = reading.map((part) => ({ ...part, counted: false, reason: 'scanner' }));
  expect(sittingText(sitting(machine, 9 * MINUTE), view)).toContain('read 2 of 8 pages');
  // Gone on to something else.
  expect(sittingText(sitting([...reading, OPENED], 9 * MINUTE), view)).toContain('read 2 of 8 pages');
});

test('one device is said in full, two of them in their order', () => {
  const phone = { device: 'phone', program: 'Safari', system: 'iOS', place: null };
  const computer = { device: 'computer', program: 'Firefox', system: 'Windows', place: 'Bergen' };
  expect(sittingContext(sitting([phone, phone]))).toBe('phone, Safari, iOS');
  expect(sittingContext(sitting([phone, computer]))).toBe('phone, then computer · Bergen');
});

test('a folded day says who was there, and how often', () => {
  const at = (hours: number, part: Partial<EventView>) =>
    eventView({ at: NOW - hours * HOUR, recipient: MARIT, ...part });
  const marit = [at(1, OPENED), at(3, OPENED)];
  expect(sittingsDayText(sittingsOf(marit))).toBe('2 sittings: Marit Oakes');
  const jun = at(5, { ...OPENED, recipient: JUN, copyId: 2 });
  const machine = at(6, { ...OPENED, counted: false, reason: 'scanner' });
  const reply = at(7, { kind: 'replied', label: 'Gladly' });
  expect(sittingsDayText(sittingsOf([...marit, jun, machine, reply]))).toBe(
    '3 sittings: Marit Oakes 2, Jun Falk 1; Marit Oakes: Replied: “Gladly”; 1 not counted',
  );
  expect(sittingsDayText(sittingsOf([machine]))).toBe('1 not counted');
});
