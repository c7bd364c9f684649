import { Button, Typography } from 'antd';
import { useCalendarQuery, useCloseCalendarMutation, useRenewCalendarMutation } from '../shared/api/followupsApi.js';
import styles from './followups.module.css';

/** The secret address at which calendar programs find all of it. */
export function CalendarAddress() {
  const { data } = useCalendarQuery(null);
  const [renew, { isLoading }] = useRenewCalendarMutation();
  const [close] = useCloseCalendarMutation();
  if (!data) return null;
  const url = data.path && window.location.origin + data.path;
  return (
    <section aria-labelledby="followups-calendar" className={styles.calendar}>
      <h2 id="followups-calendar">In your calendar</h2>
      {url ? (
        <>
          <p className="soft">
            Subscribe to this address in your calendar app. Anyone who knows it can see your reminders: keep it private.
          </p>
          <Typography.Text copyable className={styles.calendarAddress}>
            {url}
          </Typography.Text>
          <p className={styles.reminderWays}>
            <Button size="small" loading={isLoading} onClick={() => void renew(null)}>
              Create a new address
            </Button>
            <Button size="small" onClick={() => void close(null)}>
              Turn off
            </Button>
          </p>
        </>
      ) : (
        <p>
          <Button loading={isLoading} onClick={() => void renew(null)}>
            Create a calendar address
          </Button>
        </p>
      )}
    </section>
  );
}
