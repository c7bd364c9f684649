import { Alert, Select, Upload } from 'antd';
import { useState } from 'react';
import { sheetText } from '../sheetText.js';
import styles from './chooseSheet.module.css';

const MAX_SHEET_BYTES = 5_000_000;
const NO_COLUMN = -1;

interface ChooseSheetProps {
  /** File name endings and media types, as browsers want them. */
  accept: string;
  /** Of the file that was chosen; undefined where none was. */
  name: string | undefined;
  onChoose(sheet: { name: string; text: string }): void;
}

/** Where a sheet is chosen, or dropped. */
export function ChooseSheet({ accept, name, onChoose }: ChooseSheetProps) {
  const [isTooLarge, setTooLarge] = useState(false);
  const choose = (file: File) => {
    setTooLarge(file.size > MAX_SHEET_BYTES);
    if (file.size <= MAX_SHEET_BYTES)
      void file.arrayBuffer().then((bytes) => onChoose({ name: file.name, text: sheetText(bytes) }));
    return false;
  };
  return (
    <>
      <Upload.Dragger accept={accept} showUploadList={false} beforeUpload={choose}>
        {name ?? 'Press to choose a file, or drop it here'}
      </Upload.Dragger>
      {isTooLarge && <Alert type="warning" showIcon title="The file is larger than 5 MB: split it." />}
    </>
  );
}

interface ColumnChoicesProps<Field extends string> {
  /** What can stand in a column, and what it is called. */
  fields: readonly (readonly [Field, string])[];
  /** What each column of the sheet is called. */
  heads: readonly string[];
  /** In which column each stands, from 0; −1 for none. */
  columns: Record<Field, number>;
  onChange(columns: Record<Field, number>): void;
}

/** Which column of a sheet holds what. */
export function ColumnChoices<Field extends string>({ fields, heads, columns, onChange }: ColumnChoicesProps<Field>) {
  const options = [{ value: NO_COLUMN, label: 'none' }, ...heads.map((label, value) => ({ value, label }))];
  return (
    <div className={styles.columns}>
      {fields.map(([field, name]) => (
        <label key={field}>
          <span>{name}</span>
          <Select
            value={columns[field]}
            options={options}
            aria-label={`Column of: ${name}`}
            onChange={(index) => onChange({ ...columns, [field]: index })}
          />
        </label>
      ))}
    </div>
  );
}
