import { Button, Modal, Skeleton, Tabs } from 'antd';
import { useState } from 'react';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { usePreviewQuery } from '../shared/api/draftsApi.js';
import { PreviewFrame } from './PreviewFrame.js';
import styles from './write.module.css';

interface Saved {
  id: number;
  revision: number;
}

/** Shows the message as its recipients will: on a wide screen, on a phone, as plain text, and its source. */
export function PreviewButton({ disabled, save }: { disabled: boolean; save(): Promise<Saved | null> }) {
  const [shown, setShown] = useState<Saved | null>(null);
  return (
    <>
      <Button size="large" disabled={disabled} onClick={async () => setShown(await save())}>
        Preview
      </Button>
      <Modal
        open={shown !== null}
        onCancel={() => setShown(null)}
        footer={null}
        width={900}
        title="Preview"
        destroyOnHidden
      >
        {shown && <Views saved={shown} />}
      </Modal>
    </>
  );
}

function Views({ saved }: { saved: Saved }) {
  const { data, error, refetch } = usePreviewQuery(saved, { refetchOnMountOrArgChange: true });
  if (error) return <LoadFailed error={error} retry={() => void refetch()} />;
  if (!data) return <Skeleton active title={false} />;
  return (
    <Tabs
      items={[
        { key: 'wide', label: 'Computer', children: <PreviewFrame html={data.html} width="100%" /> },
        { key: 'phone', label: 'Phone', children: <PreviewFrame html={data.html} width={360} /> },
        { key: 'text', label: 'Plain text', children: <pre className={styles.previewText}>{data.text}</pre> },
        { key: 'source', label: 'Source', children: <pre className={styles.previewText}>{data.source}</pre> },
      ]}
    />
  );
}
