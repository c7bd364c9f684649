import { AutoComplete, Modal } from 'antd';
import { useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { peopleText, personText } from '@kiraku/core/sentences';
import { DEFAULT_VIEW } from '@kiraku/core/sent';
import { addressOf, useSentInfiniteQuery } from '../shared/api/sentApi.js';
import { useFilesQuery } from '../shared/api/filesApi.js';
import { usePeopleQuery } from '../shared/api/draftsApi.js';
import { useTemplatesQuery } from '../shared/api/settingsApi.js';
import { useDebounced } from '../shared/hooks/useDebounced.js';
import { isFound, PLACES } from './places.js';
import styles from './search.module.css';

const MAX_SEARCH_CHARS = 200;
/** Of each group: what is looked for is among the first, or is searched for with more words. */
const MAX_FOUND_OF_KIND = 5;

interface Found {
  /** As it is read out; no two are called the same. */
  name: string;
  kind: string;
  label: string;
  detail?: string;
  path: string;
}

/** One search for people, messages, files, templates, pages, settings and what can be done. */
export default function SearchDialog({ onClose }: { onClose(): void }) {
  const navigate = useNavigate();
  const [typed, setTyped] = useState('');
  const found = useFound(typed.trim());
  const go = (path: string) => {
    onClose();
    void navigate(path);
  };
  return (
    <Modal open title="Search everything" footer={null} closable={false} onCancel={onClose} width={620} destroyOnHidden>
      <AutoComplete
        autoFocus
        open
        defaultActiveFirstOption
        className={styles.field}
        aria-label="Search everything"
        placeholder="People, messages, files, templates, settings"
        maxLength={MAX_SEARCH_CHARS}
        value={typed}
        onChange={(value: string) => setTyped(value)}
        onSelect={(value: string) => go(found.find((one) => one.name === value)!.path)}
        getPopupContainer={(field) => field.parentElement!}
        listHeight={420}
        notFoundContent={typed.trim() === '' ? undefined : 'Nothing found. Try fewer words.'}
        options={found.map(({ name, kind, label, detail }) => ({
          value: name,
          label: (
            <span className={styles.found}>
              <span>
                {label} <span className="soft">{detail}</span>
              </span>
              <span className="soft">{kind}</span>
            </span>
          ),
        }))}
      />
    </Modal>
  );
}

/** What is found, kind by kind; what was found before stays until all of it is known, so that nothing is chosen by mistake. */
function useFound(typed: string): Found[] {
  const words = useDebounced(typed);
  const nothing = { skip: words === '' };
  const query = addressOf({ ...DEFAULT_VIEW, words, sort: 'relevance' });
  const { currentData: people = NONE, isFetching: arePeopleComing } = usePeopleQuery(words, nothing);
  const { currentData: sent, isFetching: isSentComing } = useSentInfiniteQuery(query, nothing);
  const { data: files = NONE } = useFilesQuery(null);
  const { data: templates = NONE } = useTemplatesQuery(null);
  const fresh = useMemo(() => {
    const isNamed = (name: string) => words !== '' && name.toLowerCase().includes(words.toLowerCase());
    const kinds: Omit<Found, 'name'>[][] = [
      people.map((one) => ({
        kind: 'Person',
        label: personText(one),
        detail: one.company,
        path: `/people/${one.id}`,
      })),
      (sent?.pages[0]?.messages ?? []).map(({ id, subject, recipients }) => ({
        kind: 'Message',
        label: subject || 'No subject',
        detail: peopleText(recipients, ''),
        path: `/sent/${id}`,
      })),
      files
        .filter(({ name }) => isNamed(name))
        .map(({ id, name }) => ({ kind: 'File', label: name, path: `/files/${id}` })),
      templates
        .filter(({ name, subject }) => isNamed(`${name} ${subject}`))
        .map(({ name, subject }) => ({ kind: 'Template', label: name, detail: subject, path: '/templates' })),
      ...PLACES.map(({ kind, places }) =>
        places.filter((place) => isFound(place, words)).map(({ label, path }) => ({ kind, label, path })),
      ),
    ];
    return named(kinds.flatMap((found) => found.slice(0, MAX_FOUND_OF_KIND)));
  }, [words, people, sent, files, templates]);
  const [found, setFound] = useState(fresh);
  const isComing = words !== typed || arePeopleComing || isSentComing;
  if (!isComing && found !== fresh) setFound(fresh);
  return found;
}

function named(found: readonly Omit<Found, 'name'>[]): Found[] {
  const names = found.map(({ kind, label, detail }) => [kind, label, detail].filter(Boolean).join(', '));
  return found.map((one, index) => {
    const before = names.slice(0, index).filter((name) => name === names[index]).length;
    return { ...one, name: before === 0 ? names[index]! : `${names[index]}, ${before + 1}` };
  });
}

/** Always the same, so that nothing is reckoned anew. */
const NONE: never[] = [];
