import { Input, Select, Skeleton, Switch } from 'antd';
import { lazy, Suspense, useMemo, type ReactNode } from 'react';
import type { DraftContent, DraftFile } from '@kiraku/core/contract';
import { isLinked, withoutFileMarks } from '@kiraku/core/files';
import { addressKey, MESSAGE_LIMITS } from '@kiraku/core/message';
import { personWords } from '@kiraku/core/tracking';
import { BeforeSending } from './BeforeSending.js';
import { useNotTrackedQuery } from './draftsApi.js';
import { FileSwitches } from './FileSwitches.js';
import { linksOf, withLink } from './linksOf.js';

// With what reads times in words.
const DraftFollowups = lazy(() => import('../followups/DraftFollowups.js'));

interface Props {
  content: DraftContent;
  /** The letter before anything was written. */
  blankHtml: string;
  onChange(part: Partial<DraftContent>): void;
  onFile(fileId: number, part: Partial<DraftFile>): void;
}

const FOR_DAYS: { value: number; label: string }[] = [
  { value: 0, label: 'as the settings say' },
  { value: 7, label: 'a week' },
  { value: 30, label: 'a month' },
  { value: 90, label: 'three months' },
  { value: MESSAGE_LIMITS.trackForDays, label: 'as long as it is read' },
];

/** By the number of links: none, one, several. */
const LINK_TITLES = ['Which links are followed', 'Whether the link is followed', 'Which links are followed'];

/** The margin while writing: what will be known, with the switches for it. */
export function WhatYouWillKnow({ content, blankHtml, onChange, onFile }: Props) {
  const { recipients, html, trackOpens, trackLinks, disclose, deliveryReceipt, readReceipt, trackForDays } = content;
  const addresses = recipients.map((one) => addressKey(one.address));
  const { data: declined = [] } = useNotTrackedQuery(addresses, { skip: addresses.length === 0 });
  const untracked = recipients.filter((one) => declined.includes(addressKey(one.address)));
  const links = useMemo(() => linksOf(html), [html]);
  const anything = trackOpens || trackLinks || content.files.some(isLinked);
  return (
    <aside className="margin" aria-label="What you will know">
      <h1>{anything ? 'What you will know' : 'You will know nothing of this one'}</h1>
      <p className="page-sentence">
        {who(
          recipients.map((one) => personWords(one).split(' ')[0]!),
          anything,
        )}
      </p>
      {anything && untracked.length > 0 && (
        <p className="tone-needs-you">
          {untracked.map(personWords).join(', ')} {untracked.length === 1 ? 'gets' : 'get'} it without any tracking, as
          was asked for.
        </p>
      )}
      <BeforeSending content={content} blankHtml={blankHtml} onChange={onChange} />
      <div className="switches">
        <Choice
          title="Anything at all"
          words={anything ? 'One press, and it leaves as a plain letter.' : 'It leaves as a plain letter.'}
          checked={anything}
          onChange={(checked) => onChange(allOrNothing(content, checked))}
        />
        <Choice
          title="When it is opened"
          words="Each look, its time, the device and the program. Not where images are blocked."
          checked={trackOpens}
          onChange={(checked) => onChange({ trackOpens: checked })}
        />
        <Choice
          title={LINK_TITLES[Math.min(links.length, 2)]!}
          words={
            links.length === 0
              ? 'There is no link in the letter yet.'
              : 'Each leads over your own address to its target.'
          }
          checked={trackLinks}
          onChange={(checked) => onChange({ trackLinks: checked })}
        >
          {links.length > 0 && (
            <ul className="switch-links">
              {links.map(({ words, url, tracked }, position) => (
                <li key={position}>
                  <label>
                    <span>
                      {words ? `“${words}”` : 'A link without words'} <span className="soft">{url}</span>
                    </span>
                    <Switch
                      size="small"
                      checked={trackLinks && tracked}
                      disabled={!trackLinks}
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
          title="When it was delivered"
          words="Asks the mail servers for a receipt. Not all offer it."
          checked={deliveryReceipt}
          onChange={(checked) => onChange({ deliveryReceipt: checked })}
        />
        <Choice
          title="When they say they read it"
          words="Asks their program for a read receipt. They may decline."
          checked={readReceipt}
          onChange={(checked) => onChange({ readReceipt: checked })}
        />
        {anything && (
          <div className="switch-row">
            <label>
              <span className="switch-title">For how long</span>
              <span className="soft">What comes later is kept, and neither counts nor rings.</span>
              <Select
                size="small"
                variant="filled"
                popupMatchSelectWidth={false}
                options={FOR_DAYS}
                value={trackForDays ?? 0}
                onChange={(days) => onChange({ trackForDays: days || null })}
                aria-label="For how long looks count"
              />
            </label>
          </div>
        )}
        {anything && (
          <Choice
            title="Tell them"
            words="A line at the end tells of the tracking, and leads to a page to decline it."
            checked={disclose}
            onChange={(checked) => onChange({ disclose: checked })}
          />
        )}
      </div>
      <h2>What comes back</h2>
      <div className="switches">
        <Suspense fallback={<Skeleton active title={false} />}>
          <DraftFollowups content={content} onChange={onChange} />
        </Suspense>
      </div>
      <label className="write-note">
        <span className="switch-title">For yourself</span>
        <Input.TextArea
          value={content.note}
          autoSize={{ minRows: 1, maxRows: 6 }}
          maxLength={MESSAGE_LIMITS.noteLength}
          placeholder="A note that is never sent"
          onChange={(event) => onChange({ note: event.target.value })}
        />
      </label>
      <p className="soft">Your own copy carries no tracking: reading it here never counts.</p>
    </aside>
  );
}

/** Nothing is known of a file that travels in the mail itself. */
function allOrNothing({ files, html }: DraftContent, all: boolean): Partial<DraftContent> {
  const way = all ? 'link' : 'attachment';
  return {
    ...{ trackOpens: all, trackLinks: all, files: files.map((one): DraftFile => ({ ...one, way })) },
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
    <div className="switch-row">
      <label>
        <span className="switch-title">{title}</span>
        <span className="soft">{words}</span>
        <Switch checked={checked} onChange={onChange} aria-label={title} />
      </label>
      {children}
    </div>
  );
}

function who(names: string[], anything: boolean): string {
  if (!anything) return 'It leaves as a plain letter, without image or redirects.';
  if (names.length === 0) return 'Say to whom it goes.';
  if (names.length === 1) return `${names[0]} gets it with an image and links of its own.`;
  const list = `${names.slice(0, 3).join(', ')}${names.length > 3 ? ` and ${names.length - 3} more` : ''}`;
  return `${list} each get a copy of their own, so you will know who.`;
}
