import { Button, DatePicker, Popover } from 'antd';
import dayjs from 'dayjs';
import { Link } from 'react-router';
import type { MessageDetail, SentFile, SentFileChange } from '@kiraku/core/contract';
import { fileWords } from '@kiraku/core/files';
import { dateWords } from '@kiraku/core/time';
import { useNow } from '../app/useNow.js';
import { SwitchLine } from '../ui/SwitchLine.js';
import { fieldPatterns } from '../ui/timeFormat.js';
import { useChangeSentFileMutation, useMessageReadingsQuery } from './filesApi.js';
import { PageStrip } from './PageStrip.js';
import { Readings } from './Readings.js';
import './files.css';

/** What viewing only is worth. */
const NO_LOCK = 'Without it there is no download button. Anybody who can see a page can still copy it.';

/** The files of a message in its margin: who read which page, and what holds for their links. */
export default function SentFiles({ detail: { files, summary } }: { detail: MessageDetail }) {
  const { data } = useMessageReadingsQuery(summary.id);
  return files.map((file) => {
    const own = (data?.readings ?? []).filter((reading) => reading.sentFileId === file.id);
    return (
      <section key={file.id} className="sent-file" aria-label={file.name}>
        <h2>
          <Link to={`/files/${file.fileId}`}>{file.name}</Link>
        </h2>
        <p className="soft">{[fileWords(file.version), ...rules(file)].join('. ')}.</p>
        {file.version.pages !== null && own.length > 0 && <PageStrip version={file.version} readings={own} />}
        {own.length === 0 ? <p>Not opened yet.</p> : <Readings readings={own} pages={file.version.pages} />}
        <Popover trigger="click" placement="bottomLeft" content={<Rules file={file} />} title="Link settings">
          <Button size="small" className="no-print">
            {file.closedAt === null ? 'Change the link' : 'The link is switched off'}
          </Button>
        </Popover>
      </section>
    );
  });
}

function rules({ mayDownload, endsAt, closedAt, asksAddress, followsNewest, version }: SentFile): string[] {
  const now = Date.now();
  const parts = [
    closedAt !== null && 'Switched off',
    !mayDownload && 'View only',
    endsAt !== null && `${endsAt > now ? 'Until' : 'Ended on'} ${dateWords(endsAt, now)}`,
    asksAddress && 'Asks for an email address',
    followsNewest && `Shows the newest version, now ${version.number}`,
  ];
  return parts.filter((part) => part !== false);
}

/** What can be changed at once, also while somebody reads. */
function Rules({ file }: { file: SentFile }) {
  const now = useNow();
  const [change] = useChangeSentFileMutation();
  const set = (part: SentFileChange) => void change({ id: file.id, messageId: file.messageId, ...part });
  return (
    <div className="file-rules">
      <SwitchLine words="Can be seen" checked={file.closedAt === null} onChange={(open) => set({ closed: !open })} />
      <SwitchLine words="Allow download" checked={file.mayDownload} onChange={(mayDownload) => set({ mayDownload })} />
      <p className="soft">{NO_LOCK}</p>
      <SwitchLine
        words="Ask for an email address first"
        checked={file.asksAddress}
        onChange={(asksAddress) => set({ asksAddress })}
      />
      <SwitchLine
        words="Shows the newest version"
        checked={file.followsNewest}
        onChange={(followsNewest) => set({ followsNewest })}
      />
      <label>
        Until
        <DatePicker
          format={fieldPatterns().date}
          size="small"
          value={file.endsAt === null ? null : dayjs(file.endsAt)}
          minDate={dayjs(now)}
          placeholder="for ever"
          onChange={(day) => set({ endsAt: day === null ? null : day.endOf('day').valueOf() })}
        />
      </label>
    </div>
  );
}
