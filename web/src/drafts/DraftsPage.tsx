import { Button, Skeleton } from 'antd';
import { Link } from 'react-router';
import { peopleText } from '@kiraku/core/sentences';
import { counted } from '@kiraku/core/time';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { Nothing } from '../shared/ui/Nothing.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { When } from '../shared/ui/When.js';
import { useDraftsInfiniteQuery } from '../shared/api/draftsApi.js';
import pageStyles from '../shared/ui/page.module.css';
import styles from './drafts.module.css';

/** Messages that were begun, last written first. */
export default function DraftsPage() {
  usePageTitle('Drafts');
  const { data, error, isLoading, refetch, hasNextPage, isFetchingNextPage, fetchNextPage } =
    useDraftsInfiniteQuery(null);
  const drafts = data?.pages.flatMap((page) => page.drafts) ?? [];
  const total = data?.pages.at(-1)?.total;
  return (
    <>
      <h1>Drafts</h1>
      {isLoading && <Skeleton active title={false} paragraph={{ rows: 4 }} />}
      {error && <LoadFailed error={error} retry={() => void refetch()} />}
      {total === 0 && (
        <Nothing title="No drafts">
          <p>What you begin to write is kept here until you send it.</p>
          <Link to="/write">Write a message</Link>
        </Nothing>
      )}
      {total !== undefined && total > 0 && (
        <>
          <p className={pageStyles.sentence}>{counted(total, 'draft')}, newest first.</p>
          <ul className={`${pageStyles.linkedRows} ${styles.drafts}`}>
            {drafts.map((draft) => (
              <li key={draft.id} data-row>
                <span>{peopleText(draft.recipients, 'No recipient yet')}</span>
                <Link to={`/write/${draft.id}`}>{draft.subject || 'No subject yet'}</Link>
                <span className="soft">
                  <When at={draft.updatedAt} />
                </span>
              </li>
            ))}
          </ul>
          {hasNextPage && (
            <Button loading={isFetchingNextPage} onClick={() => void fetchNextPage()}>
              Show more
            </Button>
          )}
        </>
      )}
    </>
  );
}
