import { Button, Input } from 'antd';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import type { MessageDetail } from '@kiraku/core/contract';
import { MESSAGE_LIMITS } from '@kiraku/core/message';
import { useShelveMutation } from '../sent/sentApi.js';
import { useAnswerMutation } from '../write/draftsApi.js';
import { useSaveNoteMutation } from './messageApi.js';

/** What can be done with a sent message, and the note on it. */
export function Deeds({ detail: { summary, note } }: { detail: MessageDetail }) {
  const [answer, { isLoading }] = useAnswerMutation();
  const [shelve, shelving] = useShelveMutation();
  const navigate = useNavigate();
  return (
    <section aria-label="What to do with it" className="deeds">
      <NoteField key={summary.id} id={summary.id} note={note} />
      <div className="deeds-buttons">
        <Button
          loading={isLoading}
          onClick={async () => {
            const draft = await answer(summary.id).unwrap();
            void navigate(`/write/${draft.id}`);
          }}
        >
          Write on in this conversation
        </Button>
        <Button
          loading={shelving.isLoading}
          onClick={() => void shelve({ ids: [summary.id], deed: summary.silenced ? 'unsilence' : 'silence' })}
        >
          {summary.silenced ? 'Let it be told again' : 'Silence'}
        </Button>
        <Button onClick={() => window.print()}>Print, or save as PDF</Button>
        <Button href={`/api/messages/${summary.id}/mail.eml`} download>
          Save as a mail file
        </Button>
      </div>
    </section>
  );
}

function NoteField({ id, note }: { id: number; note: string }) {
  const [text, setText] = useState(note);
  const [save] = useSaveNoteMutation();
  return (
    <label className="write-note">
      <span className="soft">For yourself</span>
      <Input.TextArea
        value={text}
        autoSize={{ minRows: 1, maxRows: 6 }}
        maxLength={MESSAGE_LIMITS.noteLength}
        placeholder="A note that is never sent"
        onChange={(event) => setText(event.target.value)}
        onBlur={() => text !== note && void save({ id, note: text })}
      />
    </label>
  );
}
