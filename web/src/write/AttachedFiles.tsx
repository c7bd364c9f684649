import { CloseOutlined } from '@ant-design/icons';
import { Button } from 'antd';
import type { DraftFile } from '@kiraku/core/contract';
import { isLinked } from '@kiraku/core/files';
import { SECOND } from '@kiraku/core/time';
import { fileStateWords, isUnderway } from '../files/fileStateWords.js';
import { useFilesQuery } from '../files/filesApi.js';
import '../files/files.css';

interface Props {
  files: readonly DraftFile[];
  onTakeOff(fileId: number): void;
}

/** What travels with the letter, below it. */
export function AttachedFiles({ files, onTakeOff }: Props) {
  const { data: library = [] } = useFilesQuery(null, { skip: files.length === 0 });
  const own = files.map((one) => ({ ...one, file: library.find(({ id }) => id === one.fileId) }));
  const underway = own.some(({ file }) => file && isUnderway(file.versions[0]!));
  useFilesQuery(null, { skip: !underway, pollingInterval: SECOND });
  if (files.length === 0) return null;
  return (
    <ul className="file-rows" aria-label="Files of this letter">
      {own.map(({ fileId, file, ...one }) => (
        <li key={fileId}>
          <span className="file-name">{file?.name ?? 'A file that was thrown away'}</span>
          <span className="soft">{file && fileStateWords(file.versions[0]!)}</span>
          <span className="soft">{isLinked(one) ? 'as a link that tells' : 'in the mail itself'}</span>
          <span className="file-deeds">
            <Button
              size="small"
              type="text"
              icon={<CloseOutlined />}
              aria-label={`Take ${file?.name ?? 'it'} off`}
              onClick={() => onTakeOff(fileId)}
            />
          </span>
        </li>
      ))}
    </ul>
  );
}
