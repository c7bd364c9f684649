import { Button, Popover, Skeleton } from 'antd';
import { lazy, Suspense, type ReactNode } from 'react';
import { filtersText, personText, recipientsText } from '@kiraku/core/sentences';
import type { ListView } from '@kiraku/core/sent';
import { usePersonQuery } from '../api/privacyApi.js';
import choiceStyles from '../ui/choice.module.css';

// With fields, which a page that shows a list does not need.
const Who = lazy(() => import('./NarrowingForms.js').then((forms) => ({ default: forms.Who })));
const More = lazy(() => import('./NarrowingForms.js').then((forms) => ({ default: forms.More })));
const OfAll = lazy(() => import('./NarrowingForms.js').then((forms) => ({ default: forms.OfAll })));

interface NarrowedProps {
  view: ListView;
  onChange(part: Partial<ListView>): void;
}

/** To whom messages went: a word of a sentence that opens the people, companies and domains. */
export function SentTo({ view, onChange }: NarrowedProps) {
  const { data } = usePersonQuery(view.person ?? 0, { skip: view.person === null });
  const person = view.person === null ? null : data ? personText(data) : 'one person';
  return (
    <Narrowed label="To whom" words={recipientsText(view, person)} content={<Who view={view} onChange={onChange} />} />
  );
}

/** What messages are narrowed by besides. `ofAll`: also whether they were sent at all, or archived. */
export function NarrowedBy({ view, onChange, ofAll = false }: NarrowedProps & { ofAll?: boolean }) {
  return (
    <Narrowed
      label="What else"
      words={filtersText(view)}
      content={
        <More view={view} onChange={onChange}>
          {ofAll && <OfAll view={view} onChange={onChange} />}
        </More>
      }
    />
  );
}

function Narrowed({ label, words, content }: { label: string; words: string; content: ReactNode }) {
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
