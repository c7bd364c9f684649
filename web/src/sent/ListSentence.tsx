import { Button, Popover, Skeleton } from 'antd';
import { lazy, Suspense, useState } from 'react';
import { LIST_ORDERS, SHOWN, type ListOrder, type ListTotals } from '@kiraku/core/contract';
import { FIRST_VIEW, ORDER_WORDS, PERIODS, periodWords, SHOWN_WORDS, type ListView } from '@kiraku/core/sent';
import { personWords } from '@kiraku/core/tracking';
import { Choice } from '../ui/Choice.js';
import { useNow } from '../app/useNow.js';
import { usePersonQuery } from '../privacy/privacyApi.js';

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
  const who = useWhoWords(view);
  const orders = LIST_ORDERS.filter((order) => order !== 'match' || view.words !== '');
  return (
    <p className="page-sentence list-sentence">
      Showing{' '}
      <Choice
        label="What is shown"
        value={view.show}
        options={SHOWN.map((value) => ({ value, label: SHOWN_WORDS[value] }))}
        words={SHOWN_WORDS[view.show]}
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
      <Narrowed label="What else" words={moreWords(view)} content={<More view={view} onChange={onChange} />} />
      {', '}
      <Choice
        label="Order"
        value={`${view.order} ${view.rising}`}
        options={orders.flatMap((order) =>
          ORDER_WORDS[order]
            .map((label, index) => ({ value: `${order} ${index === 1}`, label }))
            .slice(0, order === 'match' ? 1 : 2),
        )}
        words={ORDER_WORDS[view.order][view.rising ? 1 : 0]}
        onChoose={(value) => {
          const [order, rising] = value.split(' ');
          onChange({ order: order as ListOrder, rising: rising === 'true' });
        }}
      />
      {'. '}
      {totals && <span className="figures">{countWords(totals)}</span>}{' '}
      {isNarrowed(view) && (
        <Button type="link" className="list-reset" onClick={() => onChange({ ...FIRST_VIEW })}>
          Show everything
        </Button>
      )}
    </p>
  );
}

function countWords({ total, everything }: ListTotals): string {
  if (total === everything) return `${total === 1 ? '1 message' : `${total} messages`}, none left out.`;
  return `${total} of ${everything} messages.`;
}

export function isNarrowed(view: ListView): boolean {
  return Object.entries(view).some(([name, value]) => value !== FIRST_VIEW[name as keyof ListView]);
}

function Narrowed({ label, words, content }: { label: string; words: string; content: React.ReactNode }) {
  return (
    <Popover
      trigger="click"
      content={<Suspense fallback={<Skeleton active title={false} />}>{content}</Suspense>}
      destroyOnHidden
    >
      <Button type="text" className="choice" aria-label={`${label}: ${words}`} aria-haspopup="dialog">
        {words}
      </Button>
    </Popover>
  );
}

function useWhoWords({ person, firm, domain }: ListView): string {
  const { data } = usePersonQuery(person ?? 0, { skip: person === null });
  const parts = [
    person !== null && (data ? personWords(data) : 'one person'),
    firm !== '' && `people of ${firm}`,
    domain !== '' && `people at ${domain}`,
  ].filter(Boolean);
  return parts.length === 0 ? 'anyone' : parts.join(', ');
}

function moreWords({ noted, template, link, archived }: ListView): string {
  const parts = [
    archived && 'put away',
    noted && 'with a note',
    template !== null && 'from one template',
    link !== '' && `with “${link}” followed`,
  ].filter(Boolean);
  return parts.length === 0 ? 'narrowed no further' : parts.join(', ');
}
