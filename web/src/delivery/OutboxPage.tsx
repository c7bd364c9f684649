import { Skeleton } from 'antd';
import { Link } from 'react-router';
import { outboxSentence, outboxStateText, personText } from '@kiraku/core/sentences';
import type { OutboxCopy } from '@kiraku/core/contract';
import { RefusedMails } from '../refused/RefusedMails.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { Nothing } from '../shared/ui/Nothing.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { When } from '../shared/ui/When.js';
import { useOutboxQuery } from '../shared/api/deliveryApi.js';
import { RetryCopy } from './RetryCopy.js';
import pageStyles from '../shared/ui/page.module.css';
import styles from './delivery.module.css';

/** What has not left, or could not: each copy with the mail server's own words. */
export default function OutboxPage() {
  usePageTitle('Outbox');
  const { data, error, isLoading, refetch } = useOutboxQuery(null, { refetchOnMountOrArgChange: true });
  const failed = data?.filter((copy) => copy.state === 'failed') ?? [];
  const waiting = data?.filter((copy) => copy.state !== 'failed') ?? [];
  return (
    <>
      <h1>Outbox</h1>
      {isLoading && <Skeleton active title={false} paragraph={{ rows: 4 }} />}
      {error && <LoadFailed error={error} retry={() => void refetch()} />}
      {data?.length === 0 && (
        <Nothing title="Everything is sent">
          <p>Messages that a mail server does not accept at once wait here with its reason, and are retried.</p>
        </Nothing>
      )}
      {data && data.length > 0 && (
        <p className={pageStyles.sentence}>{outboxSentence(waiting.length, failed.length)}</p>
      )}
      <ul className={styles.outbox}>
        {[...waiting, ...failed].map((copy) => (
          <OutboxRow key={copy.copyId} copy={copy} />
        ))}
      </ul>
      <RefusedMails
        way="submission"
        title="Not accepted from other mail apps"
        help="Your mail app showed the same error. Nobody got these messages."
      />
    </>
  );
}

function OutboxRow({ copy }: { copy: OutboxCopy }) {
  const { copyId, messageId, recipient, subject, state, attempts, nextAttemptAt, createdAt, lastError } = copy;
  return (
    <li data-row>
      <div>
        <span>{personText(recipient)}</span>
        <Link to={`/sent/${messageId}`}>{subject || 'No subject'}</Link>
      </div>
      <div>
        <span className={state === 'failed' ? 'tone-now' : 'tone-needs-you'}>{outboxStateText(copy)}</span>
        <span className="soft">
          since <When at={createdAt} />
          {nextAttemptAt !== null && attempts > 0 && (
            <>
              , again <When at={nextAttemptAt} />
            </>
          )}
        </span>
      </div>
      <div>
        {lastError && <q>{lastError}</q>}
        <RetryCopy copyId={copyId} messageId={messageId} address={recipient.address} state={state} />
      </div>
    </li>
  );
}
