import { useState } from 'react';
import { Button, Select } from 'antd';
import { doubtSentence, personText } from '@kiraku/core/sentences';
import type { CopyView, IncomingVerdict, IncomingView } from '@kiraku/core/contract';
import { exactWords } from '@kiraku/core/time';
import { useDecideIncomingMutation, useIncomingQuery } from '../shared/api/followupsApi.js';
import { useBodyFrame } from './useBodyFrame.js';
import pageStyles from '../shared/ui/page.module.css';
import styles from './message.module.css';

/** What somebody, or a program of theirs, has written: reports are shown in a sentence, where they belong. */
const KINDS: Partial<Record<IncomingView['kind'], string>> = {
  reply: 'replied',
  automatic: 'replied automatically',
  'perhaps-automatic': 'replied, perhaps automatically',
};

/** What was written back in the conversation, below one’s own message. */
export function Replies({ id, copies }: { id: number; copies: readonly CopyView[] }) {
  const { data = [] } = useIncomingQuery(id);
  const messages = data.filter(({ kind }) => kind in KINDS);
  if (messages.length === 0) return null;
  return (
    <section aria-label="Replies">
      {messages.map((reply) => (
        <Reply key={reply.id} reply={reply} copies={reply.messageId === id ? copies : []} />
      ))}
    </section>
  );
}

interface DoubtProps {
  reply: IncomingView;
  /** Whose it may be, where that is not known. */
  copies: readonly CopyView[];
}

/** What is only probable of a reply, and the question whether it is one, and whose. */
function Doubt({ reply: { id, messageId, kind, doubt, verdict, copyId }, copies }: DoubtProps) {
  const [decide, { isLoading }] = useDecideIncomingMutation();
  const [whose, setWhose] = useState<number | null>(null);
  if (doubt === null || kind === 'automatic') return doubt && <p className="tone-needs-you">{doubt}.</p>;
  const say = (next: IncomingVerdict) => void decide({ id, messageId, verdict: next, copyId: whose });
  const asksWhose = copyId === null && verdict !== 'confirmed';
  return (
    <div className={styles.replyDoubt}>
      <p className={verdict === null ? 'tone-needs-you' : 'soft'}>{doubtSentence(doubt, verdict)}</p>
      {asksWhose && copies.length === 0 && (
        <p className="soft">Open the message that it replies to, to say whose it is.</p>
      )}
      {asksWhose && copies.length > 0 && (
        <Select
          size="small"
          aria-label="Whose reply it is"
          placeholder="Whose reply is it?"
          value={whose}
          onChange={setWhose}
          popupMatchSelectWidth={false}
          showSearch={{ optionFilterProp: 'label' }}
          options={copies.map((copy) => ({ value: copy.id, label: personText(copy.recipient) }))}
        />
      )}
      {verdict !== 'confirmed' && (
        <Button
          size="small"
          loading={isLoading}
          disabled={asksWhose && whose === null}
          onClick={() => say('confirmed')}
        >
          It is a reply
        </Button>
      )}
      {verdict !== 'rejected' && (
        <Button size="small" loading={isLoading} onClick={() => say('rejected')}>
          It is not
        </Button>
      )}
    </div>
  );
}

function Reply({ reply, copies }: DoubtProps) {
  const { id, kind, at, from, subject, words, problem, hasOriginal } = reply;
  const [whole, setWhole] = useState(false);
  return (
    <article
      className={`${pageStyles.sheet} ${pageStyles.sheetLow} ${styles.reply}`}
      aria-label={`${personText(from)} ${KINDS[kind]}`}
    >
      <header className={styles.head}>
        <h2>
          {personText(from)} {KINDS[kind]}
        </h2>
        <p className="soft">
          {subject} · {exactWords(at)}
          {from.name && ` · ${from.address}`}
        </p>
        <Doubt reply={reply} copies={copies} />
        {problem !== null && (
          <p className="tone-needs-you">
            {problem} {hasOriginal && <a href={`/api/incoming/${id}/original.eml`}>Save the original</a>}
          </p>
        )}
      </header>
      <p className={styles.ownWords}>{words}</p>
      <p className={styles.replyWhole}>
        <Button type="link" size="small" aria-expanded={whole} onClick={() => setWhole(!whole)}>
          {whole ? 'Hide the whole message' : 'Show the whole message'}
        </Button>
      </p>
      {whole && <WholeMessage id={id} title={`What ${personText(from)} wrote`} />}
    </article>
  );
}

/** A reply as it came, with what it quotes. */
function WholeMessage({ id, title }: { id: number; title: string }) {
  const { frame, height, onLoad } = useBodyFrame(80);
  return (
    // Nothing in it runs, and nothing is loaded: no scripts in the sandbox, none in its policy.
    <iframe
      ref={frame}
      title={title}
      src={`/api/incoming/${id}/body`}
      sandbox="allow-same-origin allow-popups allow-popups-to-escape-sandbox"
      style={{ height }}
      onLoad={onLoad}
    />
  );
}
