import { Button, Dropdown } from 'antd';
import { useId, useRef, useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import type { ChartTable } from './chartTable.js';
import styles from './chartFrame.module.css';

interface ChartFrameProps {
  title: string;
  /** Of the files that it is exported as, without an ending. */
  fileName: string;
  table: ChartTable;
  children: ReactNode;
}

const EXPORTS = [
  { key: 'csv', label: 'As CSV' },
  { key: 'svg', label: 'As SVG' },
];

/** A chart with its title, shown as a table as well, and exported as either. */
export function ChartFrame({ title, fileName, table, children }: ChartFrameProps) {
  const id = useId();
  const chart = useRef<HTMLDivElement>(null);
  const [asTable, setAsTable] = useState(false);
  // Loaded when it is first wanted.
  const save = async (form: string) => {
    const { saveCsv, saveSvg } = await import('./chartFiles.js');
    if (form === 'csv') saveCsv(`${fileName}.csv`, table);
    else saveSvg(`${fileName}.svg`, chart.current!.querySelector('svg')!);
  };
  return (
    <section aria-labelledby={id}>
      <div className={styles.head}>
        <h2 id={id}>{title}</h2>
        <div className={styles.actions}>
          <Button type="text" size="small" onClick={() => setAsTable(!asTable)}>
            {asTable ? 'Show chart' : 'Show table'}
          </Button>
          <Dropdown
            trigger={['click']}
            menu={{
              // Of a table there is no picture.
              items: asTable ? EXPORTS.slice(0, 1) : EXPORTS,
              onClick: ({ key }) => void save(key),
            }}
          >
            <Button type="text" size="small" aria-haspopup="menu" aria-label={`Export “${title}”`}>
              Export
            </Button>
          </Dropdown>
        </div>
      </div>
      {asTable ? <Table table={table} label={title} /> : <div ref={chart}>{children}</div>}
    </section>
  );
}

function Table({ table: { columns, rows }, label }: { table: ChartTable; label: string }) {
  return (
    <div className={styles.scroll} tabIndex={0} role="region" aria-label={`${label}, as a table`}>
      <table className={`${styles.table} figures`}>
        <thead>
          <tr>
            {columns.map((column) => (
              <th key={column} scope="col">
                {column}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((cells, row) => (
            <tr key={row}>
              {cells.map(({ value, words, to }, column) => (
                <td key={column}>{to === undefined ? (words ?? value) : <Link to={to}>{value}</Link>}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
