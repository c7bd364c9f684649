import { Alert, Button } from 'antd';
import { useEffect, useState } from 'react';
import { useSearchParams } from 'react-router';
import { sharedFilesText } from '@kiraku/core/sentences';
import { takeShared } from './shared.js';
import styles from './write.module.css';

/**
 * Offers to attach what another program has shared, where it led here. It asks, since any page of the web can send a browser
 * here with files of its own.
 */
export function SharedFiles({ onAttach }: { onAttach(file: File): void }) {
  const [params] = useSearchParams();
  const isShared = params.has('shared');
  const [files, setFiles] = useState<File[]>([]);
  useEffect(() => {
    if (isShared) void takeShared().then(setFiles);
  }, [isShared]);
  if (files.length === 0) return null;
  const attach = () => {
    files.forEach(onAttach);
    setFiles([]);
  };
  return (
    <Alert
      type="info"
      title={sharedFilesText(files.map(({ name }) => name))}
      action={
        <div className={styles.shared}>
          <Button type="primary" onClick={attach}>
            Attach
          </Button>
          <Button onClick={() => setFiles([])}>Discard</Button>
        </div>
      }
    />
  );
}
