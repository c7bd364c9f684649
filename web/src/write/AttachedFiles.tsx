import { CloseOutlined } from '@ant-design/icons';
import { Button } from 'antd';
import type { DraftFile } from '@kiraku/core/contract';
import { isLinked } from '@kiraku/core/files';
import { fileStateWords } from '../files/fileStateWords.js';
import { useLibrary } from '../files/useLibrary.js';
import '../files/files.css';

interface Props {
  files: readonly DraftFile[];
  onTakeOff(fileId: number): void;
}

/** What travels with the letter, below it. The library need not be known where nothing does. */
export function AttachedFiles(props: Props) {
  return props.files.length === 0 ? null : <Rows {...props} />;
}

function Rows({ files, onTakeOff }: Props) {
  const { data: library = [] } = useLibrary();
  const own = files.map((one) => ({ ...one, file: library.find(({ id }) => id === one.fileId) }));
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
