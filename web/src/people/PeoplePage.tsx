import { Button, Dropdown, Segmented, Select, Skeleton } from 'antd';
import { lazy, Suspense, useDeferredValue, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { PEOPLE_ORDERS, type CompanyRow, type PeopleOrder } from '@kiraku/core/contract';
import { PEOPLE_ORDER_TEXTS, peopleSentence } from '@kiraku/core/sentences';
import { capital, counted } from '@kiraku/core/time';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { Nothing } from '../shared/ui/Nothing.js';
import { SearchField } from '../shared/ui/SearchField.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { DuplicatesHint } from './DuplicatesHint.js';
import { useCompaniesQuery, useDirectoryInfiniteQuery } from '../shared/api/peopleApi.js';
import { PeopleRows } from './PeopleRows.js';
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
  const words = params.get('words') ?? '';
  const order = PEOPLE_ORDERS.find((one) => one === params.get('order')) ?? 'name';
  const form = params.get('as') === 'companies' ? 'companies' : 'people';
  const [isImporting, setImporting] = useState(params.has('import'));
  const change = (part: Record<string, string>) =>
    setParams(
      Object.entries({ words, order, as: form, ...part }).filter(
        ([name, value]) => value !== { words: '', order: 'name', as: 'people' }[name],
      ),
      { replace: true },
    );
  return (
    <>
      <div className={pageStyles.listHead}>
        <h1>People</h1>
        <SearchField
          words={words}
          placeholder="Search names, addresses, companies"
          onChange={(next) => change({ words: next })}
        />
        <Segmented value={form} options={FORMS} onChange={(as) => change({ as })} aria-label="List or table" />
        {form === 'people' && (
          <Select
            value={order}
            aria-label="Sorted by"
            options={PEOPLE_ORDERS.map((value) => ({ value, label: capital(PEOPLE_ORDER_TEXTS[value]) }))}
            onChange={(next) => change({ order: next })}
            popupMatchSelectWidth={false}
          />
        )}
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
        <Companies words={words} />
      ) : (
        <People words={words} order={order} importPeople={() => setImporting(true)} />
      )}
    </>
  );
}

function People({ words, order, importPeople }: { words: string; order: PeopleOrder; importPeople(): void }) {
  const query = useDeferredValue(words);
  const { data, error, refetch, hasNextPage, isFetchingNextPage, fetchNextPage } = useDirectoryInfiniteQuery({
    words: query,
    order,
  });
  if (!data)
    return error ? <LoadFailed error={error} retry={() => void refetch()} /> : <Skeleton active title={false} />;
  const people = data.pages.flatMap((page) => page.people);
  const total = data.pages.at(-1)!.total;
  if (total === 0)
    return words === '' ? (
      <Nothing title="Nobody yet">
        <p>Everybody you write to appears here. You can also import people from a sheet or contact cards.</p>
        <Button onClick={importPeople}>Import people</Button>
      </Nothing>
    ) : (
      <Nothing title="Nobody found">
        <p>Search for a part of a name, an address or a company.</p>
      </Nothing>
    );
  return (
    <>
      <p className={pageStyles.sentence}>{peopleSentence(words, order, total)}</p>
      {words === '' && <DuplicatesHint />}
      <PeopleRows people={people} />
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
