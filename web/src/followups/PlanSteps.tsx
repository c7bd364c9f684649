import { Button, Popover, Select, Skeleton } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import type { PlanView, StepView } from '@kiraku/core/contract';
import { conditionWords } from '@kiraku/core/followups';
import { counted } from '@kiraku/core/time';
import { useNow } from '../app/useNow.js';
import { useTemplatesQuery } from '../settings/settingsApi.js';
import {
  useLeaveStepOutMutation,
  useSaveStepMutation,
  useStepLetterQuery,
  useStopPlanMutation,
} from './followupsApi.js';
import { LetterToCome } from './LetterToCome.js';
import { isWhen, timeWords, WhenField, wordsOf } from './WhenField.js';
import './followups.css';

/** The letters that follow one by themselves, and how each of them stands. */
export function PlanSteps({ plan }: { plan: PlanView }) {
  const [stop, { isLoading }] = useStopPlanMutation();
  return (
    <div className="plan">
      {plan.state === 'stopped' && <p className="soft">{plan.words}: nothing more is sent.</p>}
      {plan.state === 'done' && <p className="soft">All of them have left.</p>}
      <ol className="plan-steps">
        {plan.steps.map((step) => (
          <li key={step.id}>
            <StepLine step={step} />
          </li>
        ))}
      </ol>
      {plan.state === 'running' && (
        <Button size="small" loading={isLoading} onClick={() => void stop(plan.id)}>
          Send none of them
        </Button>
      )}
    </div>
  );
}

export function StepLine({ step }: { step: StepView }) {
  const { state, dueAt, template, messageId, words, condition } = step;
  const [leaveOut] = useLeaveStepOutMutation();
  return (
    <span className="plan-step">
      <span>
        {messageId === null ? `“${template}”` : <Link to={`/sent/${messageId}`}>“{template}”</Link>}{' '}
        <span className={state === 'planned' && words ? 'tone-needs-you' : 'soft'}>{stepWords(step)}</span>
        {state === 'planned' && <span className="soft">, {conditionWords(condition)}</span>}
      </span>
      {state === 'planned' && (
        <span className="reminder-ways">
          <LetterButton step={step} />
          {dueAt !== null && <MoveButton step={step} />}
          <Button size="small" aria-label={`Leave out “${template}”`} onClick={() => void leaveOut(step.id)}>
            Leave out
          </Button>
        </span>
      )}
    </span>
  );
}

function stepWords({ state, dueAt, words, workingDays, time }: StepView): string {
  if (state === 'sent') return 'has left';
  if (state === 'skipped') return `was passed over: ${words?.toLowerCase()}`;
  if (state === 'stopped') return 'is not sent';
  if (words !== null) return `waits: ${words.charAt(0).toLowerCase()}${words.slice(1)}`;
  if (dueAt !== null) return `leaves ${timeWords(dueAt)}`;
  return `${counted(workingDays, 'working day')} after the one before, ${time ?? 'when they likely read'}`;
}

/** The letter as it would leave now. */
function LetterButton({ step }: { step: StepView }) {
  const [open, setOpen] = useState(false);
  return (
    <Popover open={open} onOpenChange={setOpen} trigger="click" content={<StepLetter step={step} />} destroyOnHidden>
      <Button size="small" aria-label={`Show “${step.template}”`}>
        Show
      </Button>
    </Popover>
  );
}

function StepLetter({ step }: { step: StepView }) {
  const { data } = useStepLetterQuery(step.id);
  const { data: templates = [] } = useTemplatesQuery(null);
  const [save] = useSaveStepMutation();
  if (!data) return <Skeleton active title={false} />;
  return (
    <div className="step-letter">
      <label className="step-template">
        From the template{' '}
        <Select
          size="small"
          value={step.templateId}
          options={templates.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={(templateId) => void save({ id: step.id, templateId })}
          aria-label="Template"
        />
      </label>
      <LetterToCome {...data} />
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
      className="remind"
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
        Send it then
      </Button>
    </form>
  );
  return (
    <Popover open={open} onOpenChange={setOpen} trigger="click" content={content} destroyOnHidden>
      <Button size="small" aria-label={`Move “${template}”`}>
        Move
      </Button>
    </Popover>
  );
}
