import { Skeleton } from 'antd';
import { Link } from 'react-router';
import { ROUND_STATE_LABELS, roundText } from '@kiraku/core/sentences';
import { counted } from '@kiraku/core/time';
import { useRoundsQuery } from '../shared/api/roundsApi.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { Nothing } from '../shared/ui/Nothing.js';
import { When } from '../shared/ui/When.js';
import pageStyles from '../shared/ui/page.module.css';
import { SheetButton } from './SheetButton.js';
import { useBeginRound } from '../shared/hooks/useBeginRound.js';
import styles from './rounds.module.css';

/** Rounds, the newest first: one text for several people, a message of their own for each. */
export default function RoundsPage() {
  usePageTitle('Rounds');
  const { data, error, refetch } = useRoundsQuery(null);
  const begin = useBeginRound();
  return (
    <>
      <div className={pageStyles.listHead}>
        <h1>Rounds</h1>
        <SheetButton label="From a sheet" onChoose={(sheet) => void begin(sheet)} />
      </div>
      {error && !data && <LoadFailed error={error} retry={() => void refetch()} />}
      {!data && !error && <Skeleton active title={false} paragraph={{ rows: 5 }} />}
      {data?.length === 0 && (
        <Nothing title="No rounds yet">
          <p>
            In a round, each person gets a message of their own from one text. Begin one from{' '}
            <Link to="/write" className="text-link">
              a message to several people
            </Link>
            , from{' '}
            <Link to="/people" className="text-link">
              people
            </Link>{' '}
            or from a sheet.
          </p>
        </Nothing>
      )}
      {data && data.length > 0 && (
        <>
          <p className={pageStyles.sentence}>{counted(data.length, 'round')}, newest first.</p>
          <ul className={`${pageStyles.linkedRows} ${styles.list}`}>
            {data.map((round) => (
              <li key={round.id} data-row>
                <Link to={`/rounds/${round.id}`}>{round.name}</Link>
                <span className="soft">{roundText(round)}</span>
                <span className="soft">{ROUND_STATE_LABELS[round.state]}</span>
                <span className="soft">
                  <When at={round.createdAt} />
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}
