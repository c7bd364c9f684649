import type { SummaryView, TrailEvent } from '@kiraku/core/contract';
import { isInSummary, summaryEmail, summaryTitle } from '@kiraku/core/sentences';

test.each([
  [0, 0, 0, 'Nothing to do, and nothing new'],
  [1, 0, 0, '1 person to contact'],
  [3, 2, 5, '3 people to contact, 2 reminders due, activity on 5 messages'],
  [0, 0, 1, 'Activity on 1 message'],
])('%d to contact, %d due, %d active', (contact, due, active, title) => {
  expect(summaryTitle(contact, due, active)).toBe(title);
});

const VIEW: SummaryView = {
  from: 0,
  to: 1,
  title: '1 person to contact',
  isEmpty: false,
  parts: [
    {
      title: 'Contact next',
      lines: [{ text: 'Ada <script>, Quill & Works', detail: 'Opened "twice"', path: '/sent/1' }],
      more: { text: 'And 3 more', detail: '', path: '/today' },
    },
  ],
};

test('an email says the same in both forms, leads into Kiraku, and is no way in for what others are called', () => {
  const { subject, text, html } = summaryEmail(VIEW, 'https://desk.example');
  expect(subject).toBe('Summary: 1 person to contact');
  expect(text).toBe(
    '1 person to contact.\n\nContact next\n\n' +
      '- Ada <script>, Quill & Works\n  Opened "twice"\n  https://desk.example/sent/1\n\n' +
      '- And 3 more\n  https://desk.example/today\n\nAll of it: https://desk.example/summary\n',
  );
  expect(html).toContain(
    '<li><a href="https://desk.example/sent/1">Ada &lt;script&gt;, Quill &amp; Works</a><br>Opened &quot;twice&quot;</li>',
  );
  expect(html).toContain('<li><a href="https://desk.example/today">And 3 more</a></li>');
  expect(html).not.toContain('<script>');
});

test('what recipients did is in it, and what does not count, or came from servers, is not', () => {
  const event = (kind: TrailEvent['kind'], counted = true) => ({ kind, counted }) as TrailEvent;
  for (const kind of ['opened', 'clicked', 'file_viewed', 'replied'] as const)
    expect([isInSummary(event(kind)), isInSummary(event(kind, false))]).toEqual([true, false]);
  for (const kind of ['delivered', 'bounced', 'receipt'] as const) expect(isInSummary(event(kind))).toBe(false);
});
