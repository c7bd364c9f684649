import { Skeleton } from 'antd';
import { Link, useSearchParams } from 'react-router';
import { RATES, type Before, type ReportView } from '@kiraku/core/contract';
import { reportEntriesOf, reportViewFrom } from '@kiraku/core/reports';
import type { ListView } from '@kiraku/core/sent';
import {
  changeSentence,
  comparedSentence,
  comparisonSentence,
  RATE_LABELS,
  reportDaysSentence,
  spreadBeforeText,
  spreadSentence,
} from '@kiraku/core/sentences';
import { counted } from '@kiraku/core/time';
import { useReportQuery, useSubjectsQuery } from '../shared/api/reportsApi.js';
import { useNow } from '../shared/hooks/useNow.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { NarrowedBy, SentTo } from '../shared/narrowing/Narrowed.js';
import { SentWhen } from '../shared/narrowing/SentWhen.js';
import { Interval } from '../shared/ui/Interval.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { Nothing } from '../shared/ui/Nothing.js';
import { RateText } from '../shared/ui/RateText.js';
import pageStyles from '../shared/ui/page.module.css';
import { behindReport, type Behind } from './behind.js';
import { CompareChosen, type Comparable } from './CompareChosen.js';
import { FirstOpens } from './FirstOpens.js';
import { Weeks } from './Weeks.js';
import styles from './reports.module.css';

/** What can be learnt from what was sent: how much is read and replied to, how soon, when, and what works better. */
export default function ReportsPage() {
  usePageTitle('Reports');
  const now = useNow();
  const [params, setParams] = useSearchParams();
  const view = reportViewFrom(params);
  const change = (part: Partial<ListView>) => setParams(reportEntriesOf({ ...view, ...part }));
  const { currentData: report, error, refetch } = useReportQuery(view);
  const behind = report && behindReport(view, report);
  return (
    <>
      <h1>Reports</h1>
      <p className={pageStyles.sentence}>
        Messages sent <SentWhen sent={view.sent} onChange={(sent) => change({ sent })} /> to{' '}
        <SentTo view={view} onChange={change} />
        {', '}
        <NarrowedBy view={view} onChange={change} />
        {report && behind && (
          <>
            {': '}
            <Link to={behind('sent')} className="text-link">
              {counted(report.messages, 'message')}
            </Link>{' '}
            {reportDaysSentence(report, now)}
            {report.before && ` ${comparedSentence(report.before, now)}`}
          </>
        )}
      </p>
      {error && !report && <LoadFailed error={error} retry={() => void refetch()} />}
      {!report && !error && <Skeleton active title={false} paragraph={{ rows: 10 }} />}
      {report &&
        behind &&
        (report.messages === 0 ? <NothingYet view={view} /> : <Report view={view} report={report} behind={behind} />)}
    </>
  );
}

function NothingYet({ view }: { view: ListView }) {
  if (reportEntriesOf(view).length > 0)
    return (
      <Nothing title="No messages match">
        <p>
          Change the sentence above: press one of its underlined words.{' '}
          <Link to="/reports" className="text-link">
            Clear filters
          </Link>
        </p>
      </Nothing>
    );
  return (
    <Nothing title="No reports yet">
      <p>Three days after you send messages, you see here how many are read and replied to, and how soon.</p>
      <Link to="/write">Write a message</Link>
    </Nothing>
  );
}

interface ReportProps {
  report: ReportView;
  behind: Behind;
}

function Report({ view, report, behind }: ReportProps & { view: ListView }) {
  const { opening, weeks } = report;
  return (
    <div className={styles.report}>
      <Results report={report} behind={behind} />
      <HowSoon report={report} before={report.before} />
      <div className={styles.pair}>
        <Weeks weeks={weeks} days={report} behind={behind} />
        <FirstOpens opening={opening} behind={behind} />
      </div>
      <Templates report={report} behind={behind} />
      <Subjects view={view} behind={behind} />
    </div>
  );
}

function Results({ report, behind }: ReportProps) {
  const { before } = report;
  return (
    <section aria-labelledby="report-rates">
      <h2 id="report-rates">Results</h2>
      <dl className={styles.reportRates}>
        {RATES.map((name) => (
          <div key={name}>
            <dt>{RATE_LABELS[name]}</dt>
            <dd>
              <Interval rate={report[name]} />
              <span>
                <RateText rate={report[name]} nTo={behind(`${name}.n`)} ofTo={behind(`${name}.of`)} />{' '}
                {before && <span className="soft">{changeSentence(before[name], before.changes[name])}</span>}
              </span>
            </dd>
          </div>
        ))}
      </dl>
    </section>
  );
}

function HowSoon({ report, before }: { report: ReportView; before: Before | null }) {
  const lines = [
    ['Opened', 'untilOpened', 'None was opened.'],
    ['Replied', 'untilReplied', 'None was replied to.'],
  ] as const;
  return (
    <section aria-labelledby="report-times">
      <h2 id="report-times">How soon</h2>
      <dl className={styles.reportTimes}>
        {lines.map(([label, name, none]) => {
          const [spread, earlier] = [report[name], before?.[name]];
          return (
            <div key={name}>
              <dt>{label}</dt>
              <dd>
                {spread ? spreadSentence(spread) : none}{' '}
                {earlier && <span className="soft">{spreadBeforeText(earlier)}</span>}
              </dd>
            </div>
          );
        })}
      </dl>
    </section>
  );
}

function Templates({ report: { templates }, behind }: ReportProps) {
  return (
    <section aria-labelledby="report-templates">
      <h2 id="report-templates">Which template works better</h2>
      {templates.length === 0 && <p className="soft">None of these messages was started from a template.</p>}
      <Wordings
        label="Compare templates"
        of={templates.map(({ id, comparison, ...outcome }) => ({
          ...outcome,
          key: String(id),
          behind: (what) => behind(what, { template: id }),
          words: comparisonSentence(comparison),
        }))}
      />
    </section>
  );
}

function Subjects({ view, behind }: { view: ListView; behind: Behind }) {
  const { currentData: subjects, error, refetch } = useSubjectsQuery(view);
  return (
    <section aria-labelledby="report-subjects">
      <h2 id="report-subjects">Which subject works better</h2>
      {error && !subjects && <LoadFailed error={error} retry={() => void refetch()} />}
      {!subjects && !error && <Skeleton active title={false} paragraph={{ rows: 3 }} />}
      {subjects?.length === 0 && <p className="soft">No two of these messages have the same subject.</p>}
      {subjects && (
        <Wordings
          label="Compare subjects"
          of={subjects.map(({ subject, ...outcome }) => ({
            ...outcome,
            key: subject,
            name: subject,
            behind: (what) => behind(what, { subject }),
            words: '',
          }))}
        />
      )}
    </section>
  );
}

/** What became of messages that were worded alike, and how some of them compare with each other. */
function Wordings({ label, of }: { label: string; of: readonly (Comparable & { words: string })[] }) {
  return (
    <>
      <ul className={styles.reportTemplates}>
        {of.map(({ key, name, messages, replied, read, behind, words }) => (
          <li key={key}>
            <span className={styles.reportName}>{name}</span>
            <Link to={behind('sent')}>{counted(messages, 'message')}</Link>
            <Interval rate={replied} />
            <span>
              Replied: <RateText rate={replied} nTo={behind('replied.n')} ofTo={behind('replied.of')} /> Read:{' '}
              <RateText rate={read} nTo={behind('read.n')} ofTo={behind('read.of')} />{' '}
              <span className="soft">{words}</span>
            </span>
          </li>
        ))}
      </ul>
      <CompareChosen label={label} of={of} />
    </>
  );
}
