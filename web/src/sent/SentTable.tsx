import { useWindowVirtualizer } from '@tanstack/react-virtual';
import { Button, Checkbox, Popover } from 'antd';
import { memo, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { Link } from 'react-router';
import { countText, messageStatus, peopleText } from '@kiraku/core/sentences';
import type { ListColumn, MessageSummary } from '@kiraku/core/contract';
import type { ListView } from '@kiraku/core/sent';
import { durationWords, exactWords, shortWords } from '@kiraku/core/time';
import { useNow } from '../shared/hooks/useNow.js';
import styles from './sent.module.css';

interface SentTableProps {
  messages: MessageSummary[];
  view: ListView;
  onChange(part: Partial<ListView>): void;
  /** Null while none are being chosen. */
  chosen: ReadonlySet<number> | null;
  choose(id: number, isChosen: boolean): void;
}

interface Column {
  name: string;
  title: string;
  /** What it sorts by; undefined where it sorts nothing. */
  sort?: ListColumn;
  isNumber?: boolean;
  cell(message: MessageSummary): React.ReactNode;
}

const time = (at: number | null) => at !== null && <Time at={at} />;
const between = (at: number | null, sentAt: number | null) =>
  at !== null && sentAt !== null && durationWords(Math.max(0, at - sentAt));

const cellOf = (all: number, uncertain: number) => (all === 0 ? '' : countText(all, uncertain));

const COLUMNS: readonly Column[] = [
  { name: 'where', title: 'Status', cell: (message) => <Where message={message} /> },
  {
    name: 'opens',
    title: 'Opens',
    sort: 'opens',
    isNumber: true,
    cell: ({ tally }) => cellOf(tally.opens, tally.uncertainOpens),
  },
  {
    name: 'clicks',
    title: 'Clicks',
    sort: 'clicks',
    isNumber: true,
    cell: ({ tally }) => cellOf(tally.clicks, tally.uncertainClicks),
  },
  {
    name: 'views',
    title: 'File views',
    sort: 'fileViews',
    isNumber: true,
    cell: ({ tally }) => cellOf(tally.fileViews, tally.uncertainViews),
  },
  { name: 'first', title: 'First open', sort: 'firstOpen', cell: ({ tally }) => time(tally.firstOpenAt) },
  { name: 'last', title: 'Last open', sort: 'lastOpen', cell: ({ tally }) => time(tally.lastOpenAt) },
  {
    name: 'timeToOpen',
    title: 'Time to open',
    sort: 'timeToOpen',
    cell: ({ tally, sentAt }) => between(tally.firstOpenAt, sentAt),
  },
  {
    name: 'timeToReply',
    title: 'Time to reply',
    sort: 'timeToReply',
    cell: ({ tally, sentAt }) => between(tally.repliedAt, sentAt),
  },
  { name: 'notCounted', title: 'Not counted', isNumber: true, cell: ({ tally }) => tally.notCounted || '' },
  { name: 'sent', title: 'Sent', sort: 'sent', cell: ({ sentAt, queuedAt }) => time(sentAt ?? queuedAt) },
];

const FIRST_COLUMNS = ['opens', 'clicks', 'first', 'last', 'timeToOpen', 'timeToReply', 'sent'];
const REMEMBERED = 'kiraku.columns';

/** Of a row; all have one line. */
const ROW_HEIGHT = 40;

/** The same list as a table, for those who prefer columns. Only the rows near the window are drawn. */
export default function SentTable({ messages, view, onChange, chosen, choose }: SentTableProps) {
  const [names, setNames] = useState(rememberedColumns);
  const body = useRef<HTMLTableSectionElement>(null);
  const [top, setTop] = useState(0);
  useLayoutEffect(() => setTop((body.current?.getBoundingClientRect().top ?? 0) + window.scrollY), [chosen]);
  const rows = useWindowVirtualizer({
    count: messages.length,
    estimateSize: () => ROW_HEIGHT,
    overscan: 12,
    scrollMargin: top,
    getItemKey: (index) => messages[index]!.id,
  });
  const columns = useMemo(() => COLUMNS.filter(({ name }) => names.includes(name)), [names]);
  const drawn = rows.getVirtualItems();
  const above = (drawn[0]?.start ?? top) - top;
  const below = rows.getTotalSize() - ((drawn.at(-1)?.end ?? top) - top);
  return (
    <>
      <div className={styles.tableColumns}>
        <ChooseColumns
          names={names}
          onChange={(next) => {
            localStorage.setItem(REMEMBERED, JSON.stringify(next));
            setNames(next);
          }}
        />
      </div>
      <div className={styles.table}>
        <table aria-rowcount={messages.length}>
          <thead>
            <tr>
              {chosen && <th scope="col" aria-label="Selected" className={styles.tableCheck} />}
              <th scope="col" className={styles.tableTo}>
                To
              </th>
              <th scope="col" className={styles.tableSubject}>
                Subject
              </th>
              {columns.map((column) => (
                <Head key={column.name} column={column} view={view} onChange={onChange} />
              ))}
            </tr>
          </thead>
          <tbody ref={body}>
            {above > 0 && <Gap height={above} />}
            {drawn.map(({ index, key }) => (
              <Row
                key={key}
                index={index}
                message={messages[index]!}
                columns={columns}
                isChosen={chosen ? chosen.has(messages[index]!.id) : null}
                choose={choose}
              />
            ))}
            {below > 0 && <Gap height={below} />}
          </tbody>
        </table>
      </div>
    </>
  );
}

interface RowProps extends Pick<SentTableProps, 'choose'> {
  index: number;
  message: MessageSummary;
  columns: readonly Column[];
  isChosen: boolean | null;
}

const Row = memo(function Row({ index, message, columns, isChosen, choose }: RowProps) {
  const subject = message.subject || 'No subject';
  return (
    <tr aria-rowindex={index + 2}>
      {isChosen !== null && (
        <td>
          <Checkbox
            checked={isChosen}
            aria-label={`Select “${subject}”`}
            onChange={(event) => choose(message.id, event.target.checked)}
          />
        </td>
      )}
      <td>{peopleText(message.recipients, '')}</td>
      <td>
        <Link to={`/sent/${message.id}`}>{subject}</Link>
      </td>
      {columns.map(({ name, isNumber, cell }) => (
        <td key={name} className={isNumber ? `figures ${styles.number}` : 'figures'}>
          {cell(message)}
        </td>
      ))}
    </tr>
  );
});

/** Stands for the rows that are not drawn. */
function Gap({ height }: { height: number }) {
  return (
    <tr aria-hidden="true" style={{ height }}>
      <td />
    </tr>
  );
}

/** A column’s head; pressed, it sorts: the greatest first, then the smallest, then as before. */
function Head({
  column: { title, sort, isNumber },
  view,
  onChange,
}: { column: Column } & Pick<SentTableProps, 'view' | 'onChange'>) {
  const isSorted = sort !== undefined && view.sort === sort;
  const next = !isSorted
    ? { sort, direction: 'desc' as const }
    : view.direction === 'asc'
      ? { sort: 'lastActivity' as const, direction: 'desc' as const }
      : { direction: 'asc' as const };
  return (
    <th
      scope="col"
      className={isNumber ? styles.number : undefined}
      aria-sort={isSorted ? (view.direction === 'asc' ? 'ascending' : 'descending') : undefined}
    >
      {sort === undefined ? (
        title
      ) : (
        <button type="button" onClick={() => onChange(next)}>
          {title}
          {isSorted && <span aria-hidden="true">{view.direction === 'asc' ? ' ↑' : ' ↓'}</span>}
        </button>
      )}
    </th>
  );
}

function ChooseColumns({ names, onChange }: { names: string[]; onChange(names: string[]): void }) {
  return (
    <Popover
      trigger="click"
      placement="bottomRight"
      content={
        <Checkbox.Group
          className={styles.columnChoices}
          value={names}
          options={COLUMNS.map(({ name, title }) => ({ value: name, label: title }))}
          onChange={onChange}
        />
      }
    >
      <Button size="small">Columns</Button>
    </Popover>
  );
}

/** A table has hundreds of them: the browser’s own hint does. */
function Time({ at }: { at: number }) {
  return (
    <time dateTime={new Date(at).toISOString()} title={exactWords(at)}>
      {shortWords(at, useNow())}
    </time>
  );
}

function Where({ message }: { message: MessageSummary }) {
  return messageStatus(message, useNow()).text;
}

function rememberedColumns(): string[] {
  try {
    const kept = JSON.parse(localStorage.getItem(REMEMBERED) ?? 'null') as unknown;
    return Array.isArray(kept) ? kept.map(String) : FIRST_COLUMNS;
  } catch {
    return FIRST_COLUMNS;
  }
}
