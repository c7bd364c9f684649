import { CHECK_STATE_TEXTS } from '@kiraku/core/sentences';
import type { CheckState } from '@kiraku/core/contract';
import { useEffect, useState } from 'react';
import styles from './checkup.module.css';

const MAX_WAIT_MS = 10_000;

const FOUND: Partial<Record<CheckState, string>> = {
  ok: 'This browser reaches the public address.',
  failing: 'This browser does not reach the public address. On another network than Kiraku, neither do recipients.',
};

/** Whether this browser, which may be outside, reaches the public address. */
export function FromThisBrowser({ url }: { url: string }) {
  const [state, setState] = useState<CheckState>('unknown');
  // Each response of the desk has another question in it: one is asked, and not all.
  const [asked] = useState(url);
  useEffect(() => {
    const controller = new AbortController();
    const late = setTimeout(() => controller.abort(), MAX_WAIT_MS);
    let isGone = false;
    void fetch(asked, { signal: controller.signal, credentials: 'omit', cache: 'no-store' })
      .then(async (response) => 'proof' in ((await response.json()) as object))
      .catch(() => false)
      .then((isReached) => isGone || setState(isReached ? 'ok' : 'failing'));
    return () => {
      isGone = true;
      clearTimeout(late);
      controller.abort();
    };
  }, [asked]);
  return (
    <li className={styles.line} data-state={state}>
      <span className={styles.name}>Public address, from this browser</span>
      <span className={styles.state}>{state === 'unknown' ? 'Checking …' : CHECK_STATE_TEXTS[state]}</span>
      <span className={styles.detail}>{FOUND[state]}</span>
    </li>
  );
}
