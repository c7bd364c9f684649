import type { EventView } from '@kiraku/core/contract';
import {
  countText,
  networkText,
  notCountedText,
  reasonText,
  similarDecidedText,
  similarText,
  uncertainText,
  verdictSentence,
} from '@kiraku/core/sentences';
import { DECISIVE, EVIDENCE } from '@kiraku/core/tracking';

const event = (part: Partial<EventView>) =>
  ({ counted: false, override: null, reason: null, evidence: null, likelihood: null, times: 1, ...part }) as EventView;

test.each<[part: Partial<EventView>, sentence: string]>([
  [{ counted: true }, 'Counted: nothing suggests a machine.'],
  [{ counted: true, override: true }, 'Counted, because you said so.'],
  [{ reason: 'override', override: false }, 'Not counted: you decided so.'],
  [{ reason: 'many-links' }, 'Not counted: a security filter followed several links at once.'],
  [{ reason: 'flood', times: 1200 }, 'Not counted: more requests at once than a person makes, 1200 requests.'],
  [{ reason: 'a-rule-that-has-gone' }, 'Not counted: a-rule-that-has-gone.'],
  [{}, 'Not counted: no reason is known.'],
  [
    { reason: 'many-links', evidence: 'many-links,no-browser', likelihood: 2 },
    'Not counted: a security filter followed several links at once, and what followed the link names no browser. 2% likely a person.',
  ],
  [
    { counted: true, evidence: 'ordinary-network', likelihood: 73 },
    'Counted: it came over an ordinary connection. 73% likely a person.',
  ],
  [{ counted: true, likelihood: 50 }, 'Counted: nothing suggests a machine. Uncertain: 50% likely a person.'],
  // What is known of it by itself stays, and is not what decided.
  [
    { reason: 'override', evidence: 'ordinary-network', likelihood: 73, override: false },
    'Not counted: you decided so.',
  ],
])('%j', (part, sentence) => {
  expect(verdictSentence(event(part))).toBe(sentence);
});

test('every reason and piece of evidence completes “Not counted: …”, and no two say the same', () => {
  const texts = [...DECISIVE, ...EVIDENCE].map(({ name }) => reasonText(name));
  expect(new Set(texts).size).toBe(texts.length);
  expect(texts.filter((text) => !/^[a-z].*[^.]$/.test(text))).toEqual([]);
});

test('below a line the reason stands with the number of requests', () => {
  expect(notCountedText({ reason: 'override', evidence: null }, 1)).toBe('Not counted: you decided so');
  expect(notCountedText({ reason: 'flood', evidence: null }, 2)).toBe(
    'Not counted: more requests at once than a person makes, 2 requests',
  );
});

test('of how many nobody can be sure is said after the count', () => {
  expect(countText(4, 1)).toBe('4, 1 uncertain');
  expect(countText(4, 0)).toBe('4');
  const [sure, unsure] = [event({ likelihood: 90 }), event({ likelihood: 40 })];
  expect(uncertainText([sure])).toBeNull();
  expect(uncertainText([unsure])).toBe('uncertain');
  expect(uncertainText([sure, unsure])).toBe('1 uncertain');
});

test.each([
  [1, false, '1 similar open, click or view still counts.', '1 similar one does not count now.'],
  [7, false, '7 similar opens, clicks and views still count.', '7 similar ones do not count now.'],
  [1, true, '1 similar open, click or view does not count.', '1 similar one counts now.'],
  [7, true, '7 similar opens, clicks and views do not count.', '7 similar ones count now.'],
])('of %d like one that was decided on: %s', (number, isCounted, offered, decided) => {
  expect(similarText(number, isCounted)).toBe(offered);
  expect(similarDecidedText(number, isCounted)).toBe(decided);
});

test.each([
  [
    { seenAs: 'filter', filter: 6, people: 1 },
    'Behaves like a security filter: 6 sightings of a filter, 1 sighting of people',
  ],
  [{ seenAs: 'people', filter: 0, people: 2.5 }, 'People read here: 2.5 sightings of people'],
  [{ seenAs: null, filter: 0, people: 0 }, 'Not clear yet: nothing seen lately'],
] as const)('a network says what it was seen to do: %j', (network, text) => expect(networkText(network)).toBe(text));
