import { Skeleton } from 'antd';
import { lazy, Suspense, useState } from 'react';
import { Link } from 'react-router';
import { noSignText, proposalsSentence } from '@kiraku/core/sentences';
import type { Proposal, TodayView } from '@kiraku/core/contract';
import { NO_SIGN_VIEW } from '@kiraku/core/sent';
import { isNow } from '@kiraku/core/tracking';
import { addressOf } from '../shared/api/sentApi.js';
import { useFollowupsQuery } from '../shared/api/followupsApi.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { Nothing } from '../shared/ui/Nothing.js';
import { TrailAxis } from '../shared/ui/Trail.js';
import { useNow } from '../shared/hooks/useNow.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { ProposalRow } from './ProposalRow.js';
import { useTodayQuery } from '../shared/api/todayApi.js';
import styles from './today.module.css';

// With what reads times in words.
const Due = lazy(() => import('./Due.js'));

/** Who is reading now, what is due, and whom to get in touch with next. */
export default function TodayPage() {
  usePageTitle('Today');
  const { data, error, refetch } = useTodayQuery(null);
  // Both at once: what is due would push down what one is about to press.
  const { isLoading: isDueLoading } = useFollowupsQuery(null);
  const skeleton = <Skeleton active title={false} paragraph={{ rows: 10 }} />;
  return (
    <>
      <div className={styles.head}>
        <h1>Today</h1>
        <Link to="/summary">Summary</Link>
      </div>
      {error && !data && <LoadFailed error={error} retry={() => void refetch()} />}
      {!error && (!data || isDueLoading) && skeleton}
      {data && !isDueLoading && (
        <Suspense fallback={skeleton}>
          <Sections view={data} />
        </Suspense>
      )}
    </>
  );
}

function Sections({ view: { proposals, more, noSignTotal } }: { view: TodayView }) {
  const [isPointedAt, setPointedAt] = useState(false);
  const { live, next } = useStill(proposals, isPointedAt);
  return (
    <div
      className={styles.today}
      onPointerEnter={() => setPointedAt(true)}
      onPointerLeave={() => setPointedAt(false)}
      onFocus={() => setPointedAt(true)}
      onBlur={() => setPointedAt(false)}
    >
      {live.length > 0 && (
        <section aria-labelledby="today-live">
          <h2 id="today-live" className="tone-now">
            Reading now
          </h2>
          <Rows proposals={live} />
        </section>
      )}
      <Due />
      <section aria-labelledby="today-next">
        <h2 id="today-next">
          Contact next{' '}
          <span className={styles.total}>
            {next.length > 0 && proposalsSentence(next.length, more)}
            {next.length > 0 && noSignTotal > 0 && ' · '}
            {noSignTotal > 0 && (
              <Link to={`/sent?${addressOf(NO_SIGN_VIEW)}`} title="They may have been read all the same.">
                {noSignText(noSignTotal)}
              </Link>
            )}
          </span>
        </h2>
        {next.length > 0 && (
          <>
            <div className={styles.axis} aria-hidden="true">
              <TrailAxis />
            </div>
            <Rows proposals={next} />
          </>
        )}
        {proposals.length === 0 && (
          <Nothing title="Nobody is waiting for you">
            <p>Whoever reads, clicks a link or comes back after weeks appears here, most urgent first.</p>
            <Link to="/write">Write to somebody</Link>
          </Nothing>
        )}
      </section>
    </div>
  );
}

function Rows({ proposals }: { proposals: Proposal[] }) {
  return (
    <ol className={styles.rows}>
      {proposals.map((proposal) => (
        <ProposalRow key={proposal.person.id} proposal={proposal} />
      ))}
    </ol>
  );
}

/** Where a row stands: under whom it is, and in which of the two lists. */
interface Place {
  id: number;
  isLive: boolean;
}

/**
 * Who is reading now, and whom to contact next; where they stood while somebody points at them: what is about to be
 * pressed does not move away. Who came meanwhile stands at the end of their list.
 */
function useStill(proposals: Proposal[], isPointedAt: boolean): { live: Proposal[]; next: Proposal[] } {
  const now = useNow();
  const [places, setPlaces] = useState<Place[]>([]);
  const fresh = proposals.map(({ person, lastAt }) => ({ id: person.id, isLive: isNow(lastAt, now) }));
  const isKnown = ({ id }: Place) => places.some((place) => place.id === id);
  const isThere = ({ id }: Place) => fresh.some((place) => place.id === id);
  const next = isPointedAt ? [...places.filter(isThere), ...fresh.filter((place) => !isKnown(place))] : fresh;
  if (JSON.stringify(next) !== JSON.stringify(places)) setPlaces(next);
  const byId = new Map(proposals.map((proposal) => [proposal.person.id, proposal]));
  const of = (isLive: boolean) => next.filter((place) => place.isLive === isLive).map(({ id }) => byId.get(id)!);
  return { live: of(true), next: of(false) };
}
