import type { MessageSummary } from '@kiraku/core/contract';
import { useFollowupsQuery } from '../shared/api/followupsApi.js';
import { PlanSteps } from './PlanSteps.js';
import RemindButton from './RemindButton.js';
import { ReminderLine } from './ReminderLine.js';
import styles from './followups.module.css';

/** Reminders of a message, and what follows it, in its margin. */
export default function MarginFollowups({ summary, personId }: { summary: MessageSummary; personId: number | null }) {
  const { data } = useFollowupsQuery(summary.id);
  if (!data) return null;
  const isWaiting = data.plans.some(({ state }) => state === 'running');
  return (
    <section aria-label="Follow-ups" className={styles.marginFollowups}>
      <h2>Reminders</h2>
      {data.reminders.length > 0 && (
        <ul className={styles.reminders}>
          {data.reminders.map((reminder) => (
            <ReminderLine key={reminder.id} reminder={reminder} beside />
          ))}
        </ul>
      )}
      <RemindButton about={{ messageIds: [summary.id], personId }} />
      {data.plans.map((plan) => (
        <div key={plan.id}>
          <h3 className={styles.planTitle}>Automatic follow-ups</h3>
          <PlanSteps plan={plan} />
        </div>
      ))}
      {isWaiting && data.replyProblem && (
        <p className="tone-needs-you">{data.replyProblem}: nothing is sent until then.</p>
      )}
    </section>
  );
}
