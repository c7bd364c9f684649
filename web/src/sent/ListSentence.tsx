import { Button, Popover, Skeleton } from 'antd';
import { lazy, Suspense, useState } from 'react';
import {
  SHOWN_TEXTS,
  SORT_TEXTS,
  personText,
  filtersText,
  recipientsText,
  totalsSentence,
} from '@kiraku/core/sentences';
import { LIST_COLUMNS, SHOWN, SORT_DIRECTIONS, type ListTotals } from '@kiraku/core/contract';
import { DEFAULT_VIEW, type ListView } from '@kiraku/core/sent';
import { PERIODS, periodWords } from '@kiraku/core/time';
import { Choice } from '../shared/ui/Choice.js';
import { useNow } from '../shared/hooks/useNow.js';
import { usePersonQuery } from '../shared/api/privacyApi.js';
import choiceStyles from '../shared/ui/choice.module.css';
import pageStyles from '../shared/ui/page.module.css';
import styles from './sent.module.css';

// With fields and calendars, which the list itself does not need.
const Who = lazy(() => import('./ListChoices.js').then((choices) => ({ default: choices.Who })));
const More = lazy(() => import('./ListChoices.js').then((choices) => ({ default: choices.More })));
const Days = lazy(() => import('./ListChoices.js').then((choices) => ({ default: choices.Days })));

interface ListSentenceProps {
  view: ListView;
  /** Unknown until they are counted. */
  totals: ListTotals | undefined;
  onChange(part: Partial<ListView>): void;
}

const WHEN_DAYS = 'days';

/** The list’s filter as one sentence, whose underlined words open the choices. */
export function ListSentence({ view, totals, onChange }: ListSentenceProps) {
  const now = useNow();
  const [choosingDays, setChoosingDays] = useState(false);
  const who = useRecipientsText(view);
  const columns = LIST_COLUMNS.filter((column) => column !== 'relevance' || view.words !== '');
  return (
    <p id="list-sentence" className={pageStyles.sentence}>
      Showing{' '}
      <Choice
        label="What is shown"
        value={view.show}
        options={SHOWN.map((value) => ({ value, label: SHOWN_TEXTS[value] }))}
        words={SHOWN_TEXTS[view.show]}
        onChoose={(show) => onChange({ show })}
      />{' '}
      sent{' '}
      <Popover
        open={choosingDays}
        onOpenChange={(open) => !open && setChoosingDays(false)}
        trigger={[]}
        destroyOnHidden
        content={
          <Suspense fallback={<Skeleton active title={false} />}>
            <Days
              onChoose={(sent) => (setChoosingDays(false), onChange({ sent }))}
              onCancel={() => setChoosingDays(false)}
            />
          </Suspense>
        }
      >
        <span>
          <Choice
            label="When it was sent"
            value={PERIODS.some(({ name }) => name === view.sent) ? view.sent : WHEN_DAYS}
            options={[
              ...PERIODS.map(({ name, words }) => ({ value: name, label: words })),
              { value: WHEN_DAYS, label: 'between two days …' },
            ]}
            words={periodWords(view.sent, now)}
            onChoose={(sent) => (sent === WHEN_DAYS ? setChoosingDays(true) : onChange({ sent }))}
          />
        </span>
      </Popover>{' '}
      to <Narrowed label="To whom" words={who} content={<Who view={view} onChange={onChange} />} />
      {', '}
      <Narrowed label="What else" words={filtersText(view)} content={<More view={view} onChange={onChange} />} />
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
          <Choice
            label="Direction"
            value={view.direction}
            options={SORT_DIRECTIONS.map((value) => ({ value, label: SORT_TEXTS[view.sort][value] }))}
            words={SORT_TEXTS[view.sort][view.direction]}
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

function Narrowed({ label, words, content }: { label: string; words: string; content: React.ReactNode }) {
  return (
    <Popover
      trigger="click"
      content={<Suspense fallback={<Skeleton active title={false} />}>{content}</Suspense>}
      destroyOnHidden
    >
      <Button type="text" className={choiceStyles.choice} aria-label={`${label}: ${words}`} aria-haspopup="dialog">
        {words}
      </Button>
    </Popover>
  );
}

function useRecipientsText(view: ListView): string {
  const { data } = usePersonQuery(view.person ?? 0, { skip: view.person === null });
  return recipientsText(view, view.person === null ? null : data ? personText(data) : 'one person');
}
