import { Skeleton } from 'antd';
import { Link } from 'react-router';
import { peopleText } from '@kiraku/core/sentences';
import { counted } from '@kiraku/core/time';
import { LoadFailed } from '../ui/LoadFailed.js';
import { Nothing } from '../ui/Nothing.js';
import { usePageTitle } from '../ui/usePageTitle.js';
import { When } from '../ui/When.js';
import { useDraftsQuery } from '../write/draftsApi.js';
import './drafts.css';

/** Messages that were begun, last written first. */
export default function DraftsPage() {
  usePageTitle('Drafts');
  const { data, error, isLoading, refetch } = useDraftsQuery(null);
  return (
    <>
      <h1>Drafts</h1>
      {isLoading && <Skeleton active title={false} paragraph={{ rows: 4 }} />}
      {error && <LoadFailed error={error} retry={() => void refetch()} />}
      {data?.length === 0 && (
        <Nothing title="No drafts">
          <p>What you begin to write is kept here until you send it.</p>
          <Link to="/write">Write a message</Link>
        </Nothing>
      )}
      {data && data.length > 0 && (
        <>
          <p className="page-sentence">{counted(data.length, 'draft')}, newest first.</p>
          <ul className="drafts">
            {data.map((draft) => (
              <li key={draft.id}>
                <span>{peopleText(draft.recipients, 'No recipient yet')}</span>
                <Link to={`/write/${draft.id}`}>{draft.subject || 'No subject yet'}</Link>
                <span className="soft">
                  <When at={draft.updatedAt} />
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}
