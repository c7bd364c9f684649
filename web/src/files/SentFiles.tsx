import { Button, DatePicker, Popover } from 'antd';
import dayjs from 'dayjs';
import { Link } from 'react-router';
import type { MessageDetail, SentFile, SentFileChange } from '@kiraku/core/contract';
import { readingsText, sentFileSentence } from '@kiraku/core/sentences';
import { useNow } from '../shared/hooks/useNow.js';
import { SwitchLine } from '../shared/ui/SwitchLine.js';
import { fieldPatterns } from '../shared/time/timeFormat.js';
import { useChangeSentFileMutation, useMessageReadingsQuery } from '../shared/api/filesApi.js';
import { PageStrip } from './PageStrip.js';
import { Readings } from './Readings.js';
import styles from './files.module.css';

/** What viewing only is worth. */
const NO_LOCK = 'Without it there is no download button. Anybody who can see a page can still copy it.';

/** The files of a message in its margin: who read which page, and what holds for their links. */
export default function SentFiles({ detail: { files, summary } }: { detail: MessageDetail }) {
  const { data } = useMessageReadingsQuery(summary.id);
  const now = useNow();
  return files.map((file) => {
    const own = (data?.readings ?? []).filter((reading) => reading.sentFileId === file.id);
    return (
      <section key={file.id} className={styles.sentFile} aria-label={file.name}>
        <h2>
          <Link to={`/files/${file.fileId}`}>{file.name}</Link>
        </h2>
        <p className="soft">{sentFileSentence(file, now)}</p>
        {/* Above what grows while somebody reads: it stays where it is pressed. */}
        <Popover trigger="click" placement="bottomLeft" content={<Rules file={file} />} title="Link settings">
          <Button size="small" className="no-print">
            {file.closedAt === null ? 'Change the link' : 'The link is switched off'}
          </Button>
        </Popover>
        {file.version.pages !== null && own.length > 0 && <PageStrip version={file.version} readings={own} isNarrow />}
        {own.length === 0 ? (
          <p>Not opened yet.</p>
        ) : (
          <details className={styles.eachReading}>
            <summary>{readingsText(own)}</summary>
            <Readings readings={own} pages={file.version.pages} />
          </details>
        )}
      </section>
    );
  });
}

/** What can be changed at once, also while somebody reads. */
function Rules({ file }: { file: SentFile }) {
  const now = useNow();
  const [change] = useChangeSentFileMutation();
  const set = (part: SentFileChange) => void change({ id: file.id, messageId: file.messageId, ...part });
  return (
    <div className={styles.fileRules}>
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
