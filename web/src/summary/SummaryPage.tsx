import { Skeleton } from 'antd';
import { Link } from 'react-router';
import type { SummaryPart, SummaryView } from '@kiraku/core/contract';
import { useSummaryQuery } from '../shared/api/summaryApi.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { Nothing } from '../shared/ui/Nothing.js';
import pageStyles from '../shared/ui/page.module.css';
import { ByEmail } from './ByEmail.js';
import styles from './summary.module.css';

/** Whom to contact and why, what is due, what has happened, how it is going: as it is emailed, too. */
export default function SummaryPage() {
  usePageTitle('Summary');
  const { data, error, refetch } = useSummaryQuery(null);
  return (
    <>
      <h1>Summary</h1>
      {error && !data && <LoadFailed error={error} retry={() => void refetch()} />}
      {!data && !error && <Skeleton active title={false} paragraph={{ rows: 10 }} />}
      {data && <Summary view={data} />}
      <ByEmail />
    </>
  );
}

function Summary({ view: { title, parts } }: { view: SummaryView }) {
  if (parts.length === 0)
    return (
      <Nothing title="Nothing to sum up yet">
        <p>Once you have sent messages, you read here whom to contact, what is due and what is new.</p>
        <Link to="/write">Write a message</Link>
      </Nothing>
    );
  return (
    <>
      <p className={pageStyles.sentence}>{title}.</p>
      {parts.map((part) => (
        <Part key={part.title} part={part} />
      ))}
    </>
  );
}

function Part({ part: { title, lines, more } }: { part: SummaryPart }) {
  return (
    <section className={styles.part} aria-label={title}>
      <h2>{title}</h2>
      <ul className={styles.lines}>
        {[...lines, ...(more ? [more] : [])].map(({ text, detail, path }, index) => (
          <li key={index}>
            <Link to={path}>{text}</Link>
            {detail !== '' && <span className="soft">{detail}</span>}
          </li>
        ))}
      </ul>
    </section>
  );
}
