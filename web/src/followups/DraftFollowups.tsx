import { Button, InputNumber, Popover, Select, Switch, TimePicker } from 'antd';
import dayjs from 'dayjs';
import { Link } from 'react-router';
import { conditionText } from '@kiraku/core/sentences';
import { STEP_CONDITIONS, type DraftContent, type DraftPlan, type DraftStep } from '@kiraku/core/contract';
import { PLAN_LIMITS } from '@kiraku/core/followups';
import { replySubject, escapeHtml, fillPlaceholders } from '@kiraku/core/message';
import { useTemplatesQuery } from '../shared/api/settingsApi.js';
import { useKnown } from '../shared/hooks/useKnown.js';
import { UpcomingMessage } from './UpcomingMessage.js';
import { FIRST_REMINDER, ReminderFields } from './ReminderFields.js';
import { fieldPatterns } from '../shared/time/timeFormat.js';
import { MY_ZONE } from '../shared/time/zone.js';
import styles from './followups.module.css';
import switchRowStyles from '../shared/ui/switchRow.module.css';

const CONDITION_CHOICES = STEP_CONDITIONS.map((value) => ({ value, label: conditionText(value) }));

interface DraftFollowupsProps {
  content: DraftContent;
  onChange(part: Partial<DraftContent>): void;
}

/** While writing: when to be reminded, and which follow-ups are automatic. */
export default function DraftFollowups({ content, onChange }: DraftFollowupsProps) {
  const { reminder, plan } = content;
  const { data: templates } = useTemplatesQuery(null);
  const first = templates?.[0];
  const addStep = (to: DraftStep[]) =>
    onChange({
      plan: {
        zone: MY_ZONE,
        steps: [...to, { templateId: first!.id, condition: 'not-replied', workingDays: 3, time: '09:30' }],
      },
    });
  return (
    <>
      <div className={switchRowStyles.switchRow}>
        <label>
          <span className={switchRowStyles.switchTitle}>Remind me</span>
          <span className="soft">It disappears when what it waits for happens.</span>
          <Switch
            checked={reminder !== null}
            onChange={(on) => onChange({ reminder: on ? FIRST_REMINDER : null })}
            aria-label="Remind me"
          />
        </label>
        {reminder && <ReminderFields value={reminder} onChange={(next) => onChange({ reminder: next })} fromSending />}
      </div>
      <div className={switchRowStyles.switchRow}>
        <label>
          <span className={switchRowStyles.switchTitle}>Automatic follow-ups</span>
          <span className="soft">Up to five messages from your templates. A reply stops them all.</span>
          <Switch
            checked={plan !== null}
            disabled={!first}
            onChange={(on) => (on ? addStep([]) : onChange({ plan: null }))}
            aria-label="Automatic follow-ups"
          />
        </label>
        {templates?.length === 0 && (
          <p className="soft">
            You need a template first: <Link to="/templates">write one</Link>.
          </p>
        )}
        {plan && (
          <Steps
            plan={plan}
            content={content}
            onChange={(steps) => onChange({ plan: steps.length > 0 ? { zone: MY_ZONE, steps } : null })}
            onAdd={() => addStep(plan.steps)}
          />
        )}
      </div>
    </>
  );
}

function Steps({
  plan: { steps },
  content,
  onChange,
  onAdd,
}: {
  plan: DraftPlan;
  content: DraftContent;
  onChange(steps: DraftStep[]): void;
  onAdd(): void;
}) {
  const { data: templates = [] } = useTemplatesQuery(null);
  const set = (index: number, part: Partial<DraftStep>) =>
    onChange(steps.map((step, at) => (at === index ? { ...step, ...part } : step)));
  return (
    <ol className={styles.draftSteps}>
      {steps.map((step, index) => (
        <li key={index} aria-label={`Follow-up ${index + 1}`}>
          <span className={styles.draftStepLine}>
            After{' '}
            <InputNumber
              size="small"
              min={1}
              max={PLAN_LIMITS.maxWorkingDays}
              precision={0}
              value={step.workingDays}
              onChange={(workingDays) => workingDays !== null && set(index, { workingDays })}
              aria-label="Working days"
            />{' '}
            working days,{' '}
            <Select
              size="small"
              value={step.condition}
              options={CONDITION_CHOICES}
              onChange={(condition) => set(index, { condition })}
              aria-label="Condition"
            />
          </span>
          <span className={styles.draftStepLine}>
            at{' '}
            <TimePicker
              size="small"
              format={fieldPatterns().time}
              use12Hours={fieldPatterns().use12Hours}
              minuteStep={5}
              placeholder="best time"
              value={step.time === null ? null : dayjs(step.time, 'HH:mm')}
              onChange={(time) => set(index, { time: time ? time.format('HH:mm') : null })}
              aria-label="Time of day; empty for the best time"
            />{' '}
            send{' '}
            <Select
              size="small"
              value={step.templateId}
              options={templates.map(({ id, name }) => ({ value: id, label: name }))}
              onChange={(templateId) => set(index, { templateId })}
              popupMatchSelectWidth={false}
              aria-label="Template"
            />
            <ShowStep step={step} content={content} />
            <Button
              size="small"
              type="text"
              aria-label={`Remove follow-up ${index + 1}`}
              onClick={() => onChange(steps.filter((_step, at) => at !== index))}
            >
              Remove
            </Button>
          </span>
        </li>
      ))}
      {steps.length < PLAN_LIMITS.maxSteps && (
        <li>
          <Button size="small" onClick={onAdd}>
            Add another
          </Button>
        </li>
      )}
    </ol>
  );
}

/** The message of a step, filled with what is known of who gets it. */
function ShowStep({ step: { templateId }, content }: { step: DraftStep; content: DraftContent }) {
  const { data: templates = [] } = useTemplatesQuery(null);
  const known = useKnown(content);
  const template = templates.find(({ id }) => id === templateId);
  if (!template) return null;
  const message = (
    <div className={styles.stepBody}>
      <UpcomingMessage
        subject={replySubject(content.subject)}
        html={fillPlaceholders(template.html, known, escapeHtml)}
      />
    </div>
  );
  return (
    <Popover trigger="click" content={message} destroyOnHidden>
      <Button size="small" type="text" aria-label={`Show “${template.name}”`}>
        Show
      </Button>
    </Popover>
  );
}
