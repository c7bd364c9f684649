import { Button, Segmented, Skeleton } from 'antd';
import { lazy, Suspense, useCallback, useEffect, useRef, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { viewFrom, type ListView } from '@kiraku/core/sent';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { Nothing } from '../shared/ui/Nothing.js';
import { SearchField } from '../shared/ui/SearchField.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { ExportButton } from './ExportButton.js';
import { isNarrowed, ListSentence } from './ListSentence.js';
import { QuickChoices } from './QuickChoices.js';
import { SavedViews } from './SavedViews.js';
import { addressOf, useSentInfiniteQuery, useSentTotalsQuery } from '../shared/api/sentApi.js';
import { SentRows } from './SentRows.js';
import { SelectionActions } from './SelectionActions.js';
import pageStyles from '../shared/ui/page.module.css';
import styles from './sent.module.css';

// For those who prefer it.
const SentTable = lazy(() => import('./SentTable.js'));

const FORMS = [
  { value: 'trails', label: 'Trails' },
  { value: 'table', label: 'Table' },
];

/** What was sent, and where each message stands. What it shows is in its address. */
export default function SentPage() {
  usePageTitle('Sent');
  const [params, setParams] = useSearchParams();
  const view = viewFrom(params);
  const query = addressOf(view);
  const form = params.get('as') === 'table' ? 'table' : 'trails';
  const { data, error, isLoading, isFetching, refetch, hasNextPage, isFetchingNextPage, fetchNextPage } =
    useSentInfiniteQuery(query);
  const messages = data?.pages.flatMap((page) => page.messages) ?? [];
  const found = Object.assign({}, ...(data?.pages.map((page) => page.found) ?? [])) as Record<number, string>;
  const { currentData: totals } = useSentTotalsQuery(query);
  const [chosen, setChosen] = useState<ReadonlySet<number> | null>(null);
  const end = useEndInSight(() => void fetchNextPage(), hasNextPage && !isFetchingNextPage);

  const show = (next: ListView, as = form) =>
    setParams([...new URLSearchParams(addressOf(next)), ...(as === 'table' ? [['as', as] as [string, string]] : [])]);
  const change = (part: Partial<ListView>) => show({ ...view, ...part });
  const choose = useCallback(
    (id: number, isChosen: boolean) =>
      setChosen((before) => {
        const next = new Set(before);
        if (isChosen) next.add(id);
        else next.delete(id);
        return next;
      }),
    [],
  );

  return (
    <>
      <div className={pageStyles.listHead}>
        <h1>Sent</h1>
        <SearchField
          placeholder="Search people, subjects, text, notes"
          words={view.words}
          onChange={(words) =>
            change({ words, sort: words === '' ? 'lastActivity' : view.words === '' ? 'relevance' : view.sort })
          }
        />
        <Segmented
          className={styles.forms}
          value={form}
          options={FORMS}
          onChange={(as) => show(view, as)}
          aria-label="List or table"
        />
        <SavedViews query={query} />
        <ExportButton view={view} />
        <Button aria-pressed={chosen !== null} onClick={() => setChosen(chosen === null ? new Set() : null)}>
          {chosen === null ? 'Select' : 'Clear selection'}
        </Button>
      </div>
      {error && <LoadFailed error={error} retry={() => void refetch()} />}
      {totals?.everything === 0 && !isNarrowed(view) ? (
        <Nothing title="Nothing sent yet">
          <p>Write to somebody, and see here when it is opened and which links are clicked.</p>
          <Link to="/write">Write your first message</Link>
        </Nothing>
      ) : (
        <>
          <QuickChoices view={view} rest={form === 'table' ? 'as=table' : ''} />
          <ListSentence view={view} totals={totals} onChange={change} />
        </>
      )}
      {isLoading && <Skeleton active title={false} paragraph={{ rows: 12 }} />}
      {chosen && (
        <SelectionActions chosen={chosen} shown={messages} archived={view.archived === true} setChosen={setChosen} />
      )}
      {totals?.total === 0 && isNarrowed(view) && !isFetching && (
        <Nothing title="No messages match">
          <p>Change the sentence above: press one of its underlined words.</p>
        </Nothing>
      )}
      {messages.length > 0 &&
        (form === 'table' ? (
          <Suspense fallback={<Skeleton active title={false} paragraph={{ rows: 12 }} />}>
            <SentTable messages={messages} view={view} onChange={change} chosen={chosen} choose={choose} />
          </Suspense>
        ) : (
          <SentRows messages={messages} found={found} chosen={chosen} choose={choose} />
        ))}
      <div ref={end} className={styles.end}>
        {hasNextPage && (
          <Button loading={isFetchingNextPage} onClick={() => void fetchNextPage()}>
            Show more
          </Button>
        )}
      </div>
    </>
  );
}

/** Calls when the marked place comes near the window, as long as it is wanted. */
function useEndInSight(reach: () => void, wanted: boolean) {
  const place = useRef<HTMLDivElement>(null);
  const latest = useRef(reach);
  useEffect(() => {
    latest.current = reach;
  });
  useEffect(() => {
    if (!wanted || !place.current) return;
    const observer = new IntersectionObserver(([entry]) => entry?.isIntersecting && latest.current(), {
      rootMargin: '1200px',
    });
    observer.observe(place.current);
    return () => observer.disconnect();
  }, [wanted]);
  return place;
}
