import { Button } from 'antd';
import { useState } from 'react';
import type { Shown, TemplateRow, TemplateView } from '@kiraku/core/contract';
import { rateOf } from '@kiraku/core/reports';
import { DEFAULT_VIEW } from '@kiraku/core/sent';
import { templateUseText } from '@kiraku/core/sentences';
import { addressOf } from '../shared/api/sentApi.js';
import { RateText } from '../shared/ui/RateText.js';
import { counted } from '@kiraku/core/time';
import { useSetTemplateFolderMutation } from '../shared/api/settingsApi.js';
import { textOf } from '../shared/editor/textOf.js';
import { useNow } from '../shared/hooks/useNow.js';
import { useUndo } from '../shared/hooks/useUndo.js';
import styles from './templates.module.css';

/** The names of the folders that there are, by alphabet; the top of the list is none. */
export const foldersOf = (templates: readonly TemplateView[]) =>
  [...new Set(templates.map(({ folder }) => folder))].filter((folder) => folder !== '').sort();

interface FoldersProps {
  templates: readonly TemplateRow[];
  chosen: TemplateView | null;
  onChoose(template: TemplateView): void;
}

/** The templates by their folders. One is dragged into another, or its form says which. */
export function Folders({ templates, chosen, onChoose }: FoldersProps) {
  const [dragged, setDragged] = useState<TemplateRow | null>(null);
  const [over, setOver] = useState<string | null>(null);
  const move = useMove();
  const folders = foldersOf(templates);
  return ['', ...folders].map((folder) => (
    <section
      key={folder}
      aria-label={folder || 'Not in a folder'}
      className={dragged && over === folder ? styles.over : ''}
      onDragOver={(event) => {
        if (!dragged) return;
        event.preventDefault();
        setOver(folder);
      }}
      onDrop={(event) => {
        if (!dragged) return;
        event.preventDefault();
        setDragged(null);
        if (dragged.folder !== folder) void move(dragged, folder);
      }}
    >
      {folder !== '' && <h2 className={styles.folder}>{folder}</h2>}
      {folder === '' && dragged && dragged.folder !== '' && <p className="soft">Not in a folder</p>}
      <ul className={styles.rows}>
        {templates
          .filter((one) => one.folder === folder)
          .map((one) => (
            <TemplateLine
              key={one.id}
              template={one}
              isChosen={one.id === chosen?.id}
              onChoose={() => onChoose(one)}
              onDuplicate={() => onChoose({ ...one, id: 0, name: `${one.name} (copy)` })}
              {...(folders.length > 0 && { onDrag: (isDragged: boolean) => setDragged(isDragged ? one : null) })}
            />
          ))}
      </ul>
    </section>
  ));
}

interface TemplateLineProps {
  template: TemplateRow;
  isChosen: boolean;
  onChoose(): void;
  onDuplicate(): void;
  /** Where there is a folder to drag it to. */
  onDrag?(isDragged: boolean): void;
}

/** A template: how it begins, how often it was used, and how often that was replied to. */
function TemplateLine({ template, isChosen, onChoose, onDuplicate, onDrag }: TemplateLineProps) {
  const now = useNow();
  const { id, name, subject, html, files, messages, replied } = template;
  const behind = (show: Shown) =>
    `/sent?${addressOf({ ...DEFAULT_VIEW, template: id, sentWith: 'anything', archived: 'any', show })}`;
  return (
    <li
      data-row
      className={styles.row}
      draggable={onDrag !== undefined}
      onDragStart={() => onDrag?.(true)}
      onDragEnd={() => onDrag?.(false)}
    >
      <Button type="link" onClick={onChoose} aria-current={isChosen}>
        {name}
      </Button>
      <Button type="text" size="small" onClick={onDuplicate} aria-label={`Duplicate ${name}`}>
        Duplicate
      </Button>
      <span className={styles.preview}>{[subject, textOf(html)].filter(Boolean).join(' · ')}</span>
      <span className={`${styles.use} soft`}>
        {files.length > 0 && `${counted(files.length, 'file')}. `}
        {templateUseText(template, now)}
        {messages > 0 && (
          <>
            . Replied to: <RateText rate={rateOf(replied, messages)} nTo={behind('replied')} ofTo={behind('all')} />
          </>
        )}
      </span>
    </li>
  );
}

/** Puts a template into a folder, and offers to undo that. */
function useMove() {
  const [setFolder] = useSetTemplateFolderMutation();
  const offerUndo = useUndo();
  return async ({ id, name, folder: before }: TemplateView, folder: string) => {
    if ((await setFolder({ id, folder })).error) return;
    offerUndo({
      key: `template ${id}`,
      title: folder === '' ? 'Taken out of its folder' : `Moved to ${folder}`,
      description: name,
      undo: () => void setFolder({ id, folder: before }),
    });
  };
}
