import { Link } from 'react-router';
import { dueTotalText } from '@kiraku/core/sentences';
import { useFollowupsQuery } from '../shared/api/followupsApi.js';
import { DueRow } from './DueRow.js';
import styles from './today.module.css';

const MAX_DUE_SHOWN = 6;

/** The reminders whose time has come; nothing where there are none. */
export default function Due() {
  const { data } = useFollowupsQuery(null);
  const due = data?.reminders.filter(({ state }) => state === 'due') ?? [];
  if (due.length === 0) return null;
  return (
    <section aria-labelledby="today-due">
      <h2 id="today-due">
        Due <span className={styles.total}>{dueTotalText(due.length)}</span>
      </h2>
      <ul className={styles.rows}>
        {due.slice(0, MAX_DUE_SHOWN).map((reminder) => (
          <DueRow key={reminder.id} reminder={reminder} />
        ))}
      </ul>
      {due.length > MAX_DUE_SHOWN && <Link to="/followups">All {due.length}</Link>}
    </section>
  );
}
