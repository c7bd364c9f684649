import { useState } from 'react';
import { Button, Select } from 'antd';
import type { CopyView, IncomingVerdict, IncomingView } from '@kiraku/core/contract';
import { exactWords } from '@kiraku/core/time';
import { personWords } from '@kiraku/core/tracking';
import { useDecideIncomingMutation, useIncomingQuery } from '../followups/followupsApi.js';
import { useLetterFrame } from './useLetterFrame.js';

/** What somebody, or a program of theirs, has written: reports are told in a sentence, where they belong. */
const KINDS: Partial<Record<IncomingView['kind'], string>> = {
  answer: 'replied',
  automatic: 'replied automatically',
  'perhaps-automatic': 'replied, perhaps automatically',
};

/** What was written back in the conversation, below one’s own message. */
export function Answers({ id, copies }: { id: number; copies: readonly CopyView[] }) {
  const { data = [] } = useIncomingQuery(id);
  const letters = data.filter(({ kind }) => kind in KINDS);
  if (letters.length === 0) return null;
  return (
    <section aria-label="Answers" className="answers">
      {letters.map((answer) => (
        <Answer key={answer.id} answer={answer} copies={answer.messageId === id ? copies : []} />
      ))}
    </section>
  );
}

interface DoubtProps {
  answer: IncomingView;
  /** Whose it may be, where that is not known. */
  copies: readonly CopyView[];
}

/** What is only believed of a reply, and the question whether it is one, and whose. */
function Doubt({ answer: { id, messageId, kind, doubt, verdict, copyId }, copies }: DoubtProps) {
  const [decide, { isLoading }] = useDecideIncomingMutation();
  const [whose, setWhose] = useState<number | null>(null);
  if (doubt === null || kind === 'automatic') return doubt && <p className="tone-needs-you">{doubt}.</p>;
  const say = (next: IncomingVerdict) => void decide({ id, messageId, verdict: next, copyId: whose });
  const asksWhose = copyId === null && verdict !== 'confirmed';
  return (
    <div className="answer-doubt">
      <p className={verdict === null ? 'tone-needs-you' : 'soft'}>{DOUBT_WORDS[verdict ?? 'open'](doubt)}</p>
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
          options={copies.map((copy) => ({ value: copy.id, label: personWords(copy.recipient) }))}
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

const DOUBT_WORDS: Record<IncomingVerdict | 'open', (doubt: string) => string> = {
  open: (doubt) => `${doubt}. Follow-ups wait until you say whether it is a reply.`,
  confirmed: () => 'You said that it is a reply.',
  rejected: () => 'You said that it is no reply to this message. It is not counted.',
};

function Answer({ answer, copies }: DoubtProps) {
  const { id, kind, at, from, subject, words, problem, hasOriginal } = answer;
  const [whole, setWhole] = useState(false);
  return (
    <article className="sheet answer" aria-label={`${personWords(from)} ${KINDS[kind]}`}>
      <header className="letter-head">
        <h2>
          {personWords(from)} {KINDS[kind]}
        </h2>
        <p className="soft">
          {subject} · {exactWords(at)}
          {from.name && ` · ${from.address}`}
        </p>
        <Doubt answer={answer} copies={copies} />
        {problem !== null && (
          <p className="tone-needs-you">
            {problem} {hasOriginal && <a href={`/api/incoming/${id}/original.eml`}>Save the original</a>}
          </p>
        )}
      </header>
      <p className="own-words">{words}</p>
      <p className="answer-whole">
        <Button type="link" size="small" aria-expanded={whole} onClick={() => setWhole(!whole)}>
          {whole ? 'Hide the whole message' : 'Show the whole message'}
        </Button>
      </p>
      {whole && <WholeMessage id={id} title={`What ${personWords(from)} wrote`} />}
    </article>
  );
}

/** A reply as it came, with what it quotes. */
function WholeMessage({ id, title }: { id: number; title: string }) {
  const { frame, height, onLoad } = useLetterFrame(80);
  return (
    // Nothing in it runs, and nothing is loaded: no scripts in the sandbox, none in its policy.
    <iframe
      ref={frame}
      title={title}
      src={`/api/incoming/${id}/letter`}
      sandbox="allow-same-origin allow-popups allow-popups-to-escape-sandbox"
      style={{ height }}
      onLoad={onLoad}
    />
  );
}
