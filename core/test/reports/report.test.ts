import fc from 'fast-check';
import { spreadSentence } from '@kiraku/core/sentences';
import { changesOf, FACT_NAMES, FACTS, OutcomeCounter, ReportCounter, reportOf, type Fact } from '@kiraku/core/reports';
import { DAY, HOUR, MINUTE } from '@kiraku/core/time';

const NOW = Date.UTC(2026, 10, 23, 12);
const ZONE = 'Europe/Amsterdam';

interface SentMessage extends Partial<Record<Fact, boolean>> {
  sentAt: number;
  templateId: number | null;
  firstOpenAt: number | null;
  repliedAt: number | null;
}

const UNREAD: SentMessage = {
  sentAt: NOW - 10 * DAY,
  templateId: null,
  isTracked: true,
  firstOpenAt: null,
  repliedAt: null,
};
const opened = (sentAt: number, afterMs: number): SentMessage => ({
  ...UNREAD,
  sentAt,
  wasRead: true,
  firstOpenAt: sentAt + afterMs,
});
const replied = (message: SentMessage): SentMessage => ({
  ...message,
  wasRead: true,
  wasReplied: true,
  repliedAt: message.sentAt + DAY,
});
const factsOf = (message: SentMessage) => FACT_NAMES.reduce((sum, name) => sum + (message[name] ? FACTS[name] : 0), 0);
const report = (messages: SentMessage[], names = new Map<number, string>()) => {
  const counter = new ReportCounter(ZONE);
  for (const message of messages) {
    const { sentAt, templateId, firstOpenAt, repliedAt } = message;
    counter.add(factsOf(message), sentAt, templateId, firstOpenAt, repliedAt);
  }
  return counter.view(names);
};

test('each share is of those it can be known of', () => {
  const {
    messages,
    read,
    clicked,
    viewed,
    replied: rate,
  } = report([
    UNREAD,
    { ...UNREAD, isTracked: false },
    { ...UNREAD, hasLinks: true, wasRead: true, wasClicked: true },
    { ...UNREAD, hasLinks: true, hasFiles: true, wasRead: true, wasViewed: true },
    replied(UNREAD),
  ]);
  expect(messages).toBe(5);
  expect(read).toMatchObject({ n: 3, of: 4 });
  expect(clicked).toMatchObject({ n: 1, of: 2 });
  expect(viewed).toMatchObject({ n: 1, of: 1 });
  expect(rate).toMatchObject({ n: 1, of: 5 });
});

test('lengths of time are given by their quarters; an open noted before its sending took no time', () => {
  const sentAt = NOW - 10 * DAY;
  const { untilOpened, untilReplied } = report([
    // In no order, and not in that of their messages as text.
    opened(sentAt, 6 * HOUR),
    opened(sentAt, -500),
    opened(sentAt, 4 * DAY),
    opened(sentAt, 10 * MINUTE),
    opened(sentAt, 2 * HOUR),
  ]);
  expect(untilReplied).toBeNull();
  expect(untilOpened).toEqual({ n: 5, firstQuartile: 10 * MINUTE, median: 2 * HOUR, thirdQuartile: 6 * HOUR });
  expect(spreadSentence(untilOpened!)).toBe(
    'Half within 2 hours; a quarter within 10 minutes, three quarters within 6 hours.',
  );
});

test('how long replies take is given by their quarters, too', () => {
  const sentAt = NOW - 10 * DAY;
  const after = (ms: number): SentMessage => ({ ...UNREAD, sentAt, wasReplied: true, repliedAt: sentAt + ms });
  const { untilReplied, untilOpened } = report([
    after(3 * DAY),
    after(HOUR),
    after(2 * HOUR),
    after(DAY),
    after(30 * MINUTE),
  ]);
  expect(untilOpened).toBeNull();
  expect(untilReplied).toEqual({ n: 5, firstQuartile: HOUR, median: 2 * HOUR, thirdQuartile: DAY });
});

test('between two, a quarter lies in proportion', () => {
  const sentAt = NOW - 10 * DAY;
  const { untilOpened } = report([4, 1, 2, 3].map((hours) => opened(sentAt, hours * HOUR)));
  expect(untilOpened).toEqual({ n: 4, firstQuartile: 1.75 * HOUR, median: 2.5 * HOUR, thirdQuartile: 3.25 * HOUR });
});

test('first opens lie at their weekday and hour by the zone’s clocks', () => {
  // Thursday 5 November 2026, 9:15 in Amsterdam, twice; and Sunday 8 November, 23:50.
  const times = [Date.UTC(2026, 10, 5, 8, 15), Date.UTC(2026, 10, 5, 8, 15), Date.UTC(2026, 10, 8, 22, 50)];
  const { opening } = report(times.map((at) => ({ ...UNREAD, sentAt: at - HOUR, wasRead: true, firstOpenAt: at })));
  expect(opening.total).toBe(3);
  expect(opening.readTimes[3]![9]).toBe(2);
  expect(opening.readTimes[6]![23]).toBe(1);
  expect(opening.readTimes.flat().reduce((sum, count) => sum + count, 0)).toBe(3);
});

test('weeks begin on the zone’s Monday and leave no gap, also where the clocks are changed', () => {
  // Sunday 25 October 2026, 23:30 in Amsterdam, the day on which summer time ends; and the Monday after.
  const { weeks } = report([
    { ...UNREAD, sentAt: Date.UTC(2026, 9, 25, 22, 30) },
    { ...UNREAD, sentAt: Date.UTC(2026, 9, 25, 23, 30) },
    replied({ ...UNREAD, sentAt: Date.UTC(2026, 10, 12, 9) }),
  ]);
  expect(weeks).toEqual([
    { monday: '2026-10-19', messages: 1, read: 0, replied: 0 },
    { monday: '2026-10-26', messages: 1, read: 0, replied: 0 },
    { monday: '2026-11-02', messages: 0, read: 0, replied: 0 },
    { monday: '2026-11-09', messages: 1, read: 1, replied: 1 },
  ]);
  expect(report([]).weeks).toEqual([]);
});

test('a template is compared with all other messages, those of none among them', () => {
  const of = (templateId: number | null, count: number, replies: number) =>
    Array.from({ length: count }, (_, n) =>
      n < replies ? replied({ ...UNREAD, templateId }) : { ...UNREAD, templateId },
    );
  const names = new Map([
    [1, 'First approach'],
    [2, 'Nudge'],
    [3, 'Never used'],
  ]);
  const { templates } = report([...of(1, 60, 45), ...of(2, 50, 6), ...of(null, 30, 5)], names);
  expect(templates.map(({ name, messages }) => [name, messages])).toEqual([
    ['First approach', 60],
    ['Nudge', 50],
  ]);
  expect(templates[0]!.comparison!.difference).toBeCloseTo(45 / 60 - 11 / 80);
  expect(templates[0]!.comparison!.low).toBeGreaterThan(0);
  expect(templates[1]!.comparison!.high).toBeLessThan(0);
  expect(report(of(1, 3, 1), names).templates[0]!.comparison).toBeNull();
});

test('whatever was sent, the parts make the whole', () => {
  const message = fc
    .record({
      daysAgo: fc.integer({ min: 0, max: 400 }),
      templateId: fc.constantFrom(null, 1, 2),
      isTracked: fc.boolean(),
      hasLinks: fc.boolean(),
      wasRead: fc.boolean(),
      wasClicked: fc.boolean(),
      wasReplied: fc.boolean(),
    })
    .map(({ daysAgo, ...rest }): SentMessage => {
      const sentAt = NOW - daysAgo * DAY;
      return { ...rest, sentAt, firstOpenAt: rest.wasRead ? sentAt + HOUR : null, repliedAt: null };
    });
  fc.assert(
    fc.property(fc.array(message, { maxLength: 60 }), (messages) => {
      const names = new Map([
        [1, 'One'],
        [2, 'Two'],
      ]);
      const { read, clicked, replied: rate, opening, weeks, templates, untilOpened, ...view } = report(messages, names);
      const those = (is: (one: SentMessage) => boolean | undefined) => messages.filter(is).length;
      expect(view.messages).toBe(messages.length);
      expect([read.n, read.of]).toEqual([those((m) => m.isTracked && m.wasRead), those((m) => m.isTracked)]);
      expect([clicked.n, clicked.of]).toEqual([those((m) => m.hasLinks && m.wasClicked), those((m) => m.hasLinks)]);
      expect([rate.n, rate.of]).toEqual([those((m) => m.wasReplied), messages.length]);
      expect(opening.total).toBe(untilOpened?.n ?? 0);
      expect(weeks.length).toBeLessThanOrEqual(26);
      const mondays = weeks.map(({ monday }) => Date.parse(monday));
      mondays.forEach((monday, n) => n > 0 && expect(monday - mondays[n - 1]!).toBe(7 * DAY));
      const ofTemplates = templates.reduce((sum, template) => sum + template.messages, 0);
      expect(ofTemplates).toBe(those(({ templateId }) => templateId !== null));
    }),
  );
});

test('very many lengths of time are spread as few are', () => {
  const sentAt = NOW - 40 * DAY;
  // In no order, and more than there is room for at first.
  const { untilOpened } = report(Array.from({ length: 5001 }, (_, n) => opened(sentAt, ((n * 1237) % 5001) * MINUTE)));
  expect(untilOpened).toEqual({
    n: 5001,
    firstQuartile: 1250 * MINUTE,
    median: 2500 * MINUTE,
    thirdQuartile: 3750 * MINUTE,
  });
});

test('what has changed since is said of each share, and of none where there was nothing', () => {
  const outcome = (tracked: number, read: number) => {
    const counter = new OutcomeCounter();
    for (let n = 0; n < tracked; n += 1)
      counter.add(FACTS.isTracked + (n < read ? FACTS.wasRead : 0), NOW - DAY, null, null);
    return counter.view();
  };
  const changes = changesOf(outcome(70, 56), outcome(80, 48));
  // As of 95 per cent in the literature that the comparison of two shares is from.
  expect(changes.read).toMatchObject({ low: expect.closeTo(0.0524, 3), high: expect.closeTo(0.3339, 3) });
  expect(changes.clicked).toBeNull();
  expect(changesOf(outcome(70, 56), outcome(0, 0)).read).toBeNull();
});

test('one walk tells the period from the days before and from what is too recent, to the millisecond', () => {
  const from = Date.UTC(2026, 9, 31, 23);
  const to = Date.UTC(2026, 10, 20, 23);
  let asked: number | null = null;
  const times = [from - 1, from, to - 1, to, NOW];
  const view = reportOf({ from, to: null }, NOW, ZONE, new Map(), (since, counting) => {
    asked = since;
    for (const at of times) counting(FACTS.isTracked, at, null, null, null);
  });
  // As many days before begin in summer time.
  expect(asked).toBe(Date.UTC(2026, 9, 11, 22));
  expect(view).toMatchObject({ from, to, messages: 2, tooRecent: 2, before: { messages: 1, to: from } });
  expect(reportOf({ from: null, to: null }, NOW, ZONE, new Map(), (since) => (asked = since)).before).toBeNull();
  expect(asked).toBeNull();
});
