import { Alert, Button, Progress, Upload } from 'antd';
import { useState } from 'react';
import { problemOf } from '../shared/api/api.js';
import { useAddHistoryFileMutation, useDoWithHistoryMutation } from '../shared/api/historyApi.js';
import { useMailboxQuery } from '../shared/api/mailboxApi.js';
import settingsStyles from '../shared/ui/settings.module.css';

/** Of a large file: each comes in some minutes also over a slow line. */
const PIECE_BYTES = 16 * 2 ** 20;

/** Where earlier mail comes from: files of this computer, or the mailbox. */
export function ChooseMail({ problem }: { problem: string | null }) {
  const [act, { error }] = useDoWithHistoryMutation();
  const { uploaded, failed, upload } = useUploads(() => void act('look'));
  const { data: mailbox } = useMailboxQuery(null);
  const said = failed ?? (error && problemOf(error).detail) ?? problem;
  if (uploaded !== null) return <Uploading done={uploaded} />;
  const chooses = {
    showUploadList: false,
    beforeUpload: (file: File, files: File[]) => {
      if (file === files[0]) void upload(files);
      return false;
    },
  };
  return (
    <>
      {said && <Alert type="warning" showIcon title={said} role="alert" />}
      <div className={settingsStyles.buttons}>
        <Upload {...chooses} multiple accept=".mbox,.mbx,.eml,message/rfc822,application/mbox">
          <Button>Choose files</Button>
        </Upload>
        <Upload {...chooses} directory>
          <Button>Choose a folder</Button>
        </Upload>
        {mailbox?.way === 'imap' && <Button onClick={() => void act('mailbox')}>Fetch from your mailbox</Button>}
      </div>
      <p className="soft">
        An export of your folder of sent mail (mbox), or single messages (.eml).
        {mailbox?.way === 'imap' && ' From your mailbox, only the folder of sent mail is read; nothing in it changes.'}
      </p>
    </>
  );
}

/** @param done from 0 to 1 */
function Uploading({ done }: { done: number }) {
  return (
    <>
      <p role="status">Reading your files: {Math.floor(done * 100)}%</p>
      <Progress percent={Math.floor(done * 100)} showInfo={false} aria-label="How much is done" />
    </>
  );
}

/** Uploads files one after the other; `then` is called when all are there. */
function useUploads(then: () => void) {
  const [add] = useAddHistoryFileMutation();
  const [uploaded, setUploaded] = useState<number | null>(null);
  const [failed, setFailed] = useState<string | null>(null);
  const upload = async (files: readonly File[]) => {
    setFailed(null);
    const [first] = files;
    const name = files.length === 1 ? first!.name : first!.webkitRelativePath.split('/')[0] || `${files.length} files`;
    const all = files.reduce((sum, { size }) => sum + size, 0);
    let done = 0;
    for (const file of files)
      for (let from = 0; from === 0 || from < file.size; from += PIECE_BYTES) {
        setUploaded(all === 0 ? 0 : done / all);
        const piece = file.slice(from, from + PIECE_BYTES);
        const { error } = await add({ name, file: piece, isMore: from > 0 });
        done += piece.size;
        if (!error) continue;
        setUploaded(null);
        return setFailed(problemOf(error).detail);
      }
    then();
    setUploaded(null);
  };
  return { uploaded, failed, upload };
}
