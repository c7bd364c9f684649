import { Button } from 'antd';
import { lazy, Suspense } from 'react';
import type { MessageSummary } from '@kiraku/core/contract';
import { selectionSentence } from '@kiraku/core/sentences';
import { useListAction } from '../shared/hooks/useListAction.js';
import styles from './sent.module.css';

// With what reads times in words.
const RemindButton = lazy(() => import('../followups/RemindButton.js'));

const LABELS = { archive: 'Archive', unarchive: 'Unarchive', mute: 'Mute', unmute: 'Unmute', delete: 'Delete' };

interface SelectionActionsProps {
  chosen: ReadonlySet<number>;
  shown: MessageSummary[];
  /** Whether those are shown that were archived. */
  archived: boolean;
  setChosen(chosen: ReadonlySet<number>): void;
}

/** What can be done with the messages that are chosen; each action can be undone. */
export function SelectionActions({ chosen, shown, archived, setChosen }: SelectionActionsProps) {
  const [act, isLoading] = useListAction();
  const ids = shown.filter(({ id }) => chosen.has(id)).map(({ id }) => id);
  const allMuted = ids.length > 0 && shown.every(({ id, muted }) => !chosen.has(id) || muted);
  const actions = [archived ? 'unarchive' : 'archive', allMuted ? 'unmute' : 'mute', 'delete'] as const;

  return (
    <div className={styles.listSelection} role="toolbar" aria-label="With the selected messages">
      <span>{selectionSentence(ids.length)}</span>
      <Button type="link" onClick={() => setChosen(new Set(shown.map(({ id }) => id)))}>
        All {shown.length} shown
      </Button>
      {actions.map((action) => (
        <Button
          key={action}
          disabled={ids.length === 0}
          loading={isLoading}
          onClick={async () => (await act(ids, action)) && setChosen(new Set())}
        >
          {LABELS[action]}
        </Button>
      ))}
      <Suspense>
        <RemindButton
          about={{ messageIds: ids, personId: null }}
          disabled={ids.length === 0}
          onDone={() => setChosen(new Set())}
        />
      </Suspense>
    </div>
  );
}
