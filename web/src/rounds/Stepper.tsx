import { Alert, Button, Input, Modal, Skeleton } from 'antd';
import { useState } from 'react';
import type { Draft, RoundMember } from '@kiraku/core/contract';
import { contentOf, MESSAGE_LIMITS } from '@kiraku/core/message';
import { memberStatus, personText } from '@kiraku/core/sentences';
import { problemOf, type QueryError } from '../shared/api/api.js';
import { useDraftQuery, usePreviewQuery, useSaveDraftMutation } from '../shared/api/draftsApi.js';
import { Editor } from '../shared/editor/Editor.js';
import { useNow } from '../shared/hooks/useNow.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { toneClass } from '../shared/ui/tone.js';
import { PreviewFrame } from '../write/PreviewFrame.js';
import styles from './rounds.module.css';

interface StepperProps {
  members: readonly RoundMember[];
  /** Whose message is shown. */
  messageId: number;
  onStep(messageId: number): void;
  close(): void;
}

/** The messages of a round one after the other, as each recipient will see theirs; each can be changed by itself. */
export function Stepper({ members, messageId, onStep, close }: StepperProps) {
  const now = useNow();
  const [isChanging, setChanging] = useState(false);
  const at = Math.max(
    members.findIndex((one) => one.messageId === messageId),
    0,
  );
  const member = members[at];
  if (!member) return null;
  const step = (by: number) => {
    setChanging(false);
    onStep(members[at + by]!.messageId);
  };
  const { tone, text } = memberStatus(member, now);
  return (
    <Modal
      open
      width={820}
      onCancel={close}
      title={`${personText(member.recipient)}, ${at + 1} of ${members.length}`}
      footer={
        isChanging ? null : (
          <div className={styles.steps}>
            <Button disabled={at === 0} onClick={() => step(-1)}>
              Previous
            </Button>
            <Button disabled={at === members.length - 1} onClick={() => step(1)}>
              Next
            </Button>
            <span className={toneClass(tone)} role="status">
              {text}
            </span>
            <Button onClick={() => setChanging(true)}>Change by hand</Button>
          </div>
        )
      }
    >
      <div className={styles.step}>
        <Message key={member.messageId} id={member.messageId} isChanging={isChanging} done={() => setChanging(false)} />
      </div>
    </Modal>
  );
}

function Message({ id, isChanging, done }: { id: number; isChanging: boolean; done(): void }) {
  const { data: draft, error, refetch } = useDraftQuery(id, { refetchOnMountOrArgChange: true });
  if (error) return <LoadFailed error={error} retry={() => void refetch()} />;
  if (!draft) return <Skeleton active title={false} />;
  if (isChanging)
    return (
      <EditOne
        draft={draft}
        done={() => {
          void refetch();
          done();
        }}
      />
    );
  return <Shown draft={draft} />;
}

function Shown({ draft: { id, revision, subject } }: { draft: Draft }) {
  const { data, error, refetch } = usePreviewQuery({ id, revision }, { refetchOnMountOrArgChange: true });
  if (error) return <LoadFailed error={error} retry={() => void refetch()} />;
  return (
    <>
      <p className={styles.stepSubject}>{subject || 'No subject'}</p>
      {data ? (
        <PreviewFrame html={data.html} width="100%" />
      ) : (
        <Skeleton active title={false} paragraph={{ rows: 10 }} />
      )}
    </>
  );
}

/** One message, changed by itself: the round’s text changes nothing in it any more. */
function EditOne({ draft, done }: { draft: Draft; done(): void }) {
  const [subject, setSubject] = useState(draft.subject);
  const [html, setHtml] = useState(draft.html);
  const [save, { isLoading, error }] = useSaveDraftMutation();
  const keep = async () => {
    const { id, revision } = draft;
    if (!(await save({ ...contentOf(draft), id, revision, subject, html })).error) done();
  };
  return (
    <>
      <Input
        aria-label="Subject of this message"
        variant="borderless"
        className={styles.subject}
        maxLength={MESSAGE_LIMITS.maxSubjectChars}
        value={subject}
        onChange={({ target }) => setSubject(target.value)}
      />
      <Editor label="This message" html={html} onChange={setHtml} />
      {error && <Alert type="warning" showIcon title={problemOf(error as QueryError).detail} />}
      <div className={styles.steps}>
        <Button type="primary" loading={isLoading} onClick={() => void keep()}>
          Save this message
        </Button>
        <Button onClick={done}>Cancel</Button>
      </div>
    </>
  );
}
