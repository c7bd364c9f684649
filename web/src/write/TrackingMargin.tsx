import { Input, Select, Skeleton, Switch } from 'antd';
import { lazy, Suspense, useMemo, type ReactNode } from 'react';
import { copiesSentence, untrackedSentence } from '@kiraku/core/sentences';
import type { DraftContent, DraftFile } from '@kiraku/core/contract';
import { isLinked, withoutFileMarks } from '@kiraku/core/files';
import { MESSAGE_LIMITS } from '@kiraku/core/message';
import { BeforeSending } from './BeforeSending.js';
import { useDirectory } from '../shared/hooks/useKnown.js';
import { FileSwitches } from './FileSwitches.js';
import { linksOf, withLink } from './linksOf.js';
import pageStyles from '../shared/ui/page.module.css';
import styles from './write.module.css';
import switchRowStyles from '../shared/ui/switchRow.module.css';

// With what reads times in words.
const DraftFollowups = lazy(() => import('../followups/DraftFollowups.js'));

interface Props {
  content: DraftContent;
  /** The message before anything was written. */
  blankHtml: string;
  onChange(part: Partial<DraftContent>): void;
  onFile(fileId: number, part: Partial<DraftFile>): void;
}

const FOR_DAYS: { value: number; label: string }[] = [
  { value: 0, label: 'as set in Settings' },
  { value: 7, label: 'a week' },
  { value: 30, label: 'a month' },
  { value: 90, label: 'three months' },
  { value: MESSAGE_LIMITS.maxTrackForDays, label: 'no limit' },
];

/** The margin while writing: what will be known, with the switches for it. */
export function TrackingMargin({ content, blankHtml, onChange, onFile }: Props) {
  const { recipients, html, trackOpens, trackClicks, disclose, requestDsn, requestMdn, trackForDays } = content;
  const untracked = useDirectory(recipients).filter(({ doNotTrack }) => doNotTrack);
  const links = useMemo(() => linksOf(html), [html]);
  const anything = trackOpens || trackClicks || content.files.some(isLinked);
  return (
    <aside className={pageStyles.margin} aria-label="What you will know">
      <h1>{anything ? 'What you will know' : 'This message is not tracked'}</h1>
      <p className={pageStyles.sentence}>{copiesSentence(recipients, anything)}</p>
      {anything && untracked.length > 0 && <p className="tone-needs-you">{untrackedSentence(untracked)}</p>}
      <BeforeSending content={content} blankHtml={blankHtml} onChange={onChange} />
      <div className={styles.switches}>
        <Choice
          title="Track this message"
          words={anything ? 'Switch off to send it without tracking.' : 'It is sent without tracking.'}
          checked={anything}
          onChange={(checked) => onChange(allOrNothing(content, checked))}
        />
        <Choice
          title="Opens"
          words="Each open, with its time and device. Not if images are blocked."
          checked={trackOpens}
          onChange={(checked) => onChange({ trackOpens: checked })}
        />
        <Choice
          title="Link clicks"
          words={
            links.length === 0
              ? 'There is no link in the message yet.'
              : 'Each goes through your own address to its target.'
          }
          checked={trackClicks}
          onChange={(checked) => onChange({ trackClicks: checked })}
        >
          {links.length > 0 && (
            <ul className={styles.switchLinks}>
              {links.map(({ words, url, tracked }, position) => (
                <li key={position}>
                  <label>
                    <span>
                      {words ? `“${words}”` : 'A link without words'} <span className="soft">{url}</span>
                    </span>
                    <Switch
                      size="small"
                      checked={trackClicks && tracked}
                      disabled={!trackClicks}
                      onChange={(checked) => onChange({ html: withLink(html, position, { tracked: checked }) })}
                      aria-label={`Track the link ${words || url}`}
                    />
                  </label>
                </li>
              ))}
            </ul>
          )}
        </Choice>
        <FileSwitches files={content.files} onChange={onFile} />
        <Choice
          title="Delivery receipt"
          words="Asks the mail servers. Not all of them send one."
          checked={requestDsn}
          onChange={(checked) => onChange({ requestDsn: checked })}
        />
        <Choice
          title="Read receipt"
          words="Asks their mail app. They may decline."
          checked={requestMdn}
          onChange={(checked) => onChange({ requestMdn: checked })}
        />
        {anything && (
          <div className={switchRowStyles.switchRow}>
            <label>
              <span className={switchRowStyles.switchTitle}>Stop counting after</span>
              <span className="soft">Later activity is stored, but not counted.</span>
              <Select
                size="small"
                variant="filled"
                popupMatchSelectWidth={false}
                options={FOR_DAYS}
                value={trackForDays ?? 0}
                onChange={(days) => onChange({ trackForDays: days || null })}
                aria-label="Stop counting after"
              />
            </label>
          </div>
        )}
        {anything && (
          <Choice
            title="Tell recipients about tracking"
            words="Adds a line at the end, with a link to opt out."
            checked={disclose}
            onChange={(checked) => onChange({ disclose: checked })}
          />
        )}
      </div>
      <h2>Follow-ups</h2>
      <div className={styles.switches}>
        <Suspense fallback={<Skeleton active title={false} />}>
          <DraftFollowups content={content} onChange={onChange} />
        </Suspense>
      </div>
      <label className={styles.note}>
        <span className={switchRowStyles.switchTitle}>Private note</span>
        <Input.TextArea
          value={content.note}
          autoSize={{ minRows: 1, maxRows: 6 }}
          maxLength={MESSAGE_LIMITS.maxNoteChars}
          placeholder="A private note; it is never sent"
          onChange={(event) => onChange({ note: event.target.value })}
        />
      </label>
      <p className="soft">Your own copy has no tracking: reading it here never counts.</p>
    </aside>
  );
}

/** Nothing is known of a file that travels as an attachment. */
function allOrNothing({ files, html }: DraftContent, all: boolean): Partial<DraftContent> {
  const way = all ? 'link' : 'attachment';
  return {
    trackOpens: all,
    trackClicks: all,
    files: files.map((one): DraftFile => ({ ...one, way })),
    html: all ? html : withoutFileMarks(html),
  };
}

function Choice({
  title,
  words,
  checked,
  onChange,
  children,
}: {
  title: string;
  words: string;
  checked: boolean;
  onChange(checked: boolean): void;
  children?: ReactNode;
}) {
  return (
    <div className={switchRowStyles.switchRow}>
      <label>
        <span className={switchRowStyles.switchTitle}>{title}</span>
        <span className="soft">{words}</span>
        <Switch checked={checked} onChange={onChange} aria-label={title} />
      </label>
      {children}
    </div>
  );
}
