import { Skeleton } from 'antd';
import { Link, useSearchParams } from 'react-router';
import { followupsSentence, laterFollowupsSentence, planEndText } from '@kiraku/core/sentences';
import type { FollowupsView, Mailbox, OpenFollowups, ReminderView } from '@kiraku/core/contract';
import { useNow } from '../shared/hooks/useNow.js';
import { Choice, WordChoice } from '../shared/ui/Choice.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { Nothing } from '../shared/ui/Nothing.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { CalendarAddress } from './CalendarAddress.js';
import { ComingDays } from './ComingDays.js';
import { useFollowupsQuery } from '../shared/api/followupsApi.js';
import { PlanSteps } from './PlanSteps.js';
import RemindButton from './RemindButton.js';
import { ReminderLine } from './ReminderLine.js';
import pageStyles from '../shared/ui/page.module.css';
import styles from './followups.module.css';

const SHOWN = ['all', 'due', 'waiting', 'planned', 'done'] as const;
type Shown = (typeof SHOWN)[number];
const SHOWN_WORDS: Record<Shown, string> = {
  all: 'all follow-ups',
  due: 'due reminders',
  waiting: 'waiting reminders',
  planned: 'automatic follow-ups',
  done: 'what is done',
};
const ANYBODY = 'anybody';

interface Filter {
  show: Shown;
  /** The name of a person; empty for anybody. */
  who: string;
}

/** What is shown stands in the address. */
function useFilter(): [Filter, (filter: Filter) => void] {
  const [params, setParams] = useSearchParams();
  const show = SHOWN.find((one) => one === params.get('show')) ?? 'all';
  const set = (filter: Filter) =>
    setParams({ ...(filter.show !== 'all' && { show: filter.show }), ...(filter.who !== '' && { who: filter.who }) });
  return [{ show, who: params.get('who') ?? '' }, set];
}

function nameOf({ name, address }: Mailbox): string {
  return name || address;
}

function peopleOfReminder({ person, message }: ReminderView): string[] {
  return person ? [nameOf(person)] : (message?.recipients.map(nameOf) ?? []);
}

function openOf({ reminders, plans }: Pick<FollowupsView, 'reminders' | 'plans'>): OpenFollowups {
  const inState = (of: readonly { state: string }[], state: string) => of.filter((one) => one.state === state).length;
  return {
    due: inState(reminders, 'due'),
    waiting: inState(reminders, 'waiting'),
    running: inState(plans, 'running'),
  };
}

function peopleOf({ reminders, plans }: FollowupsView): string[] {
  const names = [
    ...reminders.flatMap(peopleOfReminder),
    ...plans.flatMap(({ message }) => message.recipients.map(nameOf)),
  ];
  return [...new Set(names)].sort((a, b) => a.localeCompare(b));
}

function ofPerson(view: FollowupsView, who: string): FollowupsView {
  if (who === '') return view;
  const reminders = view.reminders.filter((reminder) => peopleOfReminder(reminder).includes(who));
  const plans = view.plans.filter(({ message }) => message.recipients.map(nameOf).includes(who));
  return { ...view, reminders, plans, open: openOf({ reminders, plans }) };
}

/** Reminders and automatic follow-ups: what is due, what waits, which messages are to leave, what is done. */
export default function FollowupsPage() {
  usePageTitle('Follow-ups');
  const { data, error, refetch } = useFollowupsQuery(null);
  return (
    <>
      <div className={styles.head}>
        <h1>Follow-ups</h1>
        <RemindButton about={{ messageIds: [], personId: null }} label="New reminder" />
      </div>
      {error && !data && <LoadFailed error={error} retry={() => void refetch()} />}
      {!data && !error && <Skeleton active title={false} paragraph={{ rows: 10 }} />}
      {data && <Followups view={data} />}
    </>
  );
}

function Followups({ view }: { view: FollowupsView }) {
  const now = useNow();
  const [filter, setFilter] = useFilter();
  const { reminders, plans, open, replyProblem } = ofPerson(view, filter.who);
  const isShown = (part: Shown) => filter.show === 'all' || filter.show === part;
  const of = (...states: ReminderView['state'][]) => reminders.filter(({ state }) => states.includes(state));
  const [due, waiting, ended] = [of('due'), of('waiting'), of('done', 'resolved')];
  const running = plans.filter(({ state }) => state === 'running');
  const over = plans.filter(({ state }) => state !== 'running');
  if (view.reminders.length + view.plans.length === 0)
    return (
      <>
        <Nothing title="No follow-ups yet">
          <p>
            Reminders you set while writing, on sent messages or here appear in this list, and so do automatic
            follow-ups.
          </p>
          <Link to="/sent">Go to Sent</Link>
        </Nothing>
        <CalendarAddress />
      </>
    );
  return (
    <>
      <p className={pageStyles.sentence}>
        Showing{' '}
        <WordChoice
          label="What is shown"
          value={filter.show}
          values={SHOWN}
          texts={SHOWN_WORDS}
          onChoose={(show) => setFilter({ ...filter, show })}
        />{' '}
        about{' '}
        <Choice
          label="About whom"
          value={filter.who}
          options={[{ value: '', label: ANYBODY }, ...peopleOf(view).map((who) => ({ value: who, label: who }))]}
          words={filter.who || ANYBODY}
          onChoose={(who) => setFilter({ ...filter, who })}
        />
        , earliest first. {followupsSentence(open)} {laterFollowupsSentence(view.open, openOf(view))}
      </p>
      <ComingDays reminders={[...due, ...waiting]} plans={running} now={now} />
      <div className={styles.followups}>
        {isShown('due') && <Reminders id="due" title="Due" reminders={due} nothing="Nothing is due." />}
        {isShown('planned') && (
          <section aria-labelledby="followups-plans">
            <h2 id="followups-plans">Automatic follow-ups</h2>
            {running.length > 0 && replyProblem && (
              <p className="tone-needs-you">{replyProblem}: nothing is sent until then.</p>
            )}
            {running.length === 0 && <p className="soft">None. Set them up while writing, in the margin.</p>}
            {running.map((plan) => (
              <article key={plan.id} className={styles.plan}>
                <h3>
                  <Link to={`/sent/${plan.message.id}`}>{plan.message.subject || 'No subject'}</Link>{' '}
                  <span className="soft">to {plan.message.recipients.map(nameOf).join(', ')}</span>
                </h3>
                <PlanSteps plan={plan} />
              </article>
            ))}
          </section>
        )}
        {isShown('waiting') && (
          <Reminders id="waiting" title="Waiting" reminders={waiting} nothing="No reminders are waiting." />
        )}
        {isShown('done') && (
          <section aria-labelledby="followups-done">
            <h2 id="followups-done">Done in the last two weeks</h2>
            {ended.length + over.length === 0 && <p className="soft">Nothing yet.</p>}
            <ul className={styles.reminders}>
              {ended.map((reminder) => (
                <ReminderLine key={reminder.id} reminder={reminder} />
              ))}
              {over.map(({ id, message, state, reason }) => (
                <li key={`plan ${id}`} className={styles.reminder}>
                  <span className={styles.reminderWhat}>
                    <Link to={`/sent/${message.id}`}>{message.subject || 'No subject'}</Link>
                    <span className="soft">{planEndText(state === 'done', reason)}</span>
                  </span>
                </li>
              ))}
            </ul>
          </section>
        )}
      </div>
      <CalendarAddress />
    </>
  );
}

function Reminders({
  id,
  title,
  reminders,
  nothing,
}: {
  id: string;
  title: string;
  reminders: ReminderView[];
  nothing: string;
}) {
  return (
    <section aria-labelledby={`followups-${id}`}>
      <h2 id={`followups-${id}`}>{title}</h2>
      {reminders.length === 0 && <p className="soft">{nothing}</p>}
      <ul className={styles.reminders}>
        {reminders.map((reminder) => (
          <ReminderLine key={reminder.id} reminder={reminder} />
        ))}
      </ul>
    </section>
  );
}
