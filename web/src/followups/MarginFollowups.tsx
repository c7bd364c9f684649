import type { MessageSummary } from '@kiraku/core/contract';
import { useFollowupsQuery } from './followupsApi.js';
import { PlanSteps } from './PlanSteps.js';
import RemindButton from './RemindButton.js';
import { ReminderLine } from './ReminderLine.js';

/** What comes back of a letter, and what follows it, in its margin. */
export default function MarginFollowups({ summary, personId }: { summary: MessageSummary; personId: number | null }) {
  const { data } = useFollowupsQuery(summary.id);
  if (!data) return null;
  const isWaiting = data.plans.some(({ state }) => state === 'running');
  return (
    <section aria-label="Follow-ups" className="margin-followups">
      <h2>What comes back</h2>
      {data.reminders.length > 0 && (
        <ul className="reminders">
          {data.reminders.map((reminder) => (
            <ReminderLine key={reminder.id} reminder={reminder} beside />
          ))}
        </ul>
      )}
      <RemindButton about={{ messageIds: [summary.id], personId }} />
      {data.plans.map((plan) => (
        <div key={plan.id}>
          <h3 className="plan-title">What follows by itself</h3>
          <PlanSteps plan={plan} />
        </div>
      ))}
      {isWaiting && data.blind && <p className="tone-needs-you">{data.blind}: nothing is sent meanwhile.</p>}
    </section>
  );
}
