import { Alert, Modal, Select, Upload } from 'antd';
import { useState } from 'react';
import type { ImportAction, ImportReport, SheetFormat } from '@kiraku/core/contract';
import { PERSON_FIELDS, type Columns, type PersonField } from '@kiraku/core/people';
import { counted } from '@kiraku/core/time';
import { problemOf } from '../app/api.js';
import { useUndo } from '../ui/useUndo.js';
import { useBringPeopleMutation, useUndoBringingMutation } from './peopleApi.js';

const FIELDS: Record<PersonField, string> = {
  name: 'Name',
  address: 'Address',
  firm: 'Firm',
  phone: 'Phone',
  zone: 'Time zone',
  note: 'Note',
  doNotTrack: 'Not to be tracked',
};
const ACTIONS: Record<ImportAction, string> = {
  new: 'new',
  change: 'changed',
  same: 'as known already',
  refused: 'left out',
};
const MOST_BYTES = 5_000_000;
const NO_COLUMN = -1;

interface File {
  name: string;
  format: SheetFormat;
  text: string;
}

/** Brings people in from a file: shows what would become of each, which column holds what, and then does it. */
export default function BringPeople({ close }: { close(): void }) {
  const [file, setFile] = useState<File | null>(null);
  const [tooLarge, setTooLarge] = useState(false);
  const [bring, { data: report, error, isLoading }] = useBringPeopleMutation();
  const [undoBringing] = useUndoBringingMutation();
  const tell = useUndo();

  const look = ({ format, text }: File, columns: Columns | null) => void bring({ format, text, columns, apply: false });

  const choose = async (chosen: globalThis.File) => {
    setTooLarge(chosen.size > MOST_BYTES);
    if (chosen.size > MOST_BYTES) return;
    const format = /\.(vcf|vcard)$/i.test(chosen.name) ? 'vcard' : 'csv';
    const next: File = { name: chosen.name, format, text: await chosen.text() };
    setFile(next);
    look(next, null);
  };

  const apply = async () => {
    const { format, text } = file!;
    const columns = format === 'csv' ? report!.columns : null;
    const done = await bring({ format, text, columns, apply: true }).unwrap();
    tell({
      key: 'brought',
      title: wordsOf(done),
      undo: () => void undoBringing(null),
    });
    close();
  };

  const toDo = report ? report.counts.new + report.counts.change : 0;
  return (
    <Modal
      open
      title="Bring people in"
      width={760}
      onCancel={close}
      okText={toDo === 0 ? 'Nothing to bring in' : `Bring in ${counted(toDo, 'person', 'people')}`}
      okButtonProps={{ disabled: toDo === 0, loading: isLoading }}
      onOk={() => void apply()}
    >
      <p className="soft">
        From a sheet (CSV) or from cards (vCard). Nothing is changed before you have seen what would become of each, and
        all of it can be taken back.
      </p>
      <Upload.Dragger
        accept=".csv,.tsv,.txt,.vcf,.vcard,text/csv,text/vcard"
        showUploadList={false}
        beforeUpload={(chosen) => {
          void choose(chosen);
          return false;
        }}
      >
        {file ? file.name : 'Press to choose a file, or drop it here'}
      </Upload.Dragger>
      {tooLarge && <Alert type="warning" showIcon title="The file is larger than 5 MB: bring it in parts." />}
      {error && <Alert type="warning" showIcon title={problemOf(error).detail} role="alert" />}
      {report && report.heads.length > 0 && <Mapping report={report} onChange={(columns) => look(file!, columns)} />}
      {report && <Outcome report={report} />}
    </Modal>
  );
}

/** Which column of the sheet holds what. */
function Mapping({ report, onChange }: { report: ImportReport; onChange(columns: Columns): void }) {
  const { heads, sample, columns } = report;
  const options = [
    { value: NO_COLUMN, label: 'none' },
    ...heads.map((head, index) => ({
      value: index,
      label: `${head || `Column ${index + 1}`}: ${sample[index] ?? ''}`,
    })),
  ];
  return (
    <div className="bring-columns">
      {PERSON_FIELDS.map((field) => (
        <label key={field}>
          <span>{FIELDS[field]}</span>
          <Select
            value={columns[field]}
            options={options}
            aria-label={`Column of: ${FIELDS[field]}`}
            onChange={(index) => onChange({ ...columns, [field]: index })}
          />
        </label>
      ))}
    </div>
  );
}

function Outcome({ report }: { report: ImportReport }) {
  return (
    <>
      <p role="status">{wordsOf(report)}</p>
      <ul className="bring-rows">
        {report.rows.map(({ entry, action, name, address, problem }) => (
          <li key={entry}>
            <span className="figures soft">{entry}</span>
            <span>
              {name} <span className="soft">{address}</span>
            </span>
            <span className={problem ? 'tone-needs-you' : 'soft'}>{problem ?? ACTIONS[action]}</span>
          </li>
        ))}
      </ul>
    </>
  );
}

/** “3 new, 1 changed, 2 left out”. */
function wordsOf({ counts, applied }: ImportReport): string {
  const parts = (Object.keys(ACTIONS) as ImportAction[])
    .filter((action) => counts[action] > 0)
    .map((action) => `${counts[action]} ${ACTIONS[action]}`);
  if (parts.length === 0) return 'There is nobody in this file.';
  return applied ? `Brought in: ${parts.join(', ')}.` : `It would be ${parts.join(', ')}.`;
}
