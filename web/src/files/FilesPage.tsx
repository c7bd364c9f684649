import { Skeleton } from 'antd';
import { Link } from 'react-router';
import { fileStateText, times } from '@kiraku/core/sentences';
import type { FileView } from '@kiraku/core/contract';
import { sizeWords } from '@kiraku/core/files';
import { capital, counted, whenWords } from '@kiraku/core/time';
import { useNow } from '../app/useNow.js';
import { LoadFailed } from '../ui/LoadFailed.js';
import { Nothing } from '../ui/Nothing.js';
import { usePageTitle } from '../ui/usePageTitle.js';
import { ChooseFiles } from './ChooseFiles.js';
import { UploadList } from './UploadList.js';
import { useLibrary } from './useLibrary.js';
import { useUploads } from './useUploads.js';
import './files.css';

/** The library: every file that was sent, or is to be. */
export default function FilesPage() {
  usePageTitle('Files');
  const { data, error, isLoading, refetch } = useLibrary();
  const { uploads, begin, tryAgain, cancel } = useUploads(() => undefined);
  return (
    <div
      className="files"
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        for (const file of event.dataTransfer.files) void begin(file);
      }}
    >
      <div className="files-head">
        <h1>Files</h1>
        <ChooseFiles multiple onChoose={(file) => void begin(file)}>
          Add files
        </ChooseFiles>
      </div>
      {data && data.length > 0 && (
        <p className="page-sentence">
          {counted(data.length, 'file')} with {sizeWords(bytesOf(data))} in all versions, newest first. Drop files here
          to add them.
        </p>
      )}
      <UploadList uploads={uploads} onTryAgain={tryAgain} onCancel={cancel} />
      {isLoading && <Skeleton active title={false} paragraph={{ rows: 6 }} />}
      {error && <LoadFailed error={error} retry={() => void refetch()} />}
      {data?.length === 0 && uploads.length === 0 && (
        <Nothing title="No file yet">
          <p>Send a file as a link, and see who read it, page by page. Add one here, or drop it on a message.</p>
        </Nothing>
      )}
      <ul className="file-list" aria-label="All files">
        {data?.map((file) => (
          <FileRow key={file.id} file={file} />
        ))}
      </ul>
    </div>
  );
}

function bytesOf(files: readonly FileView[]): number {
  return files.flatMap(({ versions }) => versions).reduce((sum, { size }) => sum + size, 0);
}

function FileRow({ file: { id, name, versions, messages, views, lastViewAt } }: { file: FileView }) {
  const now = useNow();
  const [newest] = versions;
  return (
    <li>
      <Link to={`/files/${id}`} className="file-name">
        {name}
      </Link>
      <span className="soft">
        {newest && fileStateText(newest)}
        {versions.length > 1 && `, version ${versions.length}`}
      </span>
      <span className={newest?.preparation === 'download-only' ? 'tone-needs-you' : 'soft'}>
        {newest?.preparation === 'download-only'
          ? 'Download only'
          : messages === 0
            ? 'Not sent yet'
            : capital(times('sent', messages))}
      </span>
      <span>
        {views === 0
          ? messages > 0 && <span className="soft">Not viewed yet</span>
          : `${capital(times('viewed', views))}, last ${whenWords(lastViewAt!, now)}`}
      </span>
    </li>
  );
}
