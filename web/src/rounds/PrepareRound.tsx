import { Alert, App, Button, Input, InputNumber, Segmented } from 'antd';
import { useCallback, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { ROUND_LIMITS, type RoundPlan, type RoundView, type Wording } from '@kiraku/core/contract';
import { BLANK_CONTENT, MESSAGE_LIMITS } from '@kiraku/core/message';
import { LIKELY_BETTER } from '@kiraku/core/rounds';
import { wordingName } from '@kiraku/core/sentences';
import { counted } from '@kiraku/core/time';
import DraftFollowups from '../followups/DraftFollowups.js';
import { problemOf, type QueryError } from '../shared/api/api.js';
import { useAddToRoundMutation, useMoveRoundMutation, useRemoveRoundMutation } from '../shared/api/roundsApi.js';
import { useTemplatesQuery } from '../shared/api/settingsApi.js';
import { Editor } from '../shared/editor/Editor.js';
import { SwitchLine } from '../shared/ui/SwitchLine.js';
import { TemplateButton } from '../write/TemplateButton.js';
import formStyles from '../shared/ui/form.module.css';
import pageStyles from '../shared/ui/page.module.css';
import { InsertPlaceholder } from './InsertPlaceholder.js';
import { PaceFields } from './PaceFields.js';
import { PreparedPeople } from './PreparedPeople.js';
import { SheetButton } from './SheetButton.js';
import { Stepper } from './Stepper.js';
import { usePlan } from './usePlan.js';
import styles from './rounds.module.css';

const BLANK: Wording = { subject: '', html: '' };

/**
 * What a round says on the left, and in the margin to whom, when, and what to think of: before it begins, or, paused, for
 * those whose message waits yet.
 */
export function PrepareRound({ round, done }: { round: RoundView; done?(): void }) {
  const { plan, change, flush, state } = usePlan(round);
  const [stepAt, setStepAt] = useState<number | null>(null);
  const [add] = useAddToRoundMutation();
  const isBegun = round.state !== 'preparing';
  const start = useStart(round.id, flush, isBegun ? 'resume' : 'start');
  const remove = useRemove(round.id);
  const waiting = round.members.filter(({ state: stands }) => stands === 'draft');
  const included = waiting.filter(({ leftOut, warnings }) => !leftOut && !warnings.includes('opted-out'));
  const stepThrough = async (messageId: number) => {
    if (await flush()) setStepAt(messageId);
  };
  return (
    <div className={pageStyles.messageAndMargin}>
      <section className={pageStyles.sheet} aria-label="Text">
        <h1 className="skip">Round</h1>
        <Input
          aria-label="Name of the round"
          variant="borderless"
          className={styles.name}
          maxLength={ROUND_LIMITS.maxNameChars}
          value={plan.name}
          onChange={({ target }) => change({ name: target.value })}
        />
        <Wordings plan={plan} columns={round.columns} areFixed={isBegun} onChange={change} />
        {typeof state === 'object' && <Alert type="warning" showIcon title="Not saved" description={state.problem} />}
        {start.problem && <Alert type="warning" showIcon title="Not started" description={start.problem} />}
        <footer className={formStyles.foot}>
          <Button
            type="primary"
            size="large"
            loading={start.isLoading}
            disabled={included.length === 0}
            onClick={() => void start.begin()}
          >
            {isBegun ? 'Resume' : `Send ${counted(included.length, 'message')}`}
          </Button>
          <Button
            size="large"
            disabled={included.length === 0}
            onClick={() => void stepThrough(included[0]!.messageId)}
          >
            Look at each
          </Button>
          {isBegun ? (
            <Button
              size="large"
              className={formStyles.last}
              onClick={() => void flush().then((isSaved) => isSaved && done?.())}
            >
              Back to the round
            </Button>
          ) : (
            <Button type="text" className={formStyles.last} onClick={() => void remove()}>
              Delete round
            </Button>
          )}
          <span className="soft" role="status">
            {state === 'saved' ? 'Saved' : state === 'unsaved' ? 'Saving …' : ''}
          </span>
        </footer>
      </section>
      <aside className={pageStyles.margin} aria-label="Who gets it, and when">
        <PreparedPeople round={{ ...round, members: waiting }} onLookAt={(messageId) => void stepThrough(messageId)} />
        <p>
          Point out who was written to within{' '}
          <InputNumber
            aria-label="Days"
            min={0}
            max={ROUND_LIMITS.maxRecentDays}
            value={plan.recentDays}
            onChange={(days) => days !== null && change({ recentDays: days })}
          />{' '}
          days.
        </p>
        {!isBegun && (
          <SheetButton
            label="Add from a sheet"
            onChoose={({ columns, recipients }) => void add({ id: round.id, columns, recipients })}
          />
        )}
        <h2>When it leaves</h2>
        <PaceFields pace={plan.pace} onChange={(pace) => change({ pace })} />
        {plan.wordings.length > 1 && (
          <SwitchLine
            words="Send the rest with the better wording, once it is 95 % likely"
            checked={plan.decideAt !== null}
            onChange={(on) => change({ decideAt: on ? LIKELY_BETTER : null })}
          />
        )}
        <h2>Follow-ups</h2>
        <DraftFollowups
          content={{ ...BLANK_CONTENT, ...plan, ...plan.wordings[0] }}
          onChange={({ reminder = plan.reminder, plan: steps = plan.plan }) => change({ reminder, plan: steps })}
        />
        <h2>Tracking</h2>
        <div className={styles.switches}>
          <SwitchLine words="Opens" checked={plan.trackOpens} onChange={(on) => change({ trackOpens: on })} />
          <SwitchLine words="Link clicks" checked={plan.trackClicks} onChange={(on) => change({ trackClicks: on })} />
          <SwitchLine words="Offer to opt out" checked={plan.disclose} onChange={(on) => change({ disclose: on })} />
        </div>
        <p className="soft">
          A line at the end, and one press in mail programs that know it. Who opts out gets no more rounds.
        </p>
      </aside>
      {stepAt !== null && (
        <Stepper members={included} messageId={stepAt} onStep={setStepAt} close={() => setStepAt(null)} />
      )}
    </div>
  );
}

interface PlanProps {
  plan: RoundPlan;
  onChange(part: Partial<RoundPlan>): void;
}

interface WordingsProps extends PlanProps {
  columns: string[];
  /** Whether some were sent: how many there are stays as it is then. */
  areFixed: boolean;
}

/** Up to three texts, of which each recipient gets one by chance. */
function Wordings({ plan: { wordings, templateId }, columns, areFixed, onChange }: WordingsProps) {
  const [at, setAt] = useState(0);
  const { data: templates = [] } = useTemplatesQuery(null);
  const insertText = useRef<((text: string) => void) | null>(null);
  const takeInsert = useCallback((put: (text: string) => void) => {
    insertText.current = put;
  }, []);
  const shown = Math.min(at, wordings.length - 1);
  const { subject, html } = wordings[shown]!;
  const set = (part: Partial<Wording>) =>
    onChange({ wordings: wordings.map((one, index) => (index === shown ? { ...one, ...part } : one)) });
  const canAdd = !areFixed && wordings.length < ROUND_LIMITS.maxWordings;
  return (
    <>
      <div className={styles.wordings}>
        {wordings.length > 1 && (
          <Segmented
            aria-label="Wording"
            value={shown}
            options={wordings.map((_, index) => ({ value: index, label: wordingName(index) }))}
            onChange={setAt}
          />
        )}
        {canAdd && (
          <Button
            type="text"
            size="small"
            onClick={() => {
              onChange({ wordings: [...wordings, { ...BLANK, ...wordings[shown] }] });
              setAt(wordings.length);
            }}
          >
            Compare another wording
          </Button>
        )}
        {!areFixed && wordings.length > 1 && (
          <Button
            type="text"
            size="small"
            onClick={() => onChange({ wordings: wordings.filter((_, index) => index !== shown) })}
          >
            Remove wording {wordingName(shown)}
          </Button>
        )}
      </div>
      <Input
        aria-label="Subject"
        placeholder="Subject"
        variant="borderless"
        className={styles.subject}
        maxLength={MESSAGE_LIMITS.maxSubjectChars}
        value={subject}
        onChange={({ target }) => set({ subject: target.value })}
      />
      <div className={styles.insert}>
        <InsertPlaceholder columns={columns} insert={(text) => insertText.current?.(text)} />
        <TemplateButton
          templates={templates}
          onChoose={(template) => {
            set({ subject: subject || template.subject, html: html + template.html });
            onChange({ templateId: templateId ?? template.id });
          }}
        />
      </div>
      <Editor key={shown} html={html} onChange={(next) => set({ html: next })} onInsert={takeInsert} />
    </>
  );
}

/** Starts it, once all is saved; says why where it cannot. */
function useStart(id: number, flush: () => Promise<boolean>, how: 'start' | 'resume') {
  const [move, { isLoading }] = useMoveRoundMutation();
  const [problem, setProblem] = useState<string | null>(null);
  const begin = async () => {
    if (!(await flush())) return;
    try {
      await move({ id, move: how }).unwrap();
    } catch (error) {
      setProblem(problemOf(error as QueryError).detail);
    }
  };
  return { begin, problem, isLoading };
}

function useRemove(id: number) {
  const [remove] = useRemoveRoundMutation();
  const { modal } = App.useApp();
  const navigate = useNavigate();
  return () =>
    modal.confirm({
      title: 'Delete this round?',
      content: 'Nothing of it has been sent. Its text and its messages cannot be restored.',
      okText: 'Delete round',
      onOk: async () => {
        void navigate('/rounds');
        await remove(id).unwrap();
      },
    });
}
