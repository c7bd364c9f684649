import { Alert } from 'antd';
import type { Trial } from '@kiraku/core/contract';
import styles from './page.module.css';

/** What became of the test of a connection, in words; nothing before there was one. */
export function TrialResult({ trial }: { trial: Trial | undefined }) {
  if (!trial) return null;
  return (
    <Alert
      type={trial.ok ? 'info' : 'warning'}
      showIcon
      title={trial.words}
      className={styles.formProblem}
      role="status"
    />
  );
}
