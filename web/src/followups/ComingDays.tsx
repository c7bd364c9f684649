import dayjs from 'dayjs';
import { Link } from 'react-router';
import type { PlanView, ReminderView } from '@kiraku/core/contract';
import { clockWords } from '@kiraku/core/time';
import { personWords } from '@kiraku/core/tracking';

const WEEKS = 2;
const DAYS = 7;

interface Entry {
  key: string;
  at: number;
  words: string;
  place: string;
  kind: 'reminder' | 'letter';
}

/** What comes back in the coming days, day by day from this Monday on: reminders, and letters that leave by themselves. */
export function ComingDays({ reminders, plans, now }: { reminders: ReminderView[]; plans: PlanView[]; now: number }) {
  const today = dayjs(now).startOf('day');
  // Of a week that begins with Monday.
  const monday = today.subtract((today.day() + 6) % DAYS, 'day');
  const entries = [...reminders.map(entryOfReminder), ...plans.flatMap(entriesOfPlan)].sort((a, b) => a.at - b.at);
  const days = Array.from({ length: WEEKS * DAYS }, (_, index) => monday.add(index, 'day'));
  return (
    <ol className="coming-days" aria-label="The coming days">
      {days.map((day) => {
        const own = entries.filter(({ at }) => day.isSame(at, 'day'));
        const isToday = day.isSame(today, 'day');
        return (
          <li key={day.valueOf()} className={isToday ? 'is-today' : ''} aria-current={isToday ? 'date' : undefined}>
            <span className={own.length > 0 ? '' : 'soft'}>{day.format('ddd D MMM')}</span>
            <ul>
              {own.map(({ key, at, words, place, kind }) => (
                <li key={key}>
                  <Link to={place} className="plain-link">
                    <span className="coming-time">{clockWords(at)}</span> {kind === 'letter' ? 'Letter: ' : ''}
                    {words}
                  </Link>
                </li>
              ))}
            </ul>
          </li>
        );
      })}
    </ol>
  );
}

function entryOfReminder({ id, dueAt, message, person, note }: ReminderView): Entry {
  const words = person ? personWords(person) : message ? message.subject || 'No subject' : note;
  return {
    key: `reminder ${id}`,
    at: dueAt,
    words,
    place: message ? `/sent/${message.id}` : '/followups',
    kind: 'reminder',
  };
}

function entriesOfPlan({ message, steps }: PlanView): Entry[] {
  const who = message.recipients.map(personWords).join(', ');
  return steps.flatMap(({ id, dueAt, state }): Entry[] =>
    state === 'planned' && dueAt !== null
      ? [{ key: `step ${id}`, at: dueAt, words: who, place: `/sent/${message.id}`, kind: 'letter' }]
      : [],
  );
}
