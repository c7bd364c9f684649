import { Alert, Button, Modal, Select, Upload } from 'antd';
import { csvParseRows, dsvFormat, tsvParseRows } from 'd3-dsv';
import { useState } from 'react';
import type { RoundRecipients } from '@kiraku/core/contract';
import { guessColumns } from '@kiraku/core/people';
import { roundSheet, type RoundColumns } from '@kiraku/core/rounds';
import { namesText } from '@kiraku/core/sentences';
import { counted } from '@kiraku/core/time';
import styles from './rounds.module.css';

const MAX_SHEET_BYTES = 5_000_000;
const MAX_PROBLEMS_SHOWN = 8;
const MAX_COLUMNS_NAMED = 6;
const NO_COLUMN = -1;
const FIELDS = [
  ['address', 'Address'],
  ['name', 'Name'],
] as const;

interface File {
  name: string;
  rows: string[][];
}

interface SheetButtonProps {
  label: string;
  onChoose(sheet: RoundRecipients & { name: string }): void;
}

/** Takes the people of a round from a sheet: shows what would be taken before it is. */
export function SheetButton({ label, onChoose }: SheetButtonProps) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button onClick={() => setOpen(true)}>{label}</Button>
      {open && <FromSheet close={() => setOpen(false)} onChoose={onChoose} />}
    </>
  );
}

function FromSheet({ close, onChoose }: { close(): void; onChoose: SheetButtonProps['onChoose'] }) {
  const [file, setFile] = useState<File | null>(null);
  const [isTooLarge, setTooLarge] = useState(false);
  const [columns, setColumns] = useState<RoundColumns>({ address: NO_COLUMN, name: NO_COLUMN });
  const sheet = file && roundSheet(file.rows, columns);
  const count = sheet?.recipients.length ?? 0;
  const choose = async (chosen: globalThis.File) => {
    setTooLarge(chosen.size > MAX_SHEET_BYTES);
    if (chosen.size > MAX_SHEET_BYTES) return;
    const rows = rowsOf(await chosen.text());
    const { address, name } = guessColumns(rows[0] ?? []);
    setFile({ name: chosen.name, rows });
    setColumns({ address, name });
  };
  const take = () => {
    onChoose({
      name: file!.name.replace(/\.\w+$/, '').slice(0, 100),
      columns: sheet!.columns,
      recipients: sheet!.recipients,
    });
    close();
  };
  return (
    <Modal
      open
      title="People from a sheet"
      width={680}
      onCancel={close}
      okText={count === 0 ? 'Nobody to add' : `Add ${counted(count, 'person', 'people')}`}
      okButtonProps={{ disabled: count === 0 }}
      onOk={take}
    >
      <p className="soft">A CSV file with the names of its columns first. Each column can be used as a placeholder.</p>
      <Upload.Dragger
        accept=".csv,.tsv,.txt,text/csv"
        showUploadList={false}
        beforeUpload={(chosen) => {
          void choose(chosen);
          return false;
        }}
      >
        {file ? file.name : 'Press to choose a file, or drop it here'}
      </Upload.Dragger>
      {isTooLarge && <Alert type="warning" showIcon title="The file is larger than 5 MB: split it." />}
      {file && sheet && (
        <>
          <div className={styles.sheetColumns}>
            {FIELDS.map(([field, name]) => (
              <label key={field}>
                <span>{name}</span>
                <Select
                  value={columns[field]}
                  options={[
                    { value: NO_COLUMN, label: 'none' },
                    ...(file.rows[0] ?? []).map((head, index) => ({
                      value: index,
                      label: head || `Column ${index + 1}`,
                    })),
                  ]}
                  aria-label={`Column of: ${name}`}
                  onChange={(index) => setColumns({ ...columns, [field]: index })}
                />
              </label>
            ))}
          </div>
          <p role="status">
            {counted(count, 'person', 'people')}
            {sheet.columns.length > 0 && `, with ${namesText(sheet.columns, MAX_COLUMNS_NAMED)} as placeholders`}
            {sheet.problems.length > 0 && `; ${counted(sheet.problems.length, 'row')} left out`}.
          </p>
          <ul className={styles.sheetProblems}>
            {sheet.problems.slice(0, MAX_PROBLEMS_SHOWN).map(({ row, problem }) => (
              <li key={row}>
                <span className="figures soft">Row {row}</span> {problem}
              </li>
            ))}
          </ul>
        </>
      )}
    </Modal>
  );
}

/** With the separators that spreadsheets of several countries write. */
function rowsOf(text: string): string[][] {
  const plain = text.replace(/^\uFEFF/, '');
  const [first = ''] = plain.split('\n', 1);
  const isWith = (separator: string) => first.includes(separator) && !first.includes(',');
  const rows = isWith(';') ? dsvFormat(';').parseRows(plain) : isWith('\t') ? tsvParseRows(plain) : csvParseRows(plain);
  return rows.filter((cells) => cells.some((cell) => cell.trim() !== ''));
}
