import fc from 'fast-check';
import type { EventKind, EventView, MessageSummary, TrailEvent } from '@kiraku/core/contract';
import { EVENT_KINDS } from '@kiraku/core/contract';
import {
  eventSentence,
  eventText,
  messageStatus,
  namesText,
  peopleText,
  personText,
  quoted,
} from '@kiraku/core/sentences';
import { EMPTY_TALLY } from '@kiraku/core/tracking';

const NOW = Date.UTC(2026, 10, 23, 12);
const ARABIC = 'ليلى حداد';
const HEBREW = 'נועה לוי';
const ISOLATED = /^\u2068[^\u2068\u2069]*\u2069$/;

const event = (kind: EventKind, name: string, subject: string, label: string | null) =>
  ({ kind, recipient: { kind: 'to', name, address: 'a@b.example' }, subject, label, page: 2, readMs: 0 }) as EventView;

test('a name that runs from right to left is isolated, and turns nothing around it', () => {
  for (const name of [ARABIC, HEBREW, `Felt ${HEBREW}`]) {
    expect(personText({ name, address: '' })).toMatch(ISOLATED);
    expect(quoted(name)).toBe(`“\u2068${name}\u2069”`);
  }
  expect(personText({ name: 'Åsa Ölund', address: '' })).toBe('Åsa Ölund');
  expect(eventSentence(event('clicked', ARABIC, HEBREW, 'price list'))).toBe(
    `\u2068${ARABIC}\u2069 clicked “price list” in “\u2068${HEBREW}\u2069”`,
  );
});

test('who has no name is called by the address', () => {
  expect(personText({ name: '', address: 'marit@lindqvist.example' })).toBe('marit@lindqvist.example');
});

test.each([
  [0, 'nobody yet'],
  [1, 'Person 0'],
  [2, 'Person 0 and 1 more'],
  [500, 'Person 0 and 499 more'],
])('%d people', (count, text) => {
  const people = Array.from({ length: count }, (_, index) => ({ name: `Person ${index}`, address: '' }));
  expect(peopleText(people, 'nobody yet')).toBe(text);
});

test.each([
  [0, ''],
  [1, 'P0'],
  [3, 'P0, P1, P2'],
  [4, 'P0, P1, P2 and 1 more'],
  [500, 'P0, P1, P2 and 497 more'],
])('%d names, of which three are said', (count, text) => {
  const names = Array.from({ length: count }, (_, index) => `P${index}`);
  expect(namesText(names, 3)).toBe(text);
});

/** Marks that isolate must be closed, and closed only once, whatever names say. */
function isBalanced(text: string): boolean {
  let depth = 0;
  for (const sign of text) {
    if (sign === '\u2068') depth += 1;
    if (sign === '\u2069') depth -= 1;
    if (depth < 0 || depth > 1) return false;
  }
  return depth === 0;
}

test('whatever people, subjects and links are called, a sentence is one line that names them whole', () => {
  const name = fc.oneof(
    fc.constantFrom(ARABIC, HEBREW, 'Marit', 'x'.repeat(300)),
    fc.string({ minLength: 1, maxLength: 60 }),
  );
  const visible = name.filter((text) => text.trim() !== '' && !/[\u2068\u2069]/.test(text));
  fc.assert(
    fc.property(fc.constantFrom(...EVENT_KINDS), visible, visible, fc.option(visible), (kind, who, subject, label) => {
      const sentence = eventSentence(event(kind, who, subject, label));
      expect(sentence).toContain(who);
      expect(sentence).toContain(subject);
      expect(isBalanced(sentence)).toBe(true);
      expect(eventText(event(kind, who, subject, label))).not.toMatch(/undefined|null|NaN/);
    }),
  );
});

const clicked = (...labels: string[]): MessageSummary => {
  const trailEvents = labels.map((label, eventId): TrailEvent => ({
    eventId,
    at: NOW - 60_000,
    kind: 'clicked',
    counted: true,
    label,
  }));
  return {
    state: 'sent',
    trailEvents,
    trackOpens: true,
    trackClicks: true,
    untrackedReason: null,
    lastError: null,
    sentAt: NOW - 3_600_000,
    forgottenAt: null,
    tally: { ...EMPTY_TALLY, clicks: labels.length, lastEventAt: NOW - 60_000 },
  } as unknown as MessageSummary;
};

test.each([
  [['price list'], 'Read, images blocked: clicked “price list”'],
  [['price list', 'plan'], 'Read, images blocked: clicked “price list” and “plan”'],
  [['a', 'b', 'c'], 'Read, images blocked: clicked 3 links'],
  [['price list', 'price list', 'price list'], 'Read, images blocked: clicked “price list”'],
  [Array.from({ length: 250 }, (_, index) => `link ${index}`), 'Read, images blocked: clicked 250 links'],
  [[HEBREW], `Read, images blocked: clicked “\u2068${HEBREW}\u2069”`],
])('clicks on %j', (labels, text) => {
  expect(messageStatus(clicked(...labels), NOW).text).toBe(text);
});
