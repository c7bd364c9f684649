import { Alert, App, Button, Dropdown } from 'antd';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import type { RoundMember, RoundView } from '@kiraku/core/contract';
import {
  isOf,
  MEMBER_ORDERS,
  MEMBERS_SHOWN,
  membersEntriesOf,
  membersViewFrom,
  shownMembers,
  type MembersView,
  type RoundMove,
} from '@kiraku/core/rounds';
import {
  MEMBER_ORDER_LABELS,
  MEMBERS_SHOWN_LABELS,
  memberStatus,
  memberTimeText,
  paceText,
  personText,
  ROUND_STATE_LABELS,
  roundText,
  slowedText,
  wordingChoiceText,
  wordingName,
} from '@kiraku/core/sentences';
import { problemOf, type QueryError } from '../shared/api/api.js';
import { useLeaveOutMutation, useMoveRoundMutation } from '../shared/api/roundsApi.js';
import { useNow } from '../shared/hooks/useNow.js';
import { Choice, WordChoice } from '../shared/ui/Choice.js';
import { Nothing } from '../shared/ui/Nothing.js';
import { toneClass } from '../shared/ui/tone.js';
import pageStyles from '../shared/ui/page.module.css';
import { WindowedRows } from '../shared/ui/WindowedRows.js';
import { Compared } from './Compared.js';
import { Stepper } from './Stepper.js';
import styles from './rounds.module.css';

const MEMBER_HEIGHT = 59;
const messageOf = ({ messageId }: RoundMember) => messageId;

/** A round that has begun: who stands where, whom to contact first, and how its wordings compare. */
export function BegunRound({ round, change: changeText }: { round: RoundView; change(): void }) {
  const [params, setParams] = useSearchParams();
  const [stepAt, setStepAt] = useState<number | null>(null);
  const view = membersViewFrom(params);
  const change = (part: Partial<MembersView>) => setParams(membersEntriesOf({ ...view, ...part }), { replace: true });
  const shown = shownMembers(round.members, view);
  const drafts = round.members.filter(({ state, leftOut }) => state === 'draft' && !leftOut);
  const compares = round.wordings.length > 1;
  return (
    <div className={compares ? styles.begun : ''}>
      <section aria-label="Who stands where">
        <div className={pageStyles.listHead}>
          <h1>{round.name}</h1>
          <ExportMembers round={round} members={shown} />
        </div>
        <RoundLine round={round} change={changeText} />
        <MembersSentence round={round} view={view} shown={shown.length} onChange={change} />
        {shown.length === 0 ? (
          <Nothing title="Nobody is shown">
            <p>Change the sentence above: press one of its underlined words.</p>
          </Nothing>
        ) : (
          <WindowedRows
            items={shown}
            keyOf={messageOf}
            rowHeight={MEMBER_HEIGHT}
            label="People of the round"
            className={styles.members}
          >
            {(member) => <Member round={round} member={member} lookAt={setStepAt} />}
          </WindowedRows>
        )}
      </section>
      {compares && <Compared round={round} />}
      {stepAt !== null && drafts.length > 0 && (
        <Stepper members={drafts} messageId={stepAt} onStep={setStepAt} close={() => setStepAt(null)} />
      )}
    </div>
  );
}

/** What can be done with a round as it stands. */
const MOVES: Record<RoundView['state'], readonly { move: RoundMove; label: string }[]> = {
  preparing: [],
  running: [
    { move: 'pause', label: 'Pause' },
    { move: 'stop', label: 'Stop' },
  ],
  paused: [
    { move: 'resume', label: 'Resume' },
    { move: 'stop', label: 'Stop' },
  ],
  stopped: [{ move: 'resume', label: 'Resume' }],
  done: [],
};

function RoundLine({ round, change }: { round: RoundView; change(): void }) {
  const { id, members, state, pace, pauseReason, slowedBy } = round;
  const [move, { isLoading }] = useMoveRoundMutation();
  const { notification } = App.useApp();
  const waiting = members.filter(isOf.waiting).length;
  const people = members.filter((member) => !isOf.leftOut(member)).length;
  const count = (wanted: RoundMember['state']) => members.filter((member) => member.state === wanted).length;
  const press = async (how: RoundMove) => {
    try {
      await move({ id, move: how }).unwrap();
    } catch (error) {
      const { title, detail } = problemOf(error as QueryError);
      notification.open({ title, description: detail, role: 'status' });
    }
  };
  const words = [
    roundText({ people, sent: count('sent'), failed: count('failed'), waiting }),
    waiting > 0 && paceText(pace),
    ROUND_STATE_LABELS[state],
  ];
  return (
    <>
      <p className={styles.line}>
        {words.filter(Boolean).join(' · ')}
        {/* Nothing is left to resume where nobody waits. */}
        {(waiting > 0 ? MOVES[state] : []).map(({ move: how, label }) => (
          <Button key={how} size="small" loading={isLoading} onClick={() => void press(how)}>
            {label}
          </Button>
        ))}
        {waiting > 0 && (state === 'paused' || state === 'stopped') && (
          <Button size="small" onClick={change}>
            Change text or pace
          </Button>
        )}
      </p>
      {pauseReason !== null && <Alert type="warning" showIcon title="Paused" description={pauseReason} />}
      {slowedBy > 1 && waiting > 0 && <p className="tone-needs-you">{slowedText(slowedBy)}.</p>}
    </>
  );
}

interface SentenceProps {
  round: RoundView;
  view: MembersView;
  shown: number;
  onChange(part: Partial<MembersView>): void;
}

function MembersSentence({ round: { wordings, members }, view, shown, onChange }: SentenceProps) {
  const choices: MembersView['wording'][] = [
    null,
    ...wordings.map((_, index) => index),
    ...(members.some(({ isRest }) => isRest) ? (['rest'] as const) : []),
  ];
  return (
    <p className={pageStyles.sentence}>
      Showing{' '}
      <WordChoice
        label="Who is shown"
        value={view.show}
        values={MEMBERS_SHOWN}
        texts={MEMBERS_SHOWN_LABELS}
        onChoose={(show) => onChange({ show })}
      />
      {wordings.length > 1 && (
        <>
          {' '}
          with{' '}
          <Choice
            label="Which wording"
            value={String(view.wording)}
            options={choices.map((value) => ({ value: String(value), label: wordingChoiceText(value) }))}
            words={wordingChoiceText(view.wording)}
            onChoose={(value) => onChange({ wording: choices.find((one) => String(one) === value)! })}
          />
        </>
      )}
      , sorted by{' '}
      <WordChoice
        label="Sorted by"
        value={view.order}
        values={MEMBER_ORDERS}
        texts={MEMBER_ORDER_LABELS}
        onChoose={(order) => onChange({ order })}
      />
      .{' '}
      <span className="figures">
        {shown} of {members.length}
      </span>
    </p>
  );
}

function Member({ round, member, lookAt }: { round: RoundView; member: RoundMember; lookAt(messageId: number): void }) {
  const now = useNow();
  const [leaveOut] = useLeaveOutMutation();
  const { messageId, recipient, company, wording, isRest, state, leftOut } = member;
  const { tone, text } = memberStatus(member, now, round.state === 'running');
  const name = personText(recipient);
  return (
    <>
      <span className={styles.who}>
        {state === 'draft' ? <b>{name}</b> : <Link to={`/sent/${messageId}`}>{name}</Link>}
        <span className="soft">{company || (recipient.name && recipient.address)}</span>
      </span>
      {round.wordings.length > 1 && (
        <span className="soft" title={isRest ? 'Got the better wording, not by chance' : undefined}>
          {wordingName(wording)}
          {isRest && ' (rest)'}
        </span>
      )}
      <span className={tone === 'plain' ? '' : toneClass(tone)}>
        {text}
        {state === 'draft' && !leftOut && (
          <Button type="link" size="small" onClick={() => lookAt(messageId)} aria-label={`Preview for ${name}`}>
            Preview
          </Button>
        )}
        {leftOut && state === 'draft' && round.state !== 'running' && (
          <Button
            type="link"
            size="small"
            aria-label={`Include ${name}`}
            onClick={() => void leaveOut({ id: round.id, messageIds: [messageId], leftOut: false })}
          >
            Include
          </Button>
        )}
      </span>
      <span className="soft figures">{memberTimeText(member, now)}</span>
    </>
  );
}

/** Those who are shown as a sheet, or all that happened in the round. */
function ExportMembers({ round, members }: { round: RoundView; members: readonly RoundMember[] }) {
  const now = useNow();
  const save = async () => {
    const { saveCsv } = await import('../shared/ui/chartFiles.js');
    saveCsv(`${round.name || 'round'}.csv`, {
      columns: [
        'name',
        'address',
        'company',
        'wording',
        'status',
        'sent_at',
        'opens',
        'clicks',
        'file_views',
        'replies',
      ],
      rows: members.map((member) => {
        const { recipient, company, wording, summary } = member;
        const { opens = 0, clicks = 0, fileViews = 0, replies = 0 } = summary?.tally ?? {};
        const sentAt = summary?.sentAt ? new Date(summary.sentAt).toISOString() : '';
        const texts = [
          recipient.name,
          recipient.address,
          company,
          wordingName(wording),
          memberStatus(member, now).text,
        ];
        return [...texts, sentAt, opens, clicks, fileViews, replies].map((value) => ({ value }));
      }),
    });
  };
  return (
    <Dropdown
      trigger={['click']}
      menu={{
        items: [
          { key: 'people', label: 'Those shown (CSV)', onClick: () => void save() },
          {
            key: 'events',
            label: (
              <a href={`/api/export/events.csv?round=${round.id}`} download>
                All activity of the round (CSV)
              </a>
            ),
          },
        ],
      }}
    >
      <Button aria-haspopup="menu">Export</Button>
    </Dropdown>
  );
}
