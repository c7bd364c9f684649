import { CloseOutlined } from '@ant-design/icons';
import { Dropdown } from 'antd';
import { useState, type DragEvent, type SyntheticEvent } from 'react';
import { personText } from '@kiraku/core/sentences';
import { mailboxText } from '@kiraku/core/message';
import { RECIPIENT_KINDS, type Recipient, type RecipientKind } from '@kiraku/core/contract';
import styles from './write.module.css';

const KIND_LABELS: Record<RecipientKind, string> = { to: 'To', cc: 'Cc', bcc: 'Bcc' };
/** Type of what is dragged, by which a recipient is known among all else that is dropped. */
const DRAGGED = 'application/x-kiraku-recipient';

interface RecipientChipProps {
  recipient: Recipient;
  company: string;
  /** Takes what was written instead; false where it is no address, and is to be mended. */
  onEdit(text: string): boolean;
  onMove(kind: RecipientKind): void;
  onRemove(): void;
}

/** One recipient in their field: pressed, it offers to be edited in place, moved or removed; it can be dragged elsewhere. */
export function RecipientChip({ recipient, company, onEdit, onMove, onRemove }: RecipientChipProps) {
  const name = personText(recipient);
  const [isEditing, setEditing] = useState(false);
  // The field around it opens its suggestions wherever it is pressed.
  const keep = (event: SyntheticEvent) => event.stopPropagation();
  const take = (text: string) => onEdit(text) && setEditing(false);
  if (isEditing)
    return (
      <input
        className={styles.chipEdit}
        aria-label={`Edit ${name}`}
        autoFocus
        defaultValue={mailboxText(recipient)}
        onMouseDown={keep}
        onBlur={(event) => take(event.target.value)}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === 'Enter') take(event.currentTarget.value);
          if (event.key === 'Escape') setEditing(false);
        }}
      />
    );
  return (
    <span
      className={styles.chip}
      draggable
      title={recipient.address}
      onMouseDown={keep}
      onKeyDown={keep}
      onDragStart={(event) => event.dataTransfer.setData(DRAGGED, recipient.address)}
    >
      <Dropdown
        trigger={['click']}
        autoFocus
        menu={{
          items: [
            { key: 'edit', label: 'Edit', onClick: () => setEditing(true) },
            ...RECIPIENT_KINDS.filter((kind) => kind !== recipient.kind).map((kind) => ({
              key: kind,
              label: `Move to ${KIND_LABELS[kind]}`,
              onClick: () => onMove(kind),
            })),
            { key: 'remove', label: 'Remove', onClick: onRemove },
          ],
        }}
      >
        <button type="button" className={styles.chipName} aria-haspopup="menu" onDoubleClick={() => setEditing(true)}>
          {name} {company && <span className="soft">{company}</span>}
        </button>
      </Dropdown>
      <button type="button" className={styles.chipRemove} aria-label={`Remove ${name}`} onClick={onRemove}>
        <CloseOutlined aria-hidden />
      </button>
    </span>
  );
}

/** Lets a recipient be dropped who is dragged from another field. */
export function dropsRecipient(take: (address: string) => void) {
  return {
    onDragOver: (event: DragEvent) => {
      if (event.dataTransfer.types.includes(DRAGGED)) event.preventDefault();
    },
    onDrop: (event: DragEvent) => {
      const address = event.dataTransfer.getData(DRAGGED);
      if (address === '') return;
      event.preventDefault();
      take(address);
    },
  };
}
