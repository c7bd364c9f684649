import { Skeleton } from 'antd';
import { Link, useSearchParams } from 'react-router';
import { REPORT_PERIODS, type Outcome, type Rate, type ReportPeriod, type ReportView } from '@kiraku/core/contract';
import { hourWords, surenessWords } from '@kiraku/core/people';
import { comparisonWords, countWords, rateWords, spreadWords } from '@kiraku/core/reports';
import { counted } from '@kiraku/core/time';
import { Choice } from '../ui/Choice.js';
import { HeatMap } from '../ui/HeatMap.js';
import { LoadFailed } from '../ui/LoadFailed.js';
import { Nothing } from '../ui/Nothing.js';
import { usePageTitle } from '../ui/usePageTitle.js';
import { Interval } from './Interval.js';
import { useReportQuery } from './reportsApi.js';
import { Weeks } from './Weeks.js';
import './reports.css';

const PERIOD_WORDS: Record<ReportPeriod, string> = {
  month: 'the last month',
  quarter: 'the last three months',
  year: 'the last year',
  all: 'all time',
};

const RATES: readonly [name: keyof Outcome & ('read' | 'clicked' | 'viewed' | 'answered'), label: string][] = [
  ['read', 'Read, by any sign'],
  ['clicked', 'A link followed'],
  ['viewed', 'A file read'],
  ['answered', 'Answered'],
];

/** What can be learnt from what was sent: how much is read and answered, how soon, when, and what works better. */
export default function ReportsPage() {
  usePageTitle('Reports');
  const [params, setParams] = useSearchParams();
  const period = REPORT_PERIODS.find((one) => one === params.get('period')) ?? 'quarter';
  const { currentData, error, refetch } = useReportQuery(period);
  return (
    <>
      <h1>Reports</h1>
      <p className="page-sentence">
        Letters of{' '}
        <Choice
          label="Period"
          value={period}
          options={REPORT_PERIODS.map((value) => ({ value, label: PERIOD_WORDS[value] }))}
          words={PERIOD_WORDS[period]}
          onChoose={(value) => setParams({ period: value })}
        />
        {currentData && `: ${countedWords(currentData)}`}
      </p>
      {error && !currentData && <LoadFailed error={error} retry={() => void refetch()} />}
      {!currentData && !error && <Skeleton active title={false} paragraph={{ rows: 10 }} />}
      {currentData && (currentData.letters === 0 ? <NothingYet /> : <Report report={currentData} />)}
    </>
  );
}

function countedWords({ letters, tooFresh }: ReportView): string {
  const left = tooFresh === 0 ? '' : ` ${tooFresh} more left within two days: too lately to count them as not read.`;
  return `${counted(letters, 'letter')}.${left}`;
}

function NothingYet() {
  return (
    <Nothing title="Nothing to learn from yet">
      <p>Two days after letters have left, you see here how many are read and answered, and how soon.</p>
      <Link to="/write">Write a letter</Link>
    </Nothing>
  );
}

function Report({ report }: { report: ReportView }) {
  const { untilOpened, untilAnswered, opening, weeks, templates } = report;
  return (
    <div className="report">
      <section aria-labelledby="report-rates">
        <h2 id="report-rates">What becomes of them</h2>
        <Rates outcome={report} />
      </section>
      <section aria-labelledby="report-times">
        <h2 id="report-times">How soon</h2>
        <dl className="report-times">
          <dt>Opened</dt>
          <dd>{untilOpened ? spreadWords(untilOpened) : 'None was opened.'}</dd>
          <dt>Answered</dt>
          <dd>{untilAnswered ? spreadWords(untilAnswered) : 'None was answered.'}</dd>
        </dl>
      </section>
      <div className="reports-pair">
        <section aria-labelledby="report-weeks">
          <h2 id="report-weeks">Week by week</h2>
          <Weeks weeks={weeks} />
        </section>
        <section aria-labelledby="report-opening">
          <h2 id="report-opening">When they are first opened</h2>
          <HeatMap times={opening} />
          <p>
            {opening.busiest && `Mostly on ${hourWords(opening.busiest)}. `}
            <span className="soft">{surenessWords(opening)}</span>
          </p>
        </section>
      </div>
      <section aria-labelledby="report-templates">
        <h2 id="report-templates">Which template works better</h2>
        {templates.length === 0 && <p className="soft">None of these letters was begun with a template.</p>}
        <ul className="report-templates">
          {templates.map(({ id, name, letters, answered, read, comparison }) => (
            <li key={id}>
              <span className="report-name">{name}</span>
              <span className="soft">{counted(letters, 'letter')}</span>
              <Interval rate={answered} />
              <span>
                Answered: {rateSentence(answered)} Read: {rateSentence(read)}{' '}
                <span className="soft">{comparisonWords(comparison)}</span>
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
    <dl className="report-rates">
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

function rateSentence(rate: Rate): string {
  return rate.share === null ? `${rateWords(rate)}.` : `${countWords(rate)}, ${rateWords(rate)}.`;
}
