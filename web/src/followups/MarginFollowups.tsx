import { useFollowupsQuery } from '../shared/api/followupsApi.js';
import { PlanSteps } from './PlanSteps.js';
import { ReminderLine } from './ReminderLine.js';
import styles from './followups.module.css';

/** Reminders of a message, and what follows it, in its margin. */
export default function MarginFollowups({ id }: { id: number }) {
  const { data } = useFollowupsQuery(id);
  if (!data || data.reminders.length + data.plans.length === 0) return null;
  const isWaiting = data.plans.some(({ state }) => state === 'running');
  return (
    <section aria-label="Follow-ups">
      {data.reminders.length > 0 && (
        <>
          <h2>Reminders</h2>
          <ul className={styles.reminders}>
            {data.reminders.map((reminder) => (
              <ReminderLine key={reminder.id} reminder={reminder} beside />
            ))}
          </ul>
        </>
      )}
      {data.plans.map((plan) => (
        <div key={plan.id}>
          <h2>Automatic follow-ups</h2>
          <PlanSteps plan={plan} />
        </div>
      ))}
      {isWaiting && data.replyProblem && (
        <p className="tone-needs-you">{data.replyProblem}: nothing is sent until then.</p>
      )}
    </section>
  );
}
