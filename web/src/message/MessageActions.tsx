import { Button, Dropdown, type MenuProps } from 'antd';
import { lazy, Suspense } from 'react';
import { markedDoneText, peopleText, personText } from '@kiraku/core/sentences';
import type { MessageDetail } from '@kiraku/core/contract';
import { byLastActivity, replyCopyId } from '@kiraku/core/message';
import { isNow } from '@kiraku/core/tracking';
import { useResolveRecipientsMutation } from '../shared/api/todayApi.js';
import { useListAction } from '../shared/hooks/useListAction.js';
import { useNow } from '../shared/hooks/useNow.js';
import { useReply } from '../shared/hooks/useReply.js';
import { useUndo } from '../shared/hooks/useUndo.js';
import { CallButton } from '../shared/ui/CallButton.js';
import styles from './message.module.css';

// With what reads times in words.
const RemindButton = lazy(() => import('../followups/RemindButton.js'));

/** What can be done about a sent message, below where it stands. */
export function MessageActions({ detail: { summary, copies } }: { detail: MessageDetail }) {
  const { id, muted, archived, state } = summary;
  const now = useNow();
  const [reply, isReplying] = useReply();
  const [act] = useListAction();
  const [resolve] = useResolveRecipientsMutation();
  const offerUndo = useUndo();
  const active = byLastActivity(copies);
  const [next] = active;
  const callable = active.find(({ phone }) => phone);
  const isUrgent = next !== undefined && next.tally.lastEventAt !== null && isNow(next.tally.lastEventAt, now);
  const several = copies.length > 1;
  const more: MenuProps['items'] = [
    {
      key: 'mute',
      label: muted ? 'Unmute' : 'Mute this message',
      onClick: () => void act([id], muted ? 'unmute' : 'mute'),
    },
    {
      key: 'archive',
      label: archived ? 'Unarchive' : 'Archive',
      onClick: () => void act([id], archived ? 'unarchive' : 'archive'),
    },
    { key: 'print', label: 'Print, or save as PDF', onClick: () => window.print() },
    {
      key: 'eml',
      label: (
        <a href={`/api/messages/${id}/mail.eml`} download>
          Save as .eml file
        </a>
      ),
    },
  ];
  async function done(): Promise<void> {
    const { error } = await resolve({ messageId: id, resolved: true });
    if (error) return;
    offerUndo({
      key: `resolved message ${id}`,
      title: markedDoneText(peopleText(summary.recipients, 'Nobody')),
      undo: () => void resolve({ messageId: id, resolved: false }),
    });
  }

  return (
    <section aria-label="Actions" className={`${styles.actions} no-print`}>
      {callable && (
        <CallButton
          person={callable.recipient}
          phone={callable.phone}
          isNamed={several}
          type={isUrgent ? 'primary' : 'default'}
        />
      )}
      {state !== 'scheduled' && (
        <>
          <Button
            loading={isReplying}
            aria-keyshortcuts="R"
            type={isUrgent && !callable ? 'primary' : 'default'}
            title={several && next ? `To ${personText(next.recipient)} alone` : undefined}
            onClick={() => void reply(id, replyCopyId(copies))}
          >
            Reply
          </Button>
          {several && <Button onClick={() => void reply(id, null)}>Reply all</Button>}
          <Suspense fallback={<Button disabled>Remind</Button>}>
            <RemindButton
              label="Remind"
              aria-keyshortcuts="L"
              about={{ messageIds: [id], personId: several ? null : (next?.personId ?? null) }}
            />
          </Suspense>
          <Button aria-keyshortcuts="D" onClick={() => void done()}>
            Done
          </Button>
        </>
      )}
      <Dropdown trigger={['click']} autoFocus menu={{ items: more }}>
        <Button aria-haspopup="menu">More</Button>
      </Dropdown>
    </section>
  );
}
