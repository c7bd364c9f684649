import { App, Button } from 'antd';
import { lazy, Suspense } from 'react';
import type { MessageSummary, ListAction } from '@kiraku/core/contract';
import { actionDoneText, selectionSentence } from '@kiraku/core/sentences';
import { problemOf, type QueryError } from '../shared/api/api.js';
import { useUndo } from '../shared/hooks/useUndo.js';
import { useApplyActionMutation } from '../shared/api/sentApi.js';
import styles from './sent.module.css';

// With what reads times in words.
const RemindButton = lazy(() => import('../followups/RemindButton.js'));

interface Action {
  action: ListAction;
  undo: ListAction;
  label: string;
}

const ACTIONS: Record<'archive' | 'unarchive' | 'mute' | 'unmute' | 'delete', Action> = {
  archive: { action: 'archive', undo: 'unarchive', label: 'Archive' },
  unarchive: { action: 'unarchive', undo: 'archive', label: 'Unarchive' },
  mute: { action: 'mute', undo: 'unmute', label: 'Mute' },
  unmute: { action: 'unmute', undo: 'mute', label: 'Unmute' },
  delete: {
    action: 'delete',
    undo: 'restore',
    label: 'Delete',
  },
};

interface SelectionActionsProps {
  chosen: ReadonlySet<number>;
  shown: MessageSummary[];
  /** Whether those are shown that were archived. */
  archived: boolean;
  setChosen(chosen: ReadonlySet<number>): void;
}

/** What can be done with the messages that are chosen; each action can be undone. */
export function SelectionActions({ chosen, shown, archived, setChosen }: SelectionActionsProps) {
  const [applyAction, { isLoading }] = useApplyActionMutation();
  const { notification } = App.useApp();
  const offerUndo = useUndo();
  const ids = shown.filter(({ id }) => chosen.has(id)).map(({ id }) => id);
  const allMuted = ids.length > 0 && shown.every(({ id, muted }) => !chosen.has(id) || muted);
  const actions = [
    archived ? ACTIONS.unarchive : ACTIONS.archive,
    allMuted ? ACTIONS.unmute : ACTIONS.mute,
    ACTIONS.delete,
  ];

  async function act({ action, undo }: Action): Promise<void> {
    try {
      await applyAction({ ids, action }).unwrap();
    } catch (error) {
      const { title, detail } = problemOf(error as QueryError);
      notification.warning({ title, description: detail });
      return;
    }
    setChosen(new Set());
    offerUndo({
      key: `selection ${action} ${ids.join(',')}`,
      title: actionDoneText(action, ids.length),
      undo: () => void applyAction({ ids, action: undo }),
    });
  }

  return (
    <div className={styles.listSelection} role="toolbar" aria-label="With the selected messages">
      <span>{selectionSentence(ids.length)}</span>
      <Button type="link" onClick={() => setChosen(new Set(shown.map(({ id }) => id)))}>
        All {shown.length} shown
      </Button>
      {actions.map((action) => (
        <Button key={action.action} disabled={ids.length === 0} loading={isLoading} onClick={() => void act(action)}>
          {action.label}
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
