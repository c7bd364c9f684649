import { Button, Select, Skeleton } from 'antd';
import { lazy, Suspense } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { FILE_ORDER_TEXTS, librarySentence, newestVersionText, sentText, viewsText } from '@kiraku/core/sentences';
import type { FileView } from '@kiraku/core/contract';
import { FILE_ORDERS, foundFiles } from '@kiraku/core/files';
import { useNow } from '../shared/hooks/useNow.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { SearchField } from '../shared/ui/SearchField.js';
import { contentUrl } from '../shared/api/filesApi.js';
import { Nothing } from '../shared/ui/Nothing.js';
import { ToMessages } from '../shared/ui/ToMessages.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { ChooseFiles } from './ChooseFiles.js';
import { UploadList } from './UploadList.js';
import { useLibrary } from './useLibrary.js';
import { useUploads } from './useUploads.js';
import fileRowsStyles from '../shared/ui/fileRows.module.css';
import pageStyles from '../shared/ui/page.module.css';
import styles from './files.module.css';

// With what draws pages.
const Thumbnail = lazy(() => import('./Thumbnail.js'));

/** The library: every file that was sent, or is to be. */
export default function FilesPage() {
  usePageTitle('Files');
  const { data, error, isLoading, refetch } = useLibrary();
  const { uploads, begin, tryAgain, cancel } = useUploads(() => undefined);
  const [params, setParams] = useSearchParams();
  const words = params.get('words') ?? '';
  const order = FILE_ORDERS.find((one) => one === params.get('order')) ?? 'added';
  const shown = foundFiles(data ?? [], words, order);
  const change = (part: Record<string, string>) =>
    setParams(
      Object.entries({ words, order, ...part }).filter(([, value]) => value !== '' && value !== 'added'),
      { replace: true },
    );
  return (
    <div
      className={styles.files}
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        for (const file of event.dataTransfer.files) void begin(file);
      }}
    >
      <div className={pageStyles.listHead}>
        <h1>Files</h1>
        {data && data.length > 0 && (
          <>
            <SearchField words={words} placeholder="Search names" onChange={(next) => change({ words: next })} />
            <Select
              value={order}
              aria-label="Sorted by"
              options={FILE_ORDERS.map((value) => ({ value, label: FILE_ORDER_TEXTS[value] }))}
              onChange={(next) => change({ order: next })}
              popupMatchSelectWidth={false}
            />
          </>
        )}
        <ChooseFiles multiple onChoose={(file) => void begin(file)}>
          Add files
        </ChooseFiles>
      </div>
      {data && data.length > 0 && <p className={pageStyles.sentence}>{librarySentence(data, shown.length)}</p>}
      <UploadList uploads={uploads} onTryAgain={tryAgain} onCancel={cancel} />
      {isLoading && <Skeleton active title={false} paragraph={{ rows: 6 }} />}
      {error && <LoadFailed error={error} retry={() => void refetch()} />}
      {data?.length === 0 && uploads.length === 0 && (
        <Nothing title="No file yet">
          <p>Send a file as a link, and see who read it, page by page. Add one here, or drop it on a message.</p>
        </Nothing>
      )}
      <ul className={styles.fileList} aria-label="All files">
        {shown.map((file) => (
          <FileRow key={file.id} file={file} />
        ))}
      </ul>
    </div>
  );
}

function FileRow({ file }: { file: FileView }) {
  const now = useNow();
  const navigate = useNavigate();
  const { id, name, versions, messages, views } = file;
  const isDownloadOnly = versions[0]?.preparation === 'download-only';
  return (
    <li data-row>
      <FirstPage file={file} />
      <Link to={`/files/${id}`} className={fileRowsStyles.fileName}>
        {name}
      </Link>
      <span className="soft">{newestVersionText(file)}</span>
      <span className={isDownloadOnly ? 'tone-needs-you' : 'soft'}>
        {isDownloadOnly ? (
          'Download only'
        ) : (
          <ToMessages view={{ file: id }} count={messages}>
            {sentText(messages)}
          </ToMessages>
        )}
      </span>
      <span className={views === 0 ? 'soft' : undefined}>{viewsText(file, now)}</span>
      <Button
        href={`/write?file=${id}`}
        onClick={(event) => (event.preventDefault(), void navigate(`/write?file=${id}`))}
      >
        Send
      </Button>
    </li>
  );
}

/** The first page, or the picture itself, small; an empty place where there is none. */
function FirstPage({ file: { versions } }: { file: FileView }) {
  const [newest] = versions;
  if (newest?.kind === 'picture' && newest.preparation === 'ready')
    return <img src={contentUrl(newest.id)} alt="" loading="lazy" className={styles.firstPage} />;
  return (
    <span className={styles.firstPage}>
      {newest && newest.pages !== null && newest.preparation === 'ready' && (
        <Suspense>
          <Thumbnail versionId={newest.id} page={1} />
        </Suspense>
      )}
    </span>
  );
}
