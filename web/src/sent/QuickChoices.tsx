import { Link } from 'react-router';
import { QUICK_TEXTS } from '@kiraku/core/sentences';
import { QUICK_CHOICES, type ListView, type QuickChoice } from '@kiraku/core/sent';
import { quickAddress, useSentTotalsQuery } from '../shared/api/sentApi.js';
import styles from './sent.module.css';

interface QuickChoicesProps {
  view: ListView;
  /** What else the address is to say, without its “?”. */
  rest: string;
}

/** What is looked for every day, each in one press, with how many there are. */
export function QuickChoices({ view, rest }: QuickChoicesProps) {
  return (
    <nav aria-label="Quick choices" className={styles.quick}>
      {QUICK_CHOICES.map((show) => (
        <Quick key={show} show={show} isCurrent={view.show === show} rest={rest} />
      ))}
    </nav>
  );
}

function Quick({ show, isCurrent, rest }: { show: QuickChoice; isCurrent: boolean; rest: string }) {
  const address = quickAddress(show);
  const { data: totals } = useSentTotalsQuery(address);
  const isPressing = show === 'attention' && (totals?.total ?? 0) > 0;
  return (
    <Link
      to={`?${[address, rest].filter(Boolean).join('&')}`}
      aria-current={isCurrent ? 'true' : undefined}
      className={isPressing ? styles.pressing : ''}
    >
      {QUICK_TEXTS[show]} <span className="figures">{totals?.total}</span>
    </Link>
  );
}
