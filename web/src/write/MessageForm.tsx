import { Alert, App, Button, Input } from 'antd';
import { useEffect, useRef, useState, type KeyboardEvent } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import type {
  Draft,
  DraftContent,
  FileView,
  MessageSummary,
  Recipient,
  RecipientKind,
  Recurrence,
} from '@kiraku/core/contract';
import { contentOf, MESSAGE_LIMITS } from '@kiraku/core/message';
import { leavingText, savedText, sendText } from '@kiraku/core/sentences';
import { SECOND } from '@kiraku/core/time';
import { problemOf, type QueryError } from '../shared/api/api.js';
import { useUndo } from '../shared/hooks/useUndo.js';
import {
  useAddDraftMutation,
  useRecallMutation,
  useRemoveDraftMutation,
  useSendDraftMutation,
} from '../shared/api/draftsApi.js';
import { useFilesQuery } from '../shared/api/filesApi.js';
import { UploadList } from '../files/UploadList.js';
import { AttachButton } from './AttachButton.js';
import { AttachedFiles } from './AttachedFiles.js';
import { Editor } from '../shared/editor/Editor.js';
import { LaterButton } from './LaterButton.js';
import { MoreButton, useOpenMail } from './MoreButton.js';
import { PreviewButton } from './PreviewButton.js';
import { RecipientsField } from './RecipientsField.js';
import { SeparatelyButton } from './SeparatelyButton.js';
import { SharedFiles } from './SharedFiles.js';
import { TemplateButton } from './TemplateButton.js';
import { useTemplates } from './useTemplates.js';
import { useAttaching } from './useAttaching.js';
import { useDraft, type SaveState } from './useDraft.js';
import { useDirectory, useReader } from '../shared/hooks/useKnown.js';
import { TrackingMargin } from './TrackingMargin.js';
import formStyles from '../shared/ui/form.module.css';
import pageStyles from '../shared/ui/page.module.css';
import styles from './write.module.css';

interface MessageFormProps {
  initial: Draft | null;
  /** New messages. */
  blank: DraftContent;
  onAdded(id: number): void;
}

/** The message on its sheet, and in the margin what will be known of it. */
export function MessageForm({ initial, blank, onAdded }: MessageFormProps) {
  const { content, change, flush, saved, saveState, keepAsNew } = useDraft(initial, blank, onAdded);
  const { recipients, subject, html, files } = content;
  const attaching = useAttaching(change);
  const { templates, takeRest, htmlOf } = useTemplates(content, change);
  const reader = useReader(recipients);
  useAsked(attaching.attach);
  const [withCopies, setWithCopies] = useState(recipients.some(({ kind }) => kind !== 'to'));
  const directory = useDirectory(recipients);
  const [problem, setProblem] = useState<{ title: string; detail: string } | null>(null);
  const [send, { isLoading: isSending }] = useSendDraftMutation();
  const discard = useDiscard();
  const offerBack = useOfferBack();
  const navigate = useNavigate();
  const openMail = useOpenMail();

  const setRecipients = (next: Recipient[]) => {
    // The fields stay where they are while somebody in them is edited.
    if (next.some(({ kind }) => kind !== 'to')) setWithCopies(true);
    change({ recipients: [...next].sort(byKind) });
  };

  async function save() {
    // What was never changed has never been saved.
    if (saveState.kind === 'empty') change({});
    await flush();
    return saved();
  }

  async function press(at?: number, recurrence?: Recurrence): Promise<void> {
    const draft = await save();
    if (!draft) return;
    try {
      offerBack(await send({ ...draft, at, recurrence }).unwrap());
      void navigate('/sent');
    } catch (error) {
      setProblem(problemOf(error as QueryError));
    }
  }

  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) {
      event.preventDefault();
      void press();
    }
  };

  return (
    <div
      className={pageStyles.messageAndMargin}
      onKeyDown={onKeyDown}
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        const dropped = [...event.dataTransfer.files];
        // What the editor has taken for a picture of the message is no attachment.
        if (dropped.length === 0 || event.isDefaultPrevented()) return;
        event.preventDefault();
        const [mail] = dropped.filter((file) => /\.eml$/i.test(file.name));
        if (mail) return void openMail(mail);
        for (const file of dropped) void attaching.begin(file);
      }}
      onPaste={(event) => {
        if (event.isDefaultPrevented()) return;
        for (const file of event.clipboardData.files) void attaching.begin(file);
      }}
    >
      <section className={pageStyles.sheet} aria-label="Message">
        <h1 className="skip">Write</h1>
        <div className={styles.fields}>
          <RecipientsField
            label="To"
            kind="to"
            recipients={recipients}
            directory={directory}
            onChange={setRecipients}
            autoFocus={!initial}
          />
          {withCopies ? (
            <>
              <RecipientsField
                label="Cc"
                kind="cc"
                recipients={recipients}
                directory={directory}
                onChange={setRecipients}
              />
              <RecipientsField
                label="Bcc"
                kind="bcc"
                recipients={recipients}
                directory={directory}
                onChange={setRecipients}
              />
            </>
          ) : (
            <Button type="text" size="small" className={styles.more} onClick={() => setWithCopies(true)}>
              Cc, Bcc
            </Button>
          )}
          <label htmlFor="subject">Subject</label>
          <Input
            id="subject"
            variant="borderless"
            className={styles.subject}
            maxLength={MESSAGE_LIMITS.maxSubjectChars}
            value={subject}
            onChange={(event) => change({ subject: event.target.value })}
          />
        </div>
        <div className={styles.templates}>
          <AttachButton
            attached={files.map(({ fileId }) => fileId)}
            onUpload={(file) => void attaching.begin(file)}
            onChoose={attaching.attach}
          />
          <TemplateButton
            templates={templates}
            onChoose={(template) => {
              const added = htmlOf(template);
              takeRest(template);
              change((now) => ({
                html: now.html === '' || now.html === blank.html ? added + blank.html : now.html + added,
              }));
            }}
          />
        </div>
        <Editor
          html={html}
          onChange={(next) => change({ html: next })}
          onPlace={attaching.onPlace}
          completions={templates.map((template) => ({
            id: template.id,
            name: template.name,
            detail: template.subject,
            take: () => {
              takeRest(template);
              return htmlOf(template);
            },
          }))}
        />
        <SharedFiles onAttach={(file) => void attaching.begin(file)} />
        <UploadList uploads={attaching.uploads} onTryAgain={attaching.tryAgain} onCancel={attaching.cancel} />
        <AttachedFiles files={files} onTakeOff={attaching.takeOff} />
        {problem && <Alert type="warning" showIcon closable title={problem.title} description={problem.detail} />}
        {saveState.kind === 'failed' && <SaveFailed state={saveState} keepAsNew={keepAsNew} retry={flush} />}
        <footer className={formStyles.foot}>
          <Button
            type="primary"
            size="large"
            loading={isSending}
            disabled={recipients.length === 0}
            onClick={() => void press()}
          >
            {sendText(recipients.length)}
          </Button>
          {recipients.length > 1 && <SeparatelyButton save={save} />}
          <LaterButton
            label="Send later"
            disabled={recipients.length === 0}
            repeats
            personId={reader}
            onChoose={(at, recurrence) => void press(at, recurrence)}
          />
          <PreviewButton disabled={html === '' && files.length === 0} save={save} />
          <MoreButton
            content={content}
            onChange={change}
            save={save}
            discard={async () => {
              await flush();
              await discard(saved()?.id ?? null, content);
            }}
          />
          <span className="soft" role="status">
            {saveWords(saveState)}
          </span>
        </footer>
      </section>
      <TrackingMargin content={content} blankHtml={blank.html} onChange={change} onFile={attaching.set} />
    </div>
  );
}

/** Attaches the file of the library that the address names. */
function useAsked(attach: (file: FileView) => unknown): void {
  const [params] = useSearchParams();
  const id = Number(params.get('file'));
  const { data } = useFilesQuery(null, { skip: !id });
  const file = data?.find((one) => one.id === id);
  const latest = useRef(attach);
  useEffect(() => {
    latest.current = attach;
  });
  useEffect(() => {
    if (file) latest.current(file);
  }, [file]);
}

function SaveFailed({
  state,
  keepAsNew,
  retry,
}: {
  state: SaveState & { kind: 'failed' };
  keepAsNew(): void;
  retry(): void;
}) {
  const actions = state.conflict ? (
    <div className={styles.conflict}>
      <Button onClick={() => window.location.reload()}>Load the other version</Button>
      <Button onClick={keepAsNew}>Save mine as a new draft</Button>
    </div>
  ) : (
    <Button onClick={retry}>Try again</Button>
  );
  return <Alert type="warning" showIcon title={state.title} description={state.detail} action={actions} />;
}

/** Says that a message leaves, and offers it back as long as it has not. */
function useOfferBack() {
  const [recall] = useRecallMutation();
  const { notification } = App.useApp();
  const navigate = useNavigate();
  return ({ id, recipients, subject, sendAt }: MessageSummary) => {
    const key = `leaves ${id}`;
    const now = Date.now();
    const waitMs = (sendAt ?? 0) - now;
    const undoSend = async () => {
      notification.destroy(key);
      try {
        const draft = await recall(id).unwrap();
        void navigate(`/write/${draft.id}`);
      } catch (error) {
        const { title, detail } = problemOf(error as QueryError);
        notification.open({ key, title, description: detail, role: 'status' });
      }
    };
    notification.open({
      key,
      title: leavingText(recipients.length, sendAt, now),
      description: subject || 'A message without subject',
      actions: waitMs > 0 && <Button onClick={() => void undoSend()}>Undo send</Button>,
      duration: Math.min(Math.max(waitMs / SECOND, 4), 12),
      role: 'status',
    });
  };
}

/** Throws a draft away, and offers it back for a while. */
function useDiscard() {
  const [remove] = useRemoveDraftMutation();
  const [add] = useAddDraftMutation();
  const offerUndo = useUndo();
  const navigate = useNavigate();
  return async (id: number | null, content: DraftContent) => {
    if (id !== null) {
      await remove(id).unwrap();
      const restore = async () => {
        const draft = await add(contentOf(content)).unwrap();
        void navigate(`/write/${draft.id}`);
      };
      offerUndo({
        key: 'deleted',
        title: 'Deleted',
        description: content.subject || 'A draft without subject',
        button: 'Restore',
        undo: () => void restore(),
      });
    }
    void navigate('/drafts');
  };
}

function saveWords(state: SaveState): string {
  if (state.kind === 'saved') return savedText(state.at);
  return { empty: '', unsaved: 'Saving …', failed: 'Not saved' }[state.kind];
}

const KIND_ORDER: RecipientKind[] = ['to', 'cc', 'bcc'];

function byKind(a: Recipient, b: Recipient): number {
  return KIND_ORDER.indexOf(a.kind) - KIND_ORDER.indexOf(b.kind);
}
