import { Button, Dropdown, Segmented, Select, Skeleton } from 'antd';
import { lazy, Suspense, useDeferredValue, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { PEOPLE_ORDERS, type FirmRow, type PeopleOrder } from '@kiraku/core/contract';
import { counted } from '@kiraku/core/time';
import { LoadFailed } from '../ui/LoadFailed.js';
import { Nothing } from '../ui/Nothing.js';
import { SearchField } from '../ui/SearchField.js';
import { usePageTitle } from '../ui/usePageTitle.js';
import { DuplicatesHint } from './DuplicatesHint.js';
import { useFirmsQuery, useDirectoryInfiniteQuery } from './peopleApi.js';
import { PeopleRows } from './PeopleRows.js';
import './people.css';

// Seldom wanted.
const BringPeople = lazy(() => import('./BringPeople.js'));

const FORMS = [
  { value: 'people', label: 'People' },
  { value: 'firms', label: 'Firms' },
];
const ORDERS: Record<PeopleOrder, string> = {
  name: 'by name',
  messages: 'most written to first',
  firm: 'by firm',
};
const SHEETS = [
  ['people.csv', 'As a sheet (CSV)'],
  ['people.vcf', 'As cards (vCard 4)'],
] as const;

/** Everybody who was written to, or brought in. What it shows is in its address. */
export default function PeoplePage() {
  usePageTitle('People');
  const [params, setParams] = useSearchParams();
  const words = params.get('words') ?? '';
  const order = PEOPLE_ORDERS.find((one) => one === params.get('order')) ?? 'name';
  const form = params.get('as') === 'firms' ? 'firms' : 'people';
  const [bringing, setBringing] = useState(false);
  const change = (part: Record<string, string>) =>
    setParams(
      Object.entries({ words, order, as: form, ...part }).filter(
        ([name, value]) => value !== { words: '', order: 'name', as: 'people' }[name],
      ),
      { replace: true },
    );
  return (
    <>
      <div className="list-head">
        <h1>People</h1>
        <SearchField
          words={words}
          placeholder="Search names, addresses, firms"
          onChange={(next) => change({ words: next })}
        />
        <Segmented value={form} options={FORMS} onChange={(as) => change({ as })} aria-label="Form of the list" />
        {form === 'people' && (
          <Select
            value={order}
            aria-label="Order"
            options={PEOPLE_ORDERS.map((value) => ({ value, label: ORDERS[value] }))}
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
          <Button aria-haspopup="menu">Take them away</Button>
        </Dropdown>
        <Button onClick={() => setBringing(true)}>Bring people in</Button>
      </div>
      {bringing && (
        <Suspense>
          <BringPeople close={() => setBringing(false)} />
        </Suspense>
      )}
      {form === 'firms' ? (
        <Firms words={words} />
      ) : (
        <People words={words} order={order} bring={() => setBringing(true)} />
      )}
    </>
  );
}

function People({ words, order, bring }: { words: string; order: PeopleOrder; bring(): void }) {
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
        <p>Whoever you write to appears here by themselves. You can also bring in people from a sheet or from cards.</p>
        <Button onClick={bring}>Bring people in</Button>
      </Nothing>
    ) : (
      <Nothing title="Nobody is called like that">
        <p>Search for a part of a name, an address or a firm.</p>
      </Nothing>
    );
  return (
    <>
      <p className="page-sentence">
        {words === '' ? 'Everybody you wrote to, ' : `Those with “${words}”, `}
        {ORDERS[order]}: {counted(total, 'person', 'people')}.
      </p>
      {words === '' && <DuplicatesHint />}
      <PeopleRows people={people} />
      {hasNextPage && (
        <p className="people-more">
          <Button loading={isFetchingNextPage} onClick={() => void fetchNextPage()}>
            Show more
          </Button>
        </p>
      )}
    </>
  );
}

function Firms({ words }: { words: string }) {
  const { data, error, refetch } = useFirmsQuery(useDeferredValue(words));
  if (!data)
    return error ? <LoadFailed error={error} retry={() => void refetch()} /> : <Skeleton active title={false} />;
  if (data.length === 0)
    return (
      <Nothing title="No firm is like that">
        <p>Firms are told by the part of the address behind the @.</p>
      </Nothing>
    );
  return (
    <>
      <p className="page-sentence">Told by the part of the address behind the @, most written to first.</p>
      <ul className="people-list">
        {data.map((firm) => (
          <Firm key={firm.domain} firm={firm} />
        ))}
      </ul>
    </>
  );
}

function Firm({ firm: { domain, firm, people, messages } }: { firm: FirmRow }) {
  return (
    <li className="people-row">
      <span className="people-name">{firm || domain}</span>
      <span className="soft">{firm && domain}</span>
      <Link to={`/people?words=${encodeURIComponent(`@${domain}`)}`}>{counted(people, 'person', 'people')}</Link>
      <Link to={`/sent?domain=${encodeURIComponent(domain)}`}>{counted(messages, 'letter')}</Link>
    </li>
  );
}
