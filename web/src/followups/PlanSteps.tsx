import { Button, Popover, Select, Skeleton } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { conditionText, planEndText, stepText } from '@kiraku/core/sentences';
import type { PlanView, StepView } from '@kiraku/core/contract';
import { appointmentWords } from '@kiraku/core/time';
import { useNow } from '../shared/hooks/useNow.js';
import { useTemplatesQuery } from '../shared/api/settingsApi.js';
import {
  useLeaveStepOutMutation,
  useSaveStepMutation,
  useStepBodyQuery,
  useStopPlanMutation,
} from '../shared/api/followupsApi.js';
import { UpcomingMessage } from './UpcomingMessage.js';
import { wordsOf } from './wordsOf.js';
import { isWhen, WhenField } from './WhenField.js';
import styles from './followups.module.css';

/** The messages that follow one automatically, and how each of them stands. */
export function PlanSteps({ plan }: { plan: PlanView }) {
  const [stop, { isLoading }] = useStopPlanMutation();
  return (
    <div>
      {(plan.state === 'stopped' || plan.state === 'done') && (
        <p className="soft">{planEndText(plan.state === 'done', plan.reason)}.</p>
      )}
      <ol className={styles.planSteps}>
        {plan.steps.map((step) => (
          <li key={step.id}>
            <StepLine step={step} />
          </li>
        ))}
      </ol>
      {plan.state === 'running' && (
        <Button size="small" loading={isLoading} onClick={() => void stop(plan.id)}>
          Stop them
        </Button>
      )}
    </div>
  );
}

export function StepLine({ step }: { step: StepView }) {
  const { state, dueAt, template, messageId, reason, condition } = step;
  const [leaveOut] = useLeaveStepOutMutation();
  return (
    <span className={styles.planStep}>
      <span>
        {messageId === null ? `“${template}”` : <Link to={`/sent/${messageId}`}>“{template}”</Link>}{' '}
        <span className={state === 'planned' && reason ? 'tone-needs-you' : 'soft'}>
          {stepText(step, step.dueAt === null ? null : appointmentWords(step.dueAt))}
        </span>
        {state === 'planned' && <span className="soft">, {conditionText(condition)}</span>}
      </span>
      {state === 'planned' && (
        <span className={styles.reminderWays}>
          <StepBodyButton step={step} />
          {dueAt !== null && <MoveButton step={step} />}
          <Button size="small" aria-label={`Skip “${template}”`} onClick={() => void leaveOut(step.id)}>
            Skip
          </Button>
        </span>
      )}
    </span>
  );
}

/** The message as it would be sent now. */
function StepBodyButton({ step }: { step: StepView }) {
  const [open, setOpen] = useState(false);
  return (
    <Popover open={open} onOpenChange={setOpen} trigger="click" content={<StepBody step={step} />} destroyOnHidden>
      <Button size="small" aria-label={`Show “${step.template}”`}>
        Show
      </Button>
    </Popover>
  );
}

function StepBody({ step }: { step: StepView }) {
  const { data } = useStepBodyQuery(step.id);
  const { data: templates = [] } = useTemplatesQuery(null);
  const [save] = useSaveStepMutation();
  if (!data) return <Skeleton active title={false} />;
  return (
    <div className={styles.stepBody}>
      <label>
        From the template{' '}
        <Select
          size="small"
          value={step.templateId}
          options={templates.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={(templateId) => void save({ id: step.id, templateId })}
          aria-label="Template"
        />
      </label>
      <UpcomingMessage {...data} />
    </div>
  );
}

function MoveButton({ step: { id, dueAt, template } }: { step: StepView }) {
  const [open, setOpen] = useState(false);
  const [when, setWhen] = useState(wordsOf(dueAt!));
  const [save, { isLoading }] = useSaveStepMutation();
  const now = useNow();
  const content = (
    <form
      className={styles.remind}
      onSubmit={(event) => {
        event.preventDefault();
        void save({ id, when })
          .unwrap()
          .then(
            () => setOpen(false),
            () => undefined,
          );
      }}
    >
      <WhenField value={when} onChange={setWhen} autoFocus />
      <Button type="primary" htmlType="submit" loading={isLoading} disabled={!isWhen(when, now)}>
        Save
      </Button>
    </form>
  );
  return (
    <Popover open={open} onOpenChange={setOpen} trigger="click" content={content} destroyOnHidden>
      <Button size="small" aria-label={`Reschedule “${template}”`}>
        Reschedule
      </Button>
    </Popover>
  );
}
