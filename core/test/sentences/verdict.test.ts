import type { EventView } from '@kiraku/core/contract';
import { notCountedText, reasonText, verdictSentence } from '@kiraku/core/sentences';
import { REASONS } from '@kiraku/core/tracking';

const event = (part: Partial<EventView>) =>
  ({ counted: false, override: null, reason: null, times: 1, ...part }) as EventView;

test.each<[part: Partial<EventView>, sentence: string]>([
  [{ counted: true }, 'Counted: nothing suggests a machine.'],
  [{ counted: true, override: true }, 'Counted, because you said so.'],
  [{ reason: 'override', override: false }, 'Not counted: you decided so.'],
  [{ reason: 'many-links' }, 'Not counted: a security filter followed several links at once.'],
  [{ reason: 'flood', times: 1200 }, 'Not counted: more requests at once than a person makes, 1200 requests.'],
  [{ reason: 'a-rule-that-has-gone' }, 'Not counted: a-rule-that-has-gone.'],
  [{}, 'Not counted: no reason is known.'],
])('%j', (part, sentence) => {
  expect(verdictSentence(event(part))).toBe(sentence);
});

test('every reason completes “Not counted: …”, and no two say the same', () => {
  const texts = REASONS.map(({ name }) => reasonText(name));
  expect(new Set(texts).size).toBe(texts.length);
  expect(texts.filter((text) => !/^[a-z].*[^.]$/.test(text))).toEqual([]);
});

test('below a line the reason stands with the number of requests', () => {
  expect(notCountedText('override', 1)).toBe('Not counted: you decided so');
  expect(notCountedText('flood', 2)).toBe('Not counted: more requests at once than a person makes, 2 requests');
});
