import { Alert, Modal } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import {
  type ImportReport,
  type SheetFormat,
  PERSON_FIELDS,
  type Columns,
  type PersonField,
} from '@kiraku/core/contract';
import { IMPORT_TEXTS, importSentence } from '@kiraku/core/sentences';
import { counted } from '@kiraku/core/time';
import { problemOf } from '../shared/api/api.js';
import { useUndo } from '../shared/hooks/useUndo.js';
import { useImportPeopleMutation, useUndoImportMutation } from '../shared/api/peopleApi.js';
import { ChooseSheet, ColumnChoices } from '../shared/ui/ChooseSheet.js';
import styles from './people.module.css';

const FIELD_NAMES: Record<PersonField, string> = {
  name: 'Name',
  address: 'Address',
  company: 'Company',
  phone: 'Phone',
  zone: 'Time zone',
  note: 'Note',
  tags: 'Tags',
  doNotTrack: 'Do not track',
};
const FIELDS = PERSON_FIELDS.map((field) => [field, FIELD_NAMES[field]] as const);

interface File {
  name: string;
  format: SheetFormat;
  text: string;
}

/** Imports people from a file: shows what would become of each, which column holds what, and then does it. */
export default function ImportPeople({ close }: { close(): void }) {
  const [file, setFile] = useState<File | null>(null);
  const [importPeople, { data: report, error, isLoading }] = useImportPeopleMutation();
  const [undoImport] = useUndoImportMutation();
  const offerUndo = useUndo();

  const preview = ({ format, text }: File, columns: Columns | null) =>
    void importPeople({ format, text, columns, apply: false });

  const choose = ({ name, text }: { name: string; text: string }) => {
    const format = /\.(vcf|vcard)$/i.test(name) ? 'vcard' : 'csv';
    const next: File = { name, format, text };
    setFile(next);
    preview(next, null);
  };

  const apply = async () => {
    const { format, text } = file!;
    const columns = format === 'csv' ? report!.columns : null;
    const done = await importPeople({ format, text, columns, apply: true }).unwrap();
    offerUndo({
      key: 'imported',
      title: importSentence(done),
      undo: () => void undoImport(null),
    });
    close();
  };

  const toDo = report ? report.counts.new + report.counts.change : 0;
  return (
    <Modal
      open
      title="Import people"
      width={760}
      onCancel={close}
      okText={toDo === 0 ? 'Nothing to import' : `Import ${counted(toDo, 'person', 'people')}`}
      okButtonProps={{ disabled: toDo === 0, loading: isLoading }}
      onOk={() => void apply()}
    >
      <p className="soft">
        From a sheet (CSV) or contact cards (vCard). You see what would change before it does, and you can undo it. Whom
        you wrote to before, your <Link to="/settings/earlier-mail">earlier mail</Link> knows.
      </p>
      <ChooseSheet accept=".csv,.tsv,.txt,.vcf,.vcard,text/csv,text/vcard" name={file?.name} onChoose={choose} />
      {error && <Alert type="warning" showIcon title={problemOf(error).detail} role="alert" />}
      {report && report.heads.length > 0 && <Mapping report={report} onChange={(columns) => preview(file!, columns)} />}
      {report && <Outcome report={report} />}
    </Modal>
  );
}

/** Which column of the sheet holds what, with what stands in its first row. */
function Mapping({ report, onChange }: { report: ImportReport; onChange(columns: Columns): void }) {
  const { heads, sample, columns } = report;
  return (
    <ColumnChoices
      fields={FIELDS}
      heads={heads.map((head, index) => `${head || `Column ${index + 1}`}: ${sample[index] ?? ''}`)}
      columns={columns}
      onChange={onChange}
    />
  );
}

function Outcome({ report }: { report: ImportReport }) {
  return (
    <>
      <p role="status">{importSentence(report)}</p>
      <ul className={styles.importRows}>
        {report.rows.map(({ entry, action, name, address, problem }) => (
          <li key={entry}>
            <span className="figures soft">{entry}</span>
            <span>
              {name} <span className="soft">{address}</span>
            </span>
            <span className={problem ? 'tone-needs-you' : 'soft'}>{problem ?? IMPORT_TEXTS[action]}</span>
          </li>
        ))}
      </ul>
    </>
  );
}
