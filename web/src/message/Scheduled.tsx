import { Alert, Button } from 'antd';
import { useNavigate } from 'react-router';
import type { MessageSummary } from '@kiraku/core/contract';
import { exactWords, occurrences, recurrenceProblem } from '@kiraku/core/time';
import { problemOf } from '../shared/api/api.js';
import { useRecallMutation, useRescheduleMutation } from '../shared/api/draftsApi.js';
import { LaterButton } from '../write/LaterButton.js';
import styles from './message.module.css';

/** How many of the times that follow are named. */
const NEXT_TIMES_SHOWN = 3;

/** What can still be done with a message that has not left. */
export default function Scheduled({ summary: { id, sendAt, recurrence } }: { summary: MessageSummary }) {
  const [recall, calling] = useRecallMutation();
  const [reschedule, moving] = useRescheduleMutation();
  const navigate = useNavigate();
  const error = calling.error ?? moving.error;
  const problem = error && problemOf(error);
  const repeats = recurrence && sendAt !== null ? occurrences(recurrence, sendAt, NEXT_TIMES_SHOWN + 1).slice(1) : [];
  const ruleProblem = recurrence && recurrenceProblem(recurrence);
  return (
    <section aria-label="Before it is sent" className={styles.scheduled}>
      {ruleProblem && (
        <Alert
          type="warning"
          showIcon
          title="It does not repeat"
          description={`${ruleProblem} It is sent once. To repeat it, move it back to drafts and choose how often.`}
        />
      )}
      {repeats.length > 0 && (
        <p className="soft">
          And again {repeats.map((at) => exactWords(at)).join('; ')}
          {repeats.length === NEXT_TIMES_SHOWN ? ' …' : '.'}
        </p>
      )}
      <Button type="primary" size="large" loading={moving.isLoading} onClick={() => void reschedule({ id })}>
        Send now
      </Button>
      <LaterButton label="Change time" onChoose={(at) => void reschedule({ id, at })} />
      <Button
        size="large"
        loading={calling.isLoading}
        onClick={async () => {
          const draft = await recall(id);
          if (draft.data) void navigate(`/write/${draft.data.id}`);
        }}
      >
        Back to drafts
      </Button>
      {problem && <Alert type="warning" showIcon title={problem.title} description={problem.detail} />}
    </section>
  );
}
