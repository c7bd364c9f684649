import fc from 'fast-check';
import { reportOf, spreadWords, type SentLetter } from '@kiraku/core/reports';
import { DAY, HOUR, MINUTE } from '@kiraku/core/time';

const NOW = Date.UTC(2026, 10, 23, 12);
const ZONE = 'Europe/Amsterdam';
const UNREAD: SentLetter = {
  ...{ sentAt: NOW - 10 * DAY, templateId: null, isTracked: true, hasLinks: false, hasFiles: false },
  ...{ wasOpened: false, wasClicked: false, wasViewed: false, wasAnswered: false },
  ...{ firstOpenAt: null, answeredAt: null },
};
const opened = (sentAt: number, afterMs: number): SentLetter => ({
  ...UNREAD,
  ...{ sentAt, wasOpened: true, firstOpenAt: sentAt + afterMs },
});
const answered = (letter: SentLetter): SentLetter => ({
  ...letter,
  wasAnswered: true,
  answeredAt: letter.sentAt + DAY,
});
const report = (letters: SentLetter[], names = new Map<number, string>()) => reportOf(letters, names, NOW, ZONE);

test('each share is of those it can be known of', () => {
  const {
    letters,
    read,
    clicked,
    viewed,
    answered: rate,
  } = report([
    UNREAD,
    { ...UNREAD, isTracked: false },
    { ...UNREAD, hasLinks: true, wasClicked: true },
    { ...UNREAD, hasLinks: true, hasFiles: true, wasOpened: true, wasViewed: true },
    answered(UNREAD),
  ]);
  expect(letters).toBe(5);
  // A link followed, a file read and an answer prove a reading without any open.
  expect(read).toMatchObject({ n: 3, of: 4 });
  expect(clicked).toMatchObject({ n: 1, of: 2 });
  expect(viewed).toMatchObject({ n: 1, of: 1 });
  expect(rate).toMatchObject({ n: 1, of: 5 });
});

test('what left within the last two days is not counted, and said to be left out', () => {
  const lately = { ...UNREAD, sentAt: NOW - 2 * DAY + 1 };
  const { letters, tooFresh, weeks } = report([UNREAD, lately, lately]);
  expect([letters, tooFresh]).toEqual([1, 2]);
  expect(weeks.reduce((sum, week) => sum + week.letters, 0)).toBe(1);
});

test('lengths of time are told by their quarters; an open noted before its sending took no time', () => {
  const sentAt = NOW - 10 * DAY;
  const { untilOpened, untilAnswered } = report([
    // In no order, and not in that of their letters as text.
    opened(sentAt, 6 * HOUR),
    opened(sentAt, -500),
    opened(sentAt, 4 * DAY),
    opened(sentAt, 10 * MINUTE),
    opened(sentAt, 2 * HOUR),
  ]);
  expect(untilAnswered).toBeNull();
  expect(untilOpened).toEqual({ n: 5, firstQuartile: 10 * MINUTE, median: 2 * HOUR, thirdQuartile: 6 * HOUR });
  expect(spreadWords(untilOpened!)).toBe(
    'Half within 2 hours; a quarter within 10 minutes, three quarters within 6 hours.',
  );
});

test('how long answers take is told by their quarters, too', () => {
  const sentAt = NOW - 10 * DAY;
  const after = (ms: number): SentLetter => ({ ...UNREAD, sentAt, wasAnswered: true, answeredAt: sentAt + ms });
  const { untilAnswered, untilOpened } = report([
    after(3 * DAY),
    after(HOUR),
    after(2 * HOUR),
    after(DAY),
    after(30 * MINUTE),
  ]);
  expect(untilOpened).toBeNull();
  expect(untilAnswered).toEqual({ n: 5, firstQuartile: HOUR, median: 2 * HOUR, thirdQuartile: DAY });
});

test('between two, a quarter lies in proportion', () => {
  const sentAt = NOW - 10 * DAY;
  const { untilOpened } = report([4, 1, 2, 3].map((hours) => opened(sentAt, hours * HOUR)));
  expect(untilOpened).toEqual({ n: 4, firstQuartile: 1.75 * HOUR, median: 2.5 * HOUR, thirdQuartile: 3.25 * HOUR });
});

test('first opens lie at their weekday and hour by the zone’s clocks', () => {
  // Thursday 5 November 2026, 9:15 in Amsterdam, twice; and Sunday 8 November, 23:50.
  const times = [Date.UTC(2026, 10, 5, 8, 15), Date.UTC(2026, 10, 5, 8, 15), Date.UTC(2026, 10, 8, 22, 50)];
  const { opening } = report(times.map((at) => ({ ...UNREAD, sentAt: at - HOUR, wasOpened: true, firstOpenAt: at })));
  expect(opening.total).toBe(3);
  expect(opening.looks[3]![9]).toBe(2);
  expect(opening.looks[6]![23]).toBe(1);
  expect(opening.looks.flat().reduce((sum, count) => sum + count, 0)).toBe(3);
});

test('weeks begin on the zone’s Monday and leave no gap, also where the clocks are changed', () => {
  // Sunday 25 October 2026, 23:30 in Amsterdam, the day on which summer time ends; and the Monday after.
  const { weeks } = report([
    { ...UNREAD, sentAt: Date.UTC(2026, 9, 25, 22, 30) },
    { ...UNREAD, sentAt: Date.UTC(2026, 9, 25, 23, 30) },
    answered({ ...UNREAD, sentAt: Date.UTC(2026, 10, 12, 9) }),
  ]);
  expect(weeks).toEqual([
    { monday: '2026-10-19', letters: 1, read: 0, answered: 0 },
    { monday: '2026-10-26', letters: 1, read: 0, answered: 0 },
    { monday: '2026-11-02', letters: 0, read: 0, answered: 0 },
    { monday: '2026-11-09', letters: 1, read: 1, answered: 1 },
  ]);
  expect(report([]).weeks).toEqual([]);
});

test('a template is compared with all other letters, those of none among them', () => {
  const of = (templateId: number | null, count: number, answers: number) =>
    Array.from({ length: count }, (_, n) =>
      n < answers ? answered({ ...UNREAD, templateId }) : { ...UNREAD, templateId },
    );
  const names = new Map([
    [1, 'First approach'],
    [2, 'Nudge'],
    [3, 'Never used'],
  ]);
  const { templates } = report([...of(1, 60, 45), ...of(2, 50, 6), ...of(null, 30, 5)], names);
  expect(templates.map(({ name, letters }) => [name, letters])).toEqual([
    ['First approach', 60],
    ['Nudge', 50],
  ]);
  expect(templates[0]!.comparison!.difference).toBeCloseTo(45 / 60 - 11 / 80);
  expect(templates[0]!.comparison!.low).toBeGreaterThan(0);
  expect(templates[1]!.comparison!.high).toBeLessThan(0);
  expect(report(of(1, 3, 1), names).templates[0]!.comparison).toBeNull();
});

test('whatever was sent, the parts make the whole', () => {
  const letter = fc
    .record({
      daysAgo: fc.integer({ min: 0, max: 400 }),
      templateId: fc.constantFrom(null, 1, 2),
      isTracked: fc.boolean(),
      wasOpened: fc.boolean(),
      wasAnswered: fc.boolean(),
    })
    .map(({ daysAgo, ...rest }): SentLetter => {
      const sentAt = NOW - daysAgo * DAY;
      return { ...UNREAD, ...rest, sentAt, firstOpenAt: rest.wasOpened ? sentAt + HOUR : null };
    });
  fc.assert(
    fc.property(fc.array(letter, { maxLength: 60 }), (letters) => {
      const names = new Map([
        [1, 'One'],
        [2, 'Two'],
      ]);
      const {
        letters: told,
        tooFresh,
        read,
        answered: rate,
        opening,
        weeks,
        templates,
        untilOpened,
      } = report(letters, names);
      expect(told + tooFresh).toBe(letters.length);
      expect(read.of).toBeLessThanOrEqual(told);
      expect(rate.of).toBe(told);
      expect(opening.total).toBe(untilOpened?.n ?? 0);
      expect(weeks.length).toBeLessThanOrEqual(26);
      const mondays = weeks.map(({ monday }) => Date.parse(monday));
      mondays.forEach((monday, n) => n > 0 && expect(monday - mondays[n - 1]!).toBe(7 * DAY));
      const ofTemplates = templates.reduce((sum, template) => sum + template.letters, 0);
      expect(ofTemplates).toBe(
        letters.filter(({ templateId, sentAt }) => templateId !== null && sentAt <= NOW - 2 * DAY).length,
      );
    }),
  );
});
