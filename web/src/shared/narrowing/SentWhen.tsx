import { Popover, Skeleton } from 'antd';
import { lazy, Suspense, useState } from 'react';
import { PERIODS, periodWords } from '@kiraku/core/time';
import { useNow } from '../hooks/useNow.js';
import { Choice } from '../ui/Choice.js';

// With a calendar, which a page that shows a list does not need.
const Days = lazy(() => import('./NarrowingForms.js').then((forms) => ({ default: forms.Days })));

const WHEN_DAYS = 'days';

interface SentWhenProps {
  sent: string;
  onChange(sent: string): void;
}

/** When messages were sent: a word of a sentence that opens the periods, and a calendar for any days. */
export function SentWhen({ sent, onChange }: SentWhenProps) {
  const now = useNow();
  const [choosingDays, setChoosingDays] = useState(false);
  return (
    <Popover
      open={choosingDays}
      onOpenChange={(open) => !open && setChoosingDays(false)}
      trigger={[]}
      destroyOnHidden
      content={
        <Suspense fallback={<Skeleton active title={false} />}>
          <Days onChoose={(days) => (setChoosingDays(false), onChange(days))} onCancel={() => setChoosingDays(false)} />
        </Suspense>
      }
    >
      <span>
        <Choice
          label="When it was sent"
          value={PERIODS.some(({ name }) => name === sent) ? sent : WHEN_DAYS}
          options={[
            ...PERIODS.map(({ name, words }) => ({ value: name, label: words })),
            { value: WHEN_DAYS, label: 'between two days …' },
          ]}
          words={periodWords(sent, now)}
          onChoose={(name) => (name === WHEN_DAYS ? setChoosingDays(true) : onChange(name))}
        />
      </span>
    </Popover>
  );
}
