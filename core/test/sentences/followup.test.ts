import { CONDITIONS, type ReminderView, type StepView } from '@kiraku/core/contract';
import {
  conditionText,
  dueText,
  endedText,
  followupsSentence,
  laterFollowupsSentence,
  planEndText,
  readTimeSentence,
  remindersSetText,
  reminderText,
  soFarText,
  stepText,
} from '@kiraku/core/sentences';
import { HOUR } from '@kiraku/core/time';

const NOW = Date.UTC(2026, 10, 23, 12);
const MARIT = { name: 'Marit Oakes', address: 'marit@lindqvist.example' };

test('every condition says what it waits for, and how that stands', () => {
  for (const text of [conditionText, soFarText]) expect(new Set(CONDITIONS.map(text)).size).toBe(CONDITIONS.length);
  expect(CONDITIONS.map(conditionText).filter((text) => !/^(if|in) /.test(text))).toEqual([]);
});

test('a reminder says whom and what it is about', () => {
  const reminder = { condition: 'not-replied' as const, note: 'Ask for the plan', subject: 'Panels', person: MARIT };
  expect(reminderText(reminder)).toEqual(['Marit Oakes: “Panels”, no reply yet', 'Ask for the plan']);
  expect(reminderText({ ...reminder, person: null })[0]).toBe('“Panels”, no reply yet');
  expect(reminderText({ ...reminder, subject: '' })[0]).toBe('Marit Oakes: “a message without subject”, no reply yet');
  expect(reminderText({ ...reminder, subject: null })).toEqual(['Ask for the plan', 'Marit Oakes']);
  expect(reminderText({ ...reminder, subject: null, note: '' })).toEqual(['Get in touch with Marit Oakes', '']);
});

const reminder = (part: Partial<ReminderView>) =>
  ({
    state: 'waiting',
    dueAt: NOW,
    condition: 'not-opened',
    message: {},
    reason: null,
    endedAt: null,
    ...part,
  }) as ReminderView;

test('when it is due, and what became of it', () => {
  expect(dueText(reminder({}), 'tomorrow', NOW)).toBe('tomorrow, if not opened');
  expect(dueText(reminder({ message: null }), 'tomorrow', NOW)).toBe('tomorrow');
  expect(dueText(reminder({ state: 'due', dueAt: NOW - HOUR }), '', NOW)).toBe('Due since 1 hour ago: not opened yet');
  expect(dueText(reminder({ state: 'due', dueAt: NOW - HOUR, message: null }), '', NOW)).toBe('Due since 1 hour ago');
  expect(endedText(reminder({ state: 'done', endedAt: NOW - HOUR }), NOW)).toBe('Done 1 hour ago');
  expect(endedText(reminder({ state: 'resolved', reason: 'Replied', endedAt: NOW - HOUR }), NOW)).toBe(
    'Replied 1 hour ago: not needed any more',
  );
});

const step = (part: Partial<StepView>) =>
  ({ state: 'planned', reason: null, workingDays: 1, time: null, ...part }) as StepView;

test.each<[part: Partial<StepView>, at: string | null, text: string]>([
  [{ state: 'sent' }, null, 'was sent'],
  [{ state: 'stopped' }, 'tomorrow', 'is not sent'],
  [{ state: 'skipped', reason: 'A link was clicked' }, null, 'was skipped: a link was clicked'],
  [{ reason: 'No mailbox is connected' }, 'tomorrow', 'waits: no mailbox is connected'],
  [{}, 'tomorrow at 9:00', 'will be sent tomorrow at 9:00'],
  [{}, null, '1 working day after the previous message, at the best time'],
  [{ workingDays: 3, time: '09:30' }, null, '3 working days after the previous message, 09:30'],
])('a follow-up %j', (part, at, text) => {
  expect(stepText(step(part), at)).toBe(text);
});

test('why a plan has ended', () => {
  expect(planEndText(true, null)).toBe('All messages were sent');
  expect(planEndText(false, 'Replied')).toBe('Replied: no more messages are sent');
  expect(planEndText(false, null)).toBe('Stopped: no more messages are sent');
});

test.each([
  [0, 0, 0, '0 reminders due, 0 waiting; 0 conversations with automatic follow-ups.'],
  [1, 1, 1, '1 reminder due, 1 waiting; 1 conversation with automatic follow-ups.'],
  [3, 250, 2, '3 reminders due, 250 waiting; 2 conversations with automatic follow-ups.'],
])('what is open: %d due, %d waiting, %d plans', (due, waiting, running, text) =>
  expect(followupsSentence({ due, waiting, running })).toBe(text),
);

test('more that are open than are shown are counted', () => {
  const shown = { due: 3, waiting: 497, running: 500 };
  const open = (change: object) => laterFollowupsSentence({ ...shown, ...change }, shown);
  expect(open({})).toBe('');
  expect(open({ waiting: 498 })).toBe('Those due first are shown, and not 1 more reminder.');
  expect(open({ due: 4, waiting: 520, running: 501 })).toBe(
    'Those due first are shown, and not 24 more reminders and 1 more conversation with automatic follow-ups.',
  );
});

test('what was set says how many, and for when', () => {
  expect(remindersSetText(1, 'Mon 30 Nov, 09:00')).toBe('A reminder for Mon 30 Nov, 09:00');
  expect(remindersSetText(2, 'Mon 30 Nov, 09:00')).toBe('2 reminders for Mon 30 Nov, 09:00');
});

test('a time that was read from words is said back', () => {
  expect(readTimeSentence('Mon 30 Nov, 09:00', false)).toBe('That is Mon 30 Nov, 09:00.');
  expect(readTimeSentence('Mon 30 Nov, 09:00', true)).toBe('Sent now, that is Mon 30 Nov, 09:00.');
});
