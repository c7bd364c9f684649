import { Alert, Button } from 'antd';
import { useState } from 'react';
import { firstSeenSentence } from '@kiraku/core/sentences';
import { BLANK_CONTENT } from '@kiraku/core/message';
import type { Mailbox, MessageDetail } from '@kiraku/core/contract';
import { useAddDraftMutation, useSendDraftMutation } from '../shared/api/draftsApi.js';
import { useMessageQuery } from '../shared/api/messageApi.js';
import { FormProblem } from '../shared/ui/FormProblem.js';

const FIRST_REFRESH_MS = 1000;

/** A message to oneself, and what is seen of it. */
export function FirstMessage({ sender: { name, address } }: { sender: Mailbox }) {
  const [add, added] = useAddDraftMutation();
  const [send, sending] = useSendDraftMutation();
  const [id, setId] = useState<number | null>(null);
  const start = async () => {
    const { data: draft } = await add({
      ...BLANK_CONTENT,
      recipients: [{ kind: 'to', name, address }],
      subject: 'My first message with Kiraku',
      html: '<p>Open me on your phone, and watch Kiraku.</p>',
      trackOpens: true,
      trackClicks: true,
    });
    if (!draft) return;
    const { data: sent } = await send({ id: draft.id, revision: draft.revision });
    if (sent) setId(sent.id);
  };
  return (
    <>
      <FormProblem error={added.error ?? sending.error} />
      {id === null ? (
        <p>
          <Button type="primary" loading={added.isLoading || sending.isLoading} onClick={() => void start()}>
            Send a message to {address}
          </Button>
        </p>
      ) : (
        <Watched id={id} />
      )}
    </>
  );
}

function Watched({ id }: { id: number }) {
  const { data } = useMessageQuery(id, { pollingInterval: FIRST_REFRESH_MS });
  return <p role="status">{data ? <Progress detail={data} /> : 'It is on its way …'}</p>;
}

function Progress({ detail: { summary, copies, events } }: { detail: MessageDetail }) {
  const opened = events.find(({ kind }) => kind === 'opened');
  if (opened) return <Alert type="info" showIcon title={firstSeenSentence(opened)} />;
  const problem = copies.find(({ lastError }) => lastError)?.lastError;
  if (problem) return <Alert type="warning" showIcon title={problem} />;
  if (summary.state !== 'sent') return 'It is on its way …';
  return 'It has left. Open it on your phone: what you do shows here.';
}
