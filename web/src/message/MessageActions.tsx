import { Button, Input } from 'antd';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { MessageDetail } from '@kiraku/core/contract';
import { MESSAGE_LIMITS } from '@kiraku/core/message';
import { useApplyActionMutation } from '../shared/api/sentApi.js';
import { useReplyMutation } from '../shared/api/draftsApi.js';
import { useSaveNoteMutation } from '../shared/api/messageApi.js';
import styles from './message.module.css';

/** What can be done with a sent message, and the note on it. */
export function MessageActions({ detail: { summary, note } }: { detail: MessageDetail }) {
  const [reply, { isLoading }] = useReplyMutation();
  const [applyAction, shelving] = useApplyActionMutation();
  const navigate = useNavigate();
  return (
    <section aria-label="Actions" className={`${styles.actions} no-print`}>
      <NoteField key={summary.id} id={summary.id} note={note} />
      <div className={styles.actionsButtons}>
        <Button
          loading={isLoading}
          onClick={async () => {
            const draft = await reply(summary.id).unwrap();
            void navigate(`/write/${draft.id}`);
          }}
        >
          Reply
        </Button>
        <Button
          loading={shelving.isLoading}
          onClick={() => void applyAction({ ids: [summary.id], action: summary.muted ? 'unmute' : 'mute' })}
        >
          {summary.muted ? 'Unmute' : 'Mute this message'}
        </Button>
        <Button onClick={() => window.print()}>Print, or save as PDF</Button>
        <Button href={`/api/messages/${summary.id}/mail.eml`} download>
          Save as .eml file
        </Button>
      </div>
    </section>
  );
}

function NoteField({ id, note }: { id: number; note: string }) {
  const [text, setText] = useState(note);
  const [save] = useSaveNoteMutation();
  return (
    <label className={styles.note}>
      <span className="soft">Private note</span>
      <Input.TextArea
        value={text}
        autoSize={{ minRows: 1, maxRows: 6 }}
        maxLength={MESSAGE_LIMITS.maxNoteChars}
        placeholder="A private note; it is never sent"
        onChange={(event) => setText(event.target.value)}
        onBlur={() => text !== note && void save({ id, note: text })}
      />
    </label>
  );
}
