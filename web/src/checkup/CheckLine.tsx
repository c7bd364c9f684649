import { CHECK_LABELS, checkStateSentence } from '@kiraku/core/sentences';
import type { CheckView } from '@kiraku/core/contract';
import { useNow } from '../shared/hooks/useNow.js';
import styles from './checkup.module.css';

/** How one thing stands, and what to do about it. */
export function CheckLine({ check }: { check: CheckView }) {
  const now = useNow();
  const { name, state, detail, advice, records } = check;
  return (
    <li className={styles.line} data-state={state}>
      <span className={styles.name}>{CHECK_LABELS[name]}</span>
      <span className={styles.state}>{checkStateSentence(check, now)}</span>
      <span className={styles.detail}>
        {detail}
        {advice !== null && <span className={styles.advice}> {advice}</span>}
        {records.map((record) => (
          <code key={record.name} className={styles.record}>
            {record.name} {record.type} &quot;{record.value}&quot;
          </code>
        ))}
      </span>
    </li>
  );
}
