import { Skeleton } from 'antd';
import { Link, useSearchParams } from 'react-router';
import {
  comparisonSentence,
  confidenceSentence,
  busiestSentence,
  spreadSentence,
  rateSentence,
  reportSizeSentence,
} from '@kiraku/core/sentences';
import { REPORT_PERIODS, type Outcome, type ReportPeriod, type ReportView } from '@kiraku/core/contract';
import { counted } from '@kiraku/core/time';
import { Choice } from '../shared/ui/Choice.js';
import { HeatMap } from '../shared/ui/HeatMap.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { Nothing } from '../shared/ui/Nothing.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { Interval } from './Interval.js';
import { useReportQuery } from '../shared/api/reportsApi.js';
import { Weeks } from './Weeks.js';
import pageStyles from '../shared/ui/page.module.css';
import styles from './reports.module.css';

const PERIOD_WORDS: Record<ReportPeriod, string> = {
  month: 'the last month',
  quarter: 'the last three months',
  year: 'the last year',
  all: 'all time',
};

const RATES: readonly [name: keyof Outcome & ('read' | 'clicked' | 'viewed' | 'replied'), label: string][] = [
  ['read', 'Read'],
  ['clicked', 'Link clicked'],
  ['viewed', 'File viewed'],
  ['replied', 'Replied'],
];

/** What can be learnt from what was sent: how much is read and replied to, how soon, when, and what works better. */
export default function ReportsPage() {
  usePageTitle('Reports');
  const [params, setParams] = useSearchParams();
  const period = REPORT_PERIODS.find((one) => one === params.get('period')) ?? 'quarter';
  const { currentData, error, refetch } = useReportQuery(period);
  return (
    <>
      <h1>Reports</h1>
      <p className={pageStyles.sentence}>
        Messages from{' '}
        <Choice
          label="Period"
          value={period}
          options={REPORT_PERIODS.map((value) => ({ value, label: PERIOD_WORDS[value] }))}
          words={PERIOD_WORDS[period]}
          onChoose={(value) => setParams({ period: value })}
        />
        {currentData && `: ${reportSizeSentence(currentData)}`}
      </p>
      {error && !currentData && <LoadFailed error={error} retry={() => void refetch()} />}
      {!currentData && !error && <Skeleton active title={false} paragraph={{ rows: 10 }} />}
      {currentData && (currentData.messages === 0 ? <NothingYet /> : <Report report={currentData} />)}
    </>
  );
}

function NothingYet() {
  return (
    <Nothing title="No reports yet">
      <p>Two days after you send messages, you see here how many are read and replied to, and how soon.</p>
      <Link to="/write">Write a message</Link>
    </Nothing>
  );
}

function Report({ report }: { report: ReportView }) {
  const { untilOpened, untilReplied, opening, weeks, templates } = report;
  return (
    <div className={styles.report}>
      <section aria-labelledby="report-rates">
        <h2 id="report-rates">Results</h2>
        <Rates outcome={report} />
      </section>
      <section aria-labelledby="report-times">
        <h2 id="report-times">How soon</h2>
        <dl className={styles.reportTimes}>
          <dt>Opened</dt>
          <dd>{untilOpened ? spreadSentence(untilOpened) : 'None was opened.'}</dd>
          <dt>Replied</dt>
          <dd>{untilReplied ? spreadSentence(untilReplied) : 'None was replied to.'}</dd>
        </dl>
      </section>
      <div className={styles.pair}>
        <section aria-labelledby="report-weeks">
          <h2 id="report-weeks">Week by week</h2>
          <Weeks weeks={weeks} />
        </section>
        <section aria-labelledby="report-opening">
          <h2 id="report-opening">When messages are first opened</h2>
          <HeatMap times={opening} />
          <p>
            {busiestSentence(opening)} <span className="soft">{confidenceSentence(opening)}</span>
          </p>
        </section>
      </div>
      <section aria-labelledby="report-templates">
        <h2 id="report-templates">Which template works better</h2>
        {templates.length === 0 && <p className="soft">None of these messages was started from a template.</p>}
        <ul className={styles.reportTemplates}>
          {templates.map(({ id, name, messages, replied, read, comparison }) => (
            <li key={id}>
              <span className={styles.reportName}>{name}</span>
              <span className="soft">{counted(messages, 'message')}</span>
              <Interval rate={replied} />
              <span>
                Replied: {rateSentence(replied)} Read: {rateSentence(read)}{' '}
                <span className="soft">{comparisonSentence(comparison)}</span>
              </span>
            </li>
          ))}
        </ul>
      </section>
    </div>
  );
}

function Rates({ outcome }: { outcome: Outcome }) {
  return (
    <dl className={styles.reportRates}>
      {RATES.map(([name, label]) => (
        <div key={name}>
          <dt>{label}</dt>
          <dd>
            <Interval rate={outcome[name]} />
            <span>{rateSentence(outcome[name])}</span>
          </dd>
        </div>
      ))}
    </dl>
  );
}
