import { App, Button } from 'antd';
import { lazy, Suspense } from 'react';
import type { MessageSummary, ShelfDeed } from '@kiraku/core/contract';
import { counted } from '@kiraku/core/time';
import { problemOf, type QueryError } from '../app/api.js';
import { useUndo } from '../ui/useUndo.js';
import { useShelveMutation } from './sentApi.js';

// With what reads times in words.
const RemindButton = lazy(() => import('../followups/RemindButton.js'));

interface Deed {
  deed: ShelfDeed;
  undo: ShelfDeed;
  label: string;
  done: string;
}

const DEEDS: Record<'archive' | 'unarchive' | 'silence' | 'unsilence' | 'remove', Deed> = {
  archive: { deed: 'archive', undo: 'unarchive', label: 'Put away', done: 'put away' },
  unarchive: { deed: 'unarchive', undo: 'archive', label: 'Take out again', done: 'at hand again' },
  silence: { deed: 'silence', undo: 'unsilence', label: 'Silence', done: 'silenced: nothing of it is told' },
  unsilence: { deed: 'unsilence', undo: 'silence', label: 'Let it be told again', done: 'told of again' },
  remove: {
    deed: 'remove',
    undo: 'restore',
    label: 'Delete',
    done: 'deleted; its links go on leading to their targets',
  },
};

interface ShelfProps {
  chosen: ReadonlySet<number>;
  shown: MessageSummary[];
  /** Whether those are shown that were put away. */
  archived: boolean;
  setChosen(chosen: ReadonlySet<number>): void;
}

/** What can be done with the messages that are chosen; each deed can be undone. */
export function Shelf({ chosen, shown, archived, setChosen }: ShelfProps) {
  const [shelve, { isLoading }] = useShelveMutation();
  const { notification } = App.useApp();
  const tellUndo = useUndo();
  const ids = shown.filter(({ id }) => chosen.has(id)).map(({ id }) => id);
  const allSilenced = ids.length > 0 && shown.every(({ id, silenced }) => !chosen.has(id) || silenced);
  const deeds = [
    archived ? DEEDS.unarchive : DEEDS.archive,
    allSilenced ? DEEDS.unsilence : DEEDS.silence,
    DEEDS.remove,
  ];

  async function act({ deed, undo, done }: Deed): Promise<void> {
    try {
      await shelve({ ids, deed }).unwrap();
    } catch (error) {
      const { title, detail } = problemOf(error as QueryError);
      notification.warning({ title, description: detail });
      return;
    }
    setChosen(new Set());
    tellUndo({
      key: `shelf ${deed} ${ids.join(',')}`,
      title: `${counted(ids.length, 'message')} ${done}`,
      undo: () => void shelve({ ids, deed: undo }),
    });
  }

  return (
    <div className="list-shelf" role="toolbar" aria-label="With the chosen messages">
      <span>{ids.length === 0 ? 'Tick those that you mean.' : `${counted(ids.length, 'message')} chosen.`}</span>
      <Button type="link" onClick={() => setChosen(new Set(shown.map(({ id }) => id)))}>
        All {shown.length} shown
      </Button>
      {deeds.map((deed) => (
        <Button key={deed.deed} disabled={ids.length === 0} loading={isLoading} onClick={() => void act(deed)}>
          {deed.label}
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
