import { Link } from 'react-router';
import { useFollowupsQuery } from '../shared/api/followupsApi.js';
import { ReminderLine } from './ReminderLine.js';
import styles from './followups.module.css';

const MAX_DUE_SHOWN = 6;

/** The reminders whose time has come; nothing where there are none. */
export default function Due() {
  const { data } = useFollowupsQuery(null);
  const due = data?.reminders.filter(({ state }) => state === 'due') ?? [];
  if (due.length === 0) return null;
  return (
    <section aria-labelledby="today-due" className={styles.due}>
      <h2 id="today-due">Due</h2>
      <ul className={styles.reminders}>
        {due.slice(0, MAX_DUE_SHOWN).map((reminder) => (
          <ReminderLine key={reminder.id} reminder={reminder} />
        ))}
      </ul>
      {due.length > MAX_DUE_SHOWN && <Link to="/followups">All {due.length}</Link>}
    </section>
  );
}
