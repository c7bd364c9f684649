import { CloseOutlined } from '@ant-design/icons';
import { Button } from 'antd';
import type { DraftFile } from '@kiraku/core/contract';
import { isLinked } from '@kiraku/core/files';
import { fileStateText } from '@kiraku/core/sentences';
import { useLibrary } from '../files/useLibrary.js';
import fileRowsStyles from '../shared/ui/fileRows.module.css';

interface Props {
  files: readonly DraftFile[];
  onTakeOff(fileId: number): void;
}

/** What travels with the message, below it. The library need not be known where nothing does. */
export function AttachedFiles(props: Props) {
  return props.files.length === 0 ? null : <Rows {...props} />;
}

function Rows({ files, onTakeOff }: Props) {
  const { data: library = [] } = useLibrary();
  const own = files.map((one) => ({ ...one, file: library.find(({ id }) => id === one.fileId) }));
  return (
    <ul className={fileRowsStyles.fileRows} aria-label="Attached files">
      {own.map(({ fileId, file, ...one }) => (
        <li key={fileId}>
          <span className={fileRowsStyles.fileName}>{file?.name ?? 'A deleted file'}</span>
          <span className="soft">{file && fileStateText(file.versions[0]!, file.percent)}</span>
          <span className="soft">{isLinked(one) ? 'as a tracked link' : 'as an attachment'}</span>
          <span className={fileRowsStyles.fileActions}>
            <Button
              size="small"
              type="text"
              icon={<CloseOutlined />}
              aria-label={`Remove ${file?.name ?? 'it'}`}
              onClick={() => onTakeOff(fileId)}
            />
          </span>
        </li>
      ))}
    </ul>
  );
}
