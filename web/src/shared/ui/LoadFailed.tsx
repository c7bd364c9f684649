import { Alert, Button } from 'antd';
import { useEffect, useRef } from 'react';
import { problemOf, type QueryError } from '../api/api.js';
import { useAppSelector } from '../store/store.js';
import styles from './page.module.css';

/** What could not be loaded, why, and the way to try again; it does by itself when the connection is back. */
export function LoadFailed({ error, retry }: { error: QueryError; retry(): void }) {
  const live = useAppSelector((root) => root.live.state);
  const before = useRef(live);
  useEffect(() => {
    if (before.current === 'lost' && live === 'live') retry();
    before.current = live;
  });
  const { title, detail } = problemOf(error);
  return (
    <Alert
      type="warning"
      showIcon
      title={title}
      description={detail}
      action={<Button onClick={retry}>Try again</Button>}
      className={styles.loadFailed}
    />
  );
}
