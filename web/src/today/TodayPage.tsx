import { Skeleton } from 'antd';
import { lazy, Suspense, useState } from 'react';
import { Link } from 'react-router';
import { noSignSentence, personText, proposalsSentence } from '@kiraku/core/sentences';
import type { Proposal, TodayView } from '@kiraku/core/contract';
import { NO_SIGN_VIEW } from '@kiraku/core/sent';
import { addressOf } from '../shared/api/sentApi.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { Nothing } from '../shared/ui/Nothing.js';
import { TrailAxis } from '../shared/ui/Trail.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { When } from '../shared/ui/When.js';
import { ProposalRow } from './ProposalRow.js';
import { useTodayQuery } from '../shared/api/todayApi.js';
import pageStyles from '../shared/ui/page.module.css';
import styles from './today.module.css';

// With what reads times in words.
const Due = lazy(() => import('../followups/Due.js'));

/** Whom to get in touch with next, and why. */
export default function TodayPage() {
  usePageTitle('Today');
  const { data, error, refetch } = useTodayQuery(null);
  return (
    <>
      <h1>Today</h1>
      {error && !data && <LoadFailed error={error} retry={() => void refetch()} />}
      {!data && !error && <Skeleton active title={false} paragraph={{ rows: 10 }} />}
      {data && <Views view={data} />}
    </>
  );
}

function Views({ view }: { view: TodayView }) {
  return (
    <div className={styles.today}>
      <div>
        <Suspense>
          <Due />
        </Suspense>
        <section aria-labelledby="today-touch">
          <h2 id="today-touch">Get in touch</h2>
          <Proposals proposals={view.proposals} more={view.more} />
        </section>
      </div>
      <aside aria-labelledby="today-silent">
        <h2 id="today-silent">No sign yet</h2>
        <NoSign view={view} />
      </aside>
    </div>
  );
}

function Proposals({ proposals, more }: { proposals: Proposal[]; more: number }) {
  const [isPointedAt, setPointedAt] = useState(false);
  const shown = useStill(proposals, isPointedAt);
  if (proposals.length === 0)
    return (
      <Nothing title="Nobody is waiting for you">
        <p>Whoever reads, clicks a link or comes back after weeks appears here, most urgent first.</p>
        <Link to="/write">Write to somebody</Link>
      </Nothing>
    );
  return (
    <>
      <p className={pageStyles.sentence}>{proposalsSentence(proposals.length, more)}</p>
      <div className={styles.axis} aria-hidden="true">
        <TrailAxis />
      </div>
      <ol
        className={styles.proposals}
        onPointerEnter={() => setPointedAt(true)}
        onPointerLeave={() => setPointedAt(false)}
        onFocus={() => setPointedAt(true)}
        onBlur={() => setPointedAt(false)}
      >
        {shown.map((proposal) => (
          <ProposalRow key={proposal.person.id} proposal={proposal} />
        ))}
      </ol>
    </>
  );
}

/**
 * The proposals as they are, in the order they had while somebody points at them: what is about to be pressed does not
 * move away. Who came meanwhile stands at the end.
 */
function useStill(proposals: Proposal[], isPointedAt: boolean): Proposal[] {
  const [order, setOrder] = useState<number[]>([]);
  const ids = proposals.map(({ person }) => person.id);
  const next = isPointedAt
    ? [...order.filter((id) => ids.includes(id)), ...ids.filter((id) => !order.includes(id))]
    : ids;
  if (next.join() !== order.join()) setOrder(next);
  const byId = new Map(proposals.map((proposal) => [proposal.person.id, proposal]));
  return next.map((id) => byId.get(id)!);
}

function NoSign({ view: { noSign, noSignTotal } }: { view: TodayView }) {
  if (noSignTotal === 0) return <p className="soft">Everything older than a week has shown some sign of reading.</p>;
  return (
    <>
      <p className={pageStyles.sentence}>{noSignSentence(noSignTotal)}</p>
      <ul className={styles.silent}>
        {noSign.map(({ id, subject, recipients, sentAt, queuedAt }) => (
          <li key={id}>
            <Link to={`/sent/${id}`}>{recipients[0] ? personText(recipients[0]) : 'Nobody'}</Link>
            <span className="soft">{subject || 'No subject'}</span>
            <span className="soft">
              <When at={sentAt ?? queuedAt} />
            </span>
          </li>
        ))}
      </ul>
      <Link to={`/sent?${addressOf(NO_SIGN_VIEW)}`}>All of them</Link>
    </>
  );
}
