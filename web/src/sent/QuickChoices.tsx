import { Link } from 'react-router';
import { QUICK_TEXTS } from '@kiraku/core/sentences';
import { QUICK_CHOICES } from '@kiraku/core/contract';
import { DEFAULT_VIEW, type ListView } from '@kiraku/core/sent';
import { addressOf, useSentCountsQuery } from '../shared/api/sentApi.js';
import styles from './sent.module.css';

/** What is looked for every day, each in one press, with how many there are. */
export function QuickChoices({ view, more }: { view: ListView; more: Record<string, string> }) {
  const { data: counts } = useSentCountsQuery(null);
  return (
    <nav aria-label="Quick choices" className={styles.quick}>
      {QUICK_CHOICES.map((show) => (
        <Link
          key={show}
          to={`?${new URLSearchParams([...new URLSearchParams(addressOf({ ...DEFAULT_VIEW, show })), ...Object.entries(more)])}`}
          aria-current={view.show === show ? 'true' : undefined}
          className={show === 'attention' && counts?.attention ? styles.pressing : ''}
        >
          {QUICK_TEXTS[show]} <span className="figures">{counts?.[show]}</span>
        </Link>
      ))}
    </nav>
  );
}
