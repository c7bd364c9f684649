import { Button, Progress } from 'antd';
import { sizeWords } from '@kiraku/core/files';
import type { Uploading } from './useUploads.js';
import fileRowsStyles from '../shared/ui/fileRows.module.css';

interface Props {
  uploads: readonly Uploading[];
  onTryAgain(key: number): void;
  onCancel(key: number): void;
}

/** Files on their way, each with how far it has come. */
export function UploadList({ uploads, onTryAgain, onCancel }: Props) {
  if (uploads.length === 0) return null;
  return (
    <ul className={fileRowsStyles.fileRows} aria-label="Uploading">
      {uploads.map(({ key, name, size, sent, problem }) => (
        <li key={key}>
          <span className={fileRowsStyles.fileName}>{name}</span>
          {problem === null ? (
            <>
              <Progress percent={size === 0 ? 100 : Math.floor((sent / size) * 100)} size="small" aria-label={name} />
              <span className="soft">{`${sizeWords(sent)} of ${sizeWords(size)}`}</span>
            </>
          ) : (
            <span className="tone-needs-you" role="alert">
              {problem}
            </span>
          )}
          <span className={fileRowsStyles.fileActions}>
            {problem !== null && (
              <Button size="small" onClick={() => onTryAgain(key)}>
                Try again
              </Button>
            )}
            <Button size="small" type="text" onClick={() => onCancel(key)}>
              Stop
            </Button>
          </span>
        </li>
      ))}
    </ul>
  );
}
