import { Input } from 'antd';
import { useState } from 'react';
import { MESSAGE_LIMITS } from '@kiraku/core/message';
import { useSaveNoteMutation } from '../shared/api/messageApi.js';
import styles from './message.module.css';

/** The private note on a message; it is kept when one leaves it. */
export function NoteField({ id, note }: { id: number; note: string }) {
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
