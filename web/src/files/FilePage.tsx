import { Button, Segmented, Skeleton, Typography } from 'antd';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { fileSentence, fileStateText, isUnderway, olderReadingsSentence, fileUseText } from '@kiraku/core/sentences';
import type { FileReading, FileVersion, FileView } from '@kiraku/core/contract';
import { SECOND } from '@kiraku/core/time';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { Nothing } from '../shared/ui/Nothing.js';
import { useUndo } from '../shared/hooks/useUndo.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { When } from '../shared/ui/When.js';
import {
  contentUrl,
  useFileQuery,
  useFileReadingsQuery,
  useFileUsesQuery,
  useRemoveFileMutation,
  useRenameFileMutation,
  useRestoreFileMutation,
} from '../shared/api/filesApi.js';
import { ChooseFiles } from './ChooseFiles.js';
import { PageMatrix, type By } from './PageMatrix.js';
import { PageStrip } from './PageStrip.js';
import { Readings } from './Readings.js';
import { UploadList } from './UploadList.js';
import { useUploads } from './useUploads.js';
import pageStyles from '../shared/ui/page.module.css';
import styles from './files.module.css';

/** One file: its versions, and who read it. */
export default function FilePage() {
  const id = Number(useParams()['id']);
  const { data: file, error, isLoading, refetch } = useFileQuery(id);
  const { data } = useFileReadingsQuery(id);
  useFileQuery(id, { pollingInterval: file && isUnderway(file.versions[0]!) ? SECOND : 0 });
  usePageTitle(file?.name ?? '');
  if (isLoading) return <Skeleton active title={false} paragraph={{ rows: 8 }} />;
  if (!file) return error ? <LoadFailed error={error} retry={() => void refetch()} /> : null;
  return (
    <div className={pageStyles.messageAndMargin}>
      <section className={`${pageStyles.sheet} ${styles.fileSheet}`} aria-label="Pages">
        <Known file={file} readings={data?.readings ?? []} leftOut={data?.leftOut ?? 0} />
      </section>
      <aside className={pageStyles.margin} aria-label="The file">
        <About file={file} />
      </aside>
    </div>
  );
}

type View = 'pages' | By;
const VIEWS: { value: View; label: string }[] = [
  { value: 'pages', label: 'By page' },
  { value: 'recipient', label: 'By reader' },
  { value: 'version', label: 'By version' },
];

function Known({ file, readings, leftOut }: { file: FileView; readings: readonly FileReading[]; leftOut: number }) {
  const [view, setView] = useState<View>('pages');
  const [number, setNumber] = useState(file.versions[0]!.number);
  const version = file.versions.find((one) => one.number === number) ?? file.versions[0]!;
  const counting = readings.filter((reading) => reading.counted);
  const most = Math.max(...file.versions.map(({ pages }) => pages ?? 0));
  return (
    <>
      <h1>{file.name}</h1>
      <p className={pageStyles.sentence}>{fileSentence(file, counting)}</p>
      <div className={styles.fileViews}>
        {most > 0 && readings.length > 0 && (
          <Segmented value={view} options={VIEWS} onChange={setView} aria-label="View of the readings" />
        )}
        {file.versions.length > 1 && view === 'pages' && (
          <Segmented
            value={number}
            options={file.versions.toReversed().map((one) => ({ value: one.number, label: `Version ${one.number}` }))}
            onChange={setNumber}
            aria-label="Which version"
          />
        )}
      </div>
      {version.kind === 'picture' && (
        <img className={styles.filePicture} src={contentUrl(version.id)} alt={file.name} />
      )}
      {version.kind === 'video' && (
        <video className={styles.filePicture} src={contentUrl(version.id)} controls preload="metadata" />
      )}
      {most > 0 && view === 'pages' && <PageStrip version={version} readings={readings} />}
      {most > 0 && view !== 'pages' && <PageMatrix readings={counting} pages={most} by={view} />}
      {readings.length > 0 ? (
        <>
          <h2>Who read it</h2>
          <Readings readings={readings} pages={version.pages} withMessage />
          {leftOut > 0 && <p className="soft">{olderReadingsSentence(leftOut)}</p>}
        </>
      ) : (
        <Nothing title={file.messages === 0 ? 'Not sent yet' : 'Nobody has read it yet'}>
          <p>Send it as a link, and see here who reads which page and for how long.</p>
        </Nothing>
      )}
    </>
  );
}

function About({ file }: { file: FileView }) {
  const [rename] = useRenameFileMutation();
  const [remove] = useRemoveFileMutation();
  const [restore] = useRestoreFileMutation();
  const { uploads, begin, tryAgain, cancel } = useUploads(() => undefined, file.id);
  const offerUndo = useUndo();
  const navigate = useNavigate();

  async function deleteFile(): Promise<void> {
    await remove(file.id).unwrap();
    offerUndo({
      key: `file ${file.id}`,
      title: 'Deleted',
      description: `${file.name}. Links you sent still work.`,
      button: 'Restore',
      undo: () => void restore(file.id),
    });
    void navigate('/files');
  }

  return (
    <>
      <h2>The file</h2>
      <Typography.Text
        editable={{ onChange: (name) => name.trim() !== '' && void rename({ id: file.id, name }), maxLength: 120 }}
      >
        {file.name}
      </Typography.Text>
      <Uses fileId={file.id} />
      <h2>Versions</h2>
      <ul className={styles.versions}>
        {file.versions.map((version) => (
          <Version key={version.id} version={version} />
        ))}
      </ul>
      <UploadList uploads={uploads} onTryAgain={tryAgain} onCancel={cancel} />
      <div className={styles.fileWays}>
        <ChooseFiles onChoose={(file) => void begin(file)}>Add a new version</ChooseFiles>
        <Button type="text" onClick={() => void deleteFile()}>
          Delete
        </Button>
      </div>
      <p className="soft">Links set to the newest version show it from now on. Other links keep their version.</p>
    </>
  );
}

/** Where it was sent, and what became of it there. */
function Uses({ fileId }: { fileId: number }) {
  const { data: uses = [] } = useFileUsesQuery(fileId);
  if (uses.length === 0) return null;
  return (
    <>
      <h2>Where it was sent</h2>
      <ul className={styles.versions}>
        {uses.map((use) => (
          <li key={use.id}>
            <p>
              <Link to={`/sent/${use.messageId}`}>{use.subject || 'A message without subject'}</Link>
            </p>
            <p className="soft">{fileUseText(use)}</p>
          </li>
        ))}
      </ul>
    </>
  );
}

function Version({ version }: { version: FileVersion }) {
  return (
    <li>
      <p>
        <b>{`Version ${version.number}`}</b> <When at={version.addedAt} />{' '}
        <a href={`${contentUrl(version.id)}?save`}>Download</a>
      </p>
      <p className="soft">{fileStateText(version)}</p>
      {version.problem !== null && <p className="tone-needs-you">{version.problem}.</p>}
    </li>
  );
}
