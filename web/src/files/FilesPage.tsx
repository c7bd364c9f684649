import { Skeleton } from 'antd';
import { Link } from 'react-router';
import { librarySentence, newestVersionText, sentText, viewsText } from '@kiraku/core/sentences';
import type { FileView } from '@kiraku/core/contract';
import { useNow } from '../shared/hooks/useNow.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { Nothing } from '../shared/ui/Nothing.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { ChooseFiles } from './ChooseFiles.js';
import { UploadList } from './UploadList.js';
import { useLibrary } from './useLibrary.js';
import { useUploads } from './useUploads.js';
import fileRowsStyles from '../shared/ui/fileRows.module.css';
import pageStyles from '../shared/ui/page.module.css';
import styles from './files.module.css';

/** The library: every file that was sent, or is to be. */
export default function FilesPage() {
  usePageTitle('Files');
  const { data, error, isLoading, refetch } = useLibrary();
  const { uploads, begin, tryAgain, cancel } = useUploads(() => undefined);
  return (
    <div
      className={styles.files}
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        for (const file of event.dataTransfer.files) void begin(file);
      }}
    >
      <div className={styles.head}>
        <h1>Files</h1>
        <ChooseFiles multiple onChoose={(file) => void begin(file)}>
          Add files
        </ChooseFiles>
      </div>
      {data && data.length > 0 && <p className={pageStyles.sentence}>{librarySentence(data)}</p>}
      <UploadList uploads={uploads} onTryAgain={tryAgain} onCancel={cancel} />
      {isLoading && <Skeleton active title={false} paragraph={{ rows: 6 }} />}
      {error && <LoadFailed error={error} retry={() => void refetch()} />}
      {data?.length === 0 && uploads.length === 0 && (
        <Nothing title="No file yet">
          <p>Send a file as a link, and see who read it, page by page. Add one here, or drop it on a message.</p>
        </Nothing>
      )}
      <ul className={styles.fileList} aria-label="All files">
        {data?.map((file) => (
          <FileRow key={file.id} file={file} />
        ))}
      </ul>
    </div>
  );
}

function FileRow({ file }: { file: FileView }) {
  const now = useNow();
  const { id, name, versions, messages, views } = file;
  const isDownloadOnly = versions[0]?.preparation === 'download-only';
  return (
    <li data-row>
      <Link to={`/files/${id}`} className={fileRowsStyles.fileName}>
        {name}
      </Link>
      <span className="soft">{newestVersionText(file)}</span>
      <span className={isDownloadOnly ? 'tone-needs-you' : 'soft'}>
        {isDownloadOnly ? 'Download only' : sentText(messages)}
      </span>
      <span className={views === 0 ? 'soft' : undefined}>{viewsText(file, now)}</span>
    </li>
  );
}
