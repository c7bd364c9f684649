import dayjs from 'dayjs';
import { Link } from 'react-router';
import { personText } from '@kiraku/core/sentences';
import type { PlanView, ReminderView } from '@kiraku/core/contract';
import { clockWords, dateWords, timeFormat } from '@kiraku/core/time';
import styles from './followups.module.css';

const WEEKS = 2;
const DAYS = 7;

interface Entry {
  key: string;
  at: number;
  words: string;
  place: string;
  kind: 'reminder' | 'message';
}

/** What is due in the coming days, day by day from the first day of this week: reminders and automatic follow-ups. */
export function ComingDays({ reminders, plans, now }: { reminders: ReminderView[]; plans: PlanView[]; now: number }) {
  const today = dayjs(now).startOf('day');
  const first = today.subtract((today.day() - timeFormat().firstDay + DAYS) % DAYS, 'day');
  const entries = [...reminders.map(entryOfReminder), ...plans.flatMap(entriesOfPlan)].sort((a, b) => a.at - b.at);
  const days = Array.from({ length: WEEKS * DAYS }, (_, index) => first.add(index, 'day'));
  return (
    <ol className={styles.comingDays} aria-label="Coming days">
      {days.map((day) => {
        const own = entries.filter(({ at }) => day.isSame(at, 'day'));
        const isToday = day.isSame(today, 'day');
        return (
          <li key={day.valueOf()} className={isToday ? styles.isToday : ''} aria-current={isToday ? 'date' : undefined}>
            <span className={own.length > 0 ? '' : 'soft'}>
              {day.format('ddd')} {dateWords(day.valueOf(), day.valueOf())}
            </span>
            <ul>
              {own.map(({ key, at, words, place, kind }) => (
                <li key={key}>
                  <Link to={place} className="plain-link">
                    <span className={styles.comingTime}>{clockWords(at)}</span> {kind === 'message' ? 'Message: ' : ''}
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
  const words = person ? personText(person) : message ? message.subject || 'No subject' : note;
  return {
    key: `reminder ${id}`,
    at: dueAt,
    words,
    place: message ? `/sent/${message.id}` : '/followups',
    kind: 'reminder',
  };
}

function entriesOfPlan({ message, steps }: PlanView): Entry[] {
  const who = message.recipients.map(personText).join(', ');
  return steps.flatMap(({ id, dueAt, state }): Entry[] =>
    state === 'planned' && dueAt !== null
      ? [{ key: `step ${id}`, at: dueAt, words: who, place: `/sent/${message.id}`, kind: 'message' }]
      : [],
  );
}
