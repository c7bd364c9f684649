import { PaperClipOutlined } from '@ant-design/icons';
import { Button, Popover } from 'antd';
import { useState } from 'react';
import type { FileView } from '@kiraku/core/contract';
import { fileStateText } from '@kiraku/core/sentences';
import { ChooseFiles } from '../files/ChooseFiles.js';
import { useFilesQuery } from '../shared/api/filesApi.js';
import { SearchField } from '../shared/ui/SearchField.js';
import styles from './write.module.css';

const MAX_FILES_SHOWN = 8;

interface Props {
  /** Numbers of those that travel already. */
  attached: readonly number[];
  onUpload(file: File): void;
  onChoose(file: FileView): void;
}

/** Files for the message: from this machine, or from the library. */
export function AttachButton({ attached, onUpload, onChoose }: Props) {
  const [open, setOpen] = useState(false);
  return (
    <Popover
      trigger="click"
      placement="bottomLeft"
      open={open}
      onOpenChange={setOpen}
      content={
        <div className={styles.attach}>
          <ChooseFiles
            multiple
            onChoose={(file) => {
              onUpload(file);
              setOpen(false);
            }}
          >
            From this computer …
          </ChooseFiles>
          <Library
            attached={attached}
            onChoose={(file) => {
              onChoose(file);
              setOpen(false);
            }}
          />
        </div>
      }
    >
      <Button type="text" size="small" icon={<PaperClipOutlined />}>
        Attach
      </Button>
    </Popover>
  );
}

function Library({ attached, onChoose }: Pick<Props, 'attached' | 'onChoose'>) {
  const { data: files = [] } = useFilesQuery(null);
  const [words, setWords] = useState('');
  const found = files.filter(
    ({ id, name }) => !attached.includes(id) && name.toLowerCase().includes(words.toLowerCase().trim()),
  );
  if (files.length === 0) return <p className="soft">Or drop it on the message.</p>;
  return (
    <>
      <SearchField words={words} onChange={setWords} placeholder="Or from the library" />
      <ul className={styles.attachLibrary}>
        {found.slice(0, MAX_FILES_SHOWN).map((file) => (
          <li key={file.id}>
            <Button type="link" onClick={() => onChoose(file)}>
              {file.name}
            </Button>
            <span className="soft">{fileStateText(file.versions[0]!, file.percent)}</span>
          </li>
        ))}
      </ul>
      {found.length === 0 && <p className="soft">None of that name.</p>}
    </>
  );
}
