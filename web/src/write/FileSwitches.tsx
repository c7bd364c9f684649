import { Segmented, Select } from 'antd';
import type { DraftFile, FileWay } from '@kiraku/core/contract';
import { FILE_LIMITS, isLinked, sizeWords } from '@kiraku/core/files';
import { useFilesQuery } from '../shared/api/filesApi.js';
import { SwitchLine } from '../shared/ui/SwitchLine.js';
import styles from './write.module.css';
import switchLineStyles from '../shared/ui/switchLine.module.css';
import switchRowStyles from '../shared/ui/switchRow.module.css';

/** What viewing only is worth. */
const NO_LOCK = 'Without it there is no download button. Anybody who can see a page can still copy it.';

interface Props {
  files: readonly DraftFile[];
  onChange(fileId: number, part: Partial<DraftFile>): void;
}

const WAYS: { value: FileWay; label: string }[] = [
  { value: 'link', label: 'Tracked link' },
  { value: 'attachment', label: 'Attachment, not tracked' },
];
const OPEN_FOR: { value: number; label: string }[] = [
  { value: 0, label: 'for ever' },
  { value: 7, label: 'for a week' },
  { value: 30, label: 'for a month' },
  { value: 90, label: 'for three months' },
];

/** What will be known of each file, and what holds for its link. */
export function FileSwitches({ files, onChange }: Props) {
  const { data: library = [] } = useFilesQuery(null, { skip: files.length === 0 });
  return files.map((one) => {
    const file = library.find(({ id }) => id === one.fileId);
    const newest = file?.versions[0];
    if (!file || !newest) return null;
    const set = (part: Partial<DraftFile>) => onChange(one.fileId, part);
    const isShown = newest.preparation !== 'download-only';
    return (
      <div
        key={one.fileId}
        className={`${switchRowStyles.switchRow} ${styles.fileSwitches}`}
        role="group"
        aria-label={file.name}
      >
        <span className={switchRowStyles.switchTitle}>{file.name}</span>
        <Segmented size="small" options={WAYS} value={one.way} onChange={(way) => set({ way })} aria-label="Send as" />
        {isLinked(one) ? (
          <>
            <span className="soft">
              {isShown
                ? `Who reads it, ${newest.pages === null ? 'and for how long' : 'which pages, and for how long'}.`
                : 'Who downloads it, and when.'}
            </span>
            {newest.problem !== null && <span className="tone-needs-you">{newest.problem}.</span>}
            {isShown && (
              <SwitchLine
                words="Allow download"
                checked={one.mayDownload}
                onChange={(mayDownload) => set({ mayDownload })}
              />
            )}
            {isShown && !one.mayDownload && <span className="soft">{NO_LOCK}</span>}
            <SwitchLine
              words="Ask for an email address first"
              checked={one.asksAddress}
              onChange={(asksAddress) => set({ asksAddress })}
            />
            <SwitchLine
              words="Always show the newest version"
              checked={one.followsNewest}
              onChange={(followsNewest) => set({ followsNewest })}
            />
            <label className={switchLineStyles.switchLine}>
              Can be seen
              <Select
                size="small"
                variant="filled"
                popupMatchSelectWidth={false}
                options={OPEN_FOR}
                value={one.openForDays ?? 0}
                onChange={(days) => set({ openForDays: days || null })}
                aria-label={`How long the link to ${file.name} works`}
              />
            </label>
          </>
        ) : (
          <span className={newest.size > FILE_LIMITS.maxAttachedBytes ? 'tone-needs-you' : 'soft'}>
            {newest.size > FILE_LIMITS.maxAttachedBytes
              ? `With ${sizeWords(newest.size)} most mail servers reject it. Send it as a link.`
              : 'You will not know whether it is read.'}
          </span>
        )}
      </div>
    );
  });
}
