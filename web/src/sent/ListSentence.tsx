import { Button } from 'antd';
import { SHOWN_TEXTS, SORT_TEXTS, totalsSentence } from '@kiraku/core/sentences';
import { LIST_COLUMNS, SHOWN, SORT_DIRECTIONS, type ListTotals } from '@kiraku/core/contract';
import { DEFAULT_VIEW, type ListView } from '@kiraku/core/sent';
import { NarrowedBy, SentTo } from '../shared/narrowing/Narrowed.js';
import { SentWhen } from '../shared/narrowing/SentWhen.js';
import { Choice, WordChoice } from '../shared/ui/Choice.js';
import pageStyles from '../shared/ui/page.module.css';
import styles from './sent.module.css';

interface ListSentenceProps {
  view: ListView;
  /** Unknown until they are counted. */
  totals: ListTotals | undefined;
  onChange(part: Partial<ListView>): void;
}

/** The list’s filter as one sentence, whose underlined words open the choices. */
export function ListSentence({ view, totals, onChange }: ListSentenceProps) {
  const columns = LIST_COLUMNS.filter((column) => column !== 'relevance' || view.words !== '');
  return (
    <p id="list-sentence" className={pageStyles.sentence}>
      Showing{' '}
      <WordChoice
        label="What is shown"
        value={view.show}
        values={SHOWN}
        texts={SHOWN_TEXTS}
        onChoose={(show) => onChange({ show })}
      />{' '}
      sent <SentWhen sent={view.sent} onChange={(sent) => onChange({ sent })} /> to{' '}
      <SentTo view={view} onChange={onChange} />
      {', '}
      <NarrowedBy view={view} onChange={onChange} ofAll />
      {', '}
      sorted by{' '}
      <Choice
        label="Sorted by"
        value={view.sort}
        options={columns.map((value) => ({ value, label: SORT_TEXTS[value].column }))}
        words={SORT_TEXTS[view.sort].column}
        onChoose={(sort) => onChange({ sort })}
      />
      {view.sort !== 'relevance' && (
        <>
          {', '}
          <WordChoice
            label="Direction"
            value={view.direction}
            values={SORT_DIRECTIONS}
            texts={SORT_TEXTS[view.sort]}
            onChoose={(direction) => onChange({ direction })}
          />
        </>
      )}
      {'. '}
      {totals && <span className="figures">{totalsSentence(totals)}</span>}{' '}
      {isNarrowed(view) && (
        <Button type="link" className={styles.listReset} onClick={() => onChange({ ...DEFAULT_VIEW })}>
          Clear filters
        </Button>
      )}
    </p>
  );
}

export function isNarrowed(view: ListView): boolean {
  return Object.entries(view).some(([name, value]) => value !== DEFAULT_VIEW[name as keyof ListView]);
}
