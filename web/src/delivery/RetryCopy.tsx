import { Alert, Button, Input } from 'antd';
import { useState } from 'react';
import type { CopyState } from '@kiraku/core/contract';
import { problemOf } from '../shared/api/api.js';
import { useRetryCopyMutation } from '../shared/api/deliveryApi.js';
import styles from './delivery.module.css';

interface Props {
  copyId: number;
  messageId: number;
  address: string;
  state: CopyState;
}

/** Lets a copy that waits go now, and one that failed go again, to a mended address if it needs one. */
export function RetryCopy({ copyId, messageId, address, state }: Props) {
  const [fixed, setMended] = useState(address);
  const [retry, { isLoading, error }] = useRetryCopyMutation();
  const problem = error && problemOf(error);
  if (state !== 'failed')
    return (
      <Button size="small" loading={isLoading} onClick={() => void retry({ copyId, messageId })}>
        Retry now
      </Button>
    );
  return (
    <form
      className={styles.retryCopy}
      onSubmit={(event) => {
        event.preventDefault();
        void retry({ copyId, messageId, address: fixed.trim() });
      }}
    >
      <Input
        size="small"
        value={fixed}
        onChange={(event) => setMended(event.target.value)}
        aria-label="Address to send it to"
      />
      <Button size="small" htmlType="submit" loading={isLoading}>
        Send this copy again
      </Button>
      {problem && <Alert type="warning" showIcon title={problem.detail} />}
    </form>
  );
}
