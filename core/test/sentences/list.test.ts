import { LIST_ACTIONS, LIST_COLUMNS, SHOWN, UNDONE_BY } from '@kiraku/core/contract';
import { DEFAULT_VIEW, QUICK_CHOICES } from '@kiraku/core/sent';
import {
  actionDoneText,
  filtersText,
  noSignText,
  proposalsSentence,
  recipientsText,
  selectionSentence,
  QUICK_TEXTS,
  SHOWN_TEXTS,
  SORT_TEXTS,
  totalsSentence,
} from '@kiraku/core/sentences';

test('the list’s sentence has a text of its own for whatever is shown', () => {
  expect(Object.keys(SHOWN_TEXTS).sort()).toEqual([...SHOWN].sort());
  const texts = Object.values(SHOWN_TEXTS);
  expect(texts.filter((text) => !/^([a-z]+ )?messages\b/.test(text))).toEqual([]);
  expect(new Set(texts).size).toBe(texts.length);
});

test('each quick choice is something that the list shows, with a name of its own', () => {
  expect(Object.keys(QUICK_TEXTS)).toEqual([...QUICK_CHOICES]);
  expect(new Set(Object.values(QUICK_TEXTS)).size).toBe(QUICK_CHOICES.length);
});

test('what is done with messages is undone by what is undone by it', () => {
  for (const action of LIST_ACTIONS) expect([action, UNDONE_BY[UNDONE_BY[action]]]).toEqual([action, action]);
});

test('every column has a name of its own, and two directions that differ', () => {
  expect(Object.keys(SORT_TEXTS).sort()).toEqual([...LIST_COLUMNS].sort());
  const columns = Object.values(SORT_TEXTS).map(({ column }) => column);
  expect(new Set(columns).size).toBe(columns.length);
  for (const { column, desc, asc } of Object.values(SORT_TEXTS).filter(({ column }) => column !== 'best match')) {
    expect([column, desc === asc]).toEqual([column, false]);
    for (const direction of [desc, asc])
      expect(direction).toMatch(/^(newest|oldest|most|fewest|longest|shortest) first$/);
  }
});

test.each([
  [0, 0, '0 messages, none left out.'],
  [1, 1, '1 message, none left out.'],
  [83, 83, '83 messages, none left out.'],
  [12, 83, '12 of 83 messages.'],
  [0, 1, '0 of 1 messages.'],
  [1000, 1_000_000, '1000 of 1000000 messages.'],
])('%d of %d', (total, everything, sentence) => {
  expect(totalsSentence({ total, everything })).toBe(sentence);
});

test('whom the list is narrowed to', () => {
  const view = { company: '', domain: '' };
  expect(recipientsText(view, null)).toBe('anyone');
  expect(recipientsText(view, 'Marit Oakes')).toBe('Marit Oakes');
  expect(recipientsText({ company: 'Lindqvist', domain: 'lindqvist.example' }, 'Marit Oakes')).toBe(
    'Marit Oakes, people at Lindqvist, people at lindqvist.example',
  );
});

test('what else it is narrowed to', () => {
  expect(filtersText(DEFAULT_VIEW)).toBe('no other filter');
  expect(filtersText({ ...DEFAULT_VIEW, archived: true, noted: true, template: 3, link: 'price list' })).toBe(
    'archived, with a private note, from one template, with “price list” clicked',
  );
});

test.each([
  [1, '1 message with no sign for more than a week'],
  [14, '14 messages with no sign for more than a week'],
])('what shows no sign: %d', (total, text) => expect(noSignText(total)).toBe(text));

test.each([
  [1, 0, '1 person, most urgent first'],
  [12, 0, '12 people, most urgent first'],
  [20, 300, '320 people, most urgent first; 300 less urgent left out'],
])('whom Today proposes: %d, and %d more', (shown, more, text) => expect(proposalsSentence(shown, more)).toBe(text));

test('what was done with messages says how many, and each action differently', () => {
  expect(actionDoneText('archive', 1)).toBe('1 message archived');
  expect(actionDoneText('unarchive', 1000)).toBe('1000 messages back in the list');
  expect(new Set(LIST_ACTIONS.map((action) => actionDoneText(action, 2))).size).toBe(LIST_ACTIONS.length);
});

test.each([
  [0, 'Select messages in the list.'],
  [1, '1 message selected.'],
  [83, '83 messages selected.'],
])('%d selected', (count, sentence) => {
  expect(selectionSentence(count)).toBe(sentence);
});
