import { Button, Modal } from 'antd';
import { greatest } from 'd3-array';
import { dsvFormat } from 'd3-dsv';
import { useState } from 'react';
import type { RoundRecipients } from '@kiraku/core/contract';
import { guessColumns } from '@kiraku/core/people';
import { roundSheet, type RoundColumns } from '@kiraku/core/rounds';
import { namesText } from '@kiraku/core/sentences';
import { counted } from '@kiraku/core/time';
import { ChooseSheet, ColumnChoices } from '../shared/ui/ChooseSheet.js';
import styles from './rounds.module.css';

const SEPARATORS = [',', ';', '\t'];
const MAX_PROBLEMS_SHOWN = 8;
const MAX_COLUMNS_NAMED = 6;
const NO_COLUMNS: RoundColumns = { address: -1, name: -1 };
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
  const [columns, setColumns] = useState(NO_COLUMNS);
  const sheet = file && roundSheet(file.rows, columns);
  const count = sheet?.recipients.length ?? 0;
  const choose = ({ name: fileName, text }: { name: string; text: string }) => {
    const rows = rowsOf(text);
    const { address, name } = guessColumns(rows[0] ?? []);
    setFile({ name: fileName, rows });
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
      <ChooseSheet accept=".csv,.tsv,.txt,text/csv" name={file?.name} onChoose={choose} />
      {file && sheet && (
        <>
          <ColumnChoices
            fields={FIELDS}
            heads={(file.rows[0] ?? []).map((head, index) => head || `Column ${index + 1}`)}
            columns={columns}
            onChange={setColumns}
          />
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

/** With the separator that the first line has most of: spreadsheets of several countries write another. */
function rowsOf(text: string): string[][] {
  const [first = ''] = text.split('\n', 1);
  return dsvFormat(greatest(SEPARATORS, (separator) => first.split(separator).length)!).parseRows(text);
}
