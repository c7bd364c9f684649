import { Button, Dropdown, Segmented, Skeleton } from 'antd';
import { lazy, Suspense, useDeferredValue, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { ROUND_LIMITS, type CompanyRow } from '@kiraku/core/contract';
import { peopleEntriesOf, peopleViewFrom, type PeopleView } from '@kiraku/core/people';
import { counted } from '@kiraku/core/time';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { Nothing } from '../shared/ui/Nothing.js';
import { SearchField } from '../shared/ui/SearchField.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { DuplicatesHint } from './DuplicatesHint.js';
import { useCompaniesQuery, useDirectoryInfiniteQuery } from '../shared/api/peopleApi.js';
import { useBeginRound } from '../shared/hooks/useBeginRound.js';
import { PeopleRows } from './PeopleRows.js';
import { PeopleSentence } from './PeopleSentence.js';
import pageStyles from '../shared/ui/page.module.css';
import styles from './people.module.css';

// Seldom wanted.
const ImportPeople = lazy(() => import('./ImportPeople.js'));

const FORMS = [
  { value: 'people', label: 'People' },
  { value: 'companies', label: 'Companies' },
];
const SHEETS = [
  ['people.csv', 'Sheet (CSV)'],
  ['people.vcf', 'Contact cards (vCard 4)'],
] as const;

/** Everybody who was written to, or imported. What it shows is in its address. */
export default function PeoplePage() {
  usePageTitle('People');
  const [params, setParams] = useSearchParams();
  const view = peopleViewFrom(params);
  const form = params.get('as') === 'companies' ? 'companies' : 'people';
  const [isImporting, setImporting] = useState(params.has('import'));
  const show = (next: PeopleView, as = form) =>
    setParams([...peopleEntriesOf(next), ...(as === 'companies' ? [['as', as] as [string, string]] : [])], {
      replace: true,
    });
  const change = (part: Partial<PeopleView>) => show({ ...view, ...part });
  return (
    <>
      <div className={pageStyles.listHead}>
        <h1>People</h1>
        <SearchField
          words={view.words}
          placeholder="Search names, addresses, companies, tags"
          onChange={(next) => change({ words: next })}
        />
        <Segmented value={form} options={FORMS} onChange={(as) => show(view, as)} aria-label="People or companies" />
        <Dropdown
          trigger={['click']}
          menu={{
            items: SHEETS.map(([file, label]) => ({
              key: file,
              label: (
                <a href={`/api/people/${file}`} download>
                  {label}
                </a>
              ),
            })),
          }}
        >
          <Button aria-haspopup="menu">Export</Button>
        </Dropdown>
        <Button onClick={() => setImporting(true)}>Import people</Button>
      </div>
      {isImporting && (
        <Suspense>
          <ImportPeople close={() => setImporting(false)} />
        </Suspense>
      )}
      {form === 'companies' ? (
        <Companies words={view.words} />
      ) : (
        <People view={view} onChange={change} importPeople={() => setImporting(true)} />
      )}
    </>
  );
}

interface PeopleProps {
  view: PeopleView;
  onChange(part: Partial<PeopleView>): void;
  importPeople(): void;
}

function People({ view, onChange, importPeople }: PeopleProps) {
  const query = useDeferredValue(view);
  const { data, error, refetch, hasNextPage, isFetchingNextPage, fetchNextPage } = useDirectoryInfiniteQuery(query);
  const begin = useBeginRound();
  const [isBeginning, setBeginning] = useState(false);
  const isNarrowed = peopleEntriesOf({ ...view, order: 'name' }).length > 0;
  const writeToEach = async () => {
    setBeginning(true);
    let pages = data?.pages ?? [];
    // Those beyond the first page, too.
    for (let more = hasNextPage; more;) {
      const next = await fetchNextPage();
      pages = next.data?.pages ?? pages;
      more = next.hasNextPage && !next.error;
    }
    await begin({ personIds: pages.flatMap((page) => page.people.map(({ id }) => id)) });
    setBeginning(false);
  };
  if (!data)
    return error ? <LoadFailed error={error} retry={() => void refetch()} /> : <Skeleton active title={false} />;
  const people = data.pages.flatMap((page) => page.people);
  const total = data.pages.at(-1)!.total;
  if (total === 0 && !isNarrowed)
    return (
      <Nothing title="Nobody yet">
        <p>Everybody you write to appears here. You can also import people from a sheet or contact cards.</p>
        <Button onClick={importPeople}>Import people</Button>
      </Nothing>
    );
  return (
    <>
      <PeopleSentence view={view} total={total} onChange={onChange} />
      {total > 0 && total <= ROUND_LIMITS.maxPeople && (
        <p>
          <Button size="small" loading={isBeginning} onClick={() => void writeToEach()}>
            Write to each of them separately
          </Button>
        </p>
      )}
      {!isNarrowed && <DuplicatesHint />}
      {total === 0 ? (
        <Nothing title="Nobody found">
          <p>Choose less in the sentence above, or search for a part of a name, an address or a company.</p>
        </Nothing>
      ) : (
        <PeopleRows people={people} />
      )}
      {hasNextPage && (
        <p className={styles.more}>
          <Button loading={isFetchingNextPage} onClick={() => void fetchNextPage()}>
            Show more
          </Button>
        </p>
      )}
    </>
  );
}

function Companies({ words }: { words: string }) {
  const { data, error, refetch } = useCompaniesQuery(useDeferredValue(words));
  if (!data)
    return error ? <LoadFailed error={error} retry={() => void refetch()} /> : <Skeleton active title={false} />;
  if (data.length === 0)
    return (
      <Nothing title="No company found">
        <p>Companies are grouped by the part of the address after the @.</p>
      </Nothing>
    );
  return (
    <>
      <p className={pageStyles.sentence}>Grouped by the part of the address after the @, most messages first.</p>
      <ul className={styles.list}>
        {data.map((company) => (
          <CompanyLine key={company.domain} company={company} />
        ))}
      </ul>
    </>
  );
}

function CompanyLine({ company: { domain, company, people, messages } }: { company: CompanyRow }) {
  return (
    <li className={styles.row}>
      <span className={styles.name}>{company || domain}</span>
      <span className="soft">{company && domain}</span>
      <Link to={`/people?words=${encodeURIComponent(`@${domain}`)}`}>{counted(people, 'person', 'people')}</Link>
      <Link to={`/sent?domain=${encodeURIComponent(domain)}`}>{counted(messages, 'message')}</Link>
    </li>
  );
}
