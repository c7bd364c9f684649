import { Alert, Button } from 'antd';
import { problemOf, type QueryError } from '../api/api.js';

/** What could not be loaded, why, and the way to try again. */
export function LoadFailed({ error, retry }: { error: QueryError; retry(): void }) {
  const { title, detail } = problemOf(error);
  return (
    <Alert
      type="warning"
      showIcon
      title={title}
      description={detail}
      action={<Button onClick={retry}>Try again</Button>}
      className="load-failed"
    />
  );
}
