import { Button } from 'antd';
import type { IncomingVerdict, IncomingView } from '@kiraku/core/contract';
import { exactWords } from '@kiraku/core/time';
import { personWords } from '@kiraku/core/tracking';
import { useDecideIncomingMutation, useIncomingQuery } from '../followups/followupsApi.js';
import { useLetterFrame } from './useLetterFrame.js';

/** What somebody, or a program of theirs, has written: reports are told in a sentence, where they belong. */
const KINDS: Partial<Record<IncomingView['kind'], string>> = {
  answer: 'answered',
  automatic: 'answered by machine',
};

/** What was written back in the conversation, as letters below one’s own. */
export function Answers({ id }: { id: number }) {
  const { data = [] } = useIncomingQuery(id);
  const letters = data.filter(({ kind }) => kind in KINDS);
  if (letters.length === 0) return null;
  return (
    <section aria-label="Answers" className="answers">
      {letters.map((answer) => (
        <Answer key={answer.id} answer={answer} />
      ))}
    </section>
  );
}

/** What is only believed of a reply, and the question whether it is one. */
function Doubt({ answer: { id, messageId, kind, doubt, verdict } }: { answer: IncomingView }) {
  const [decide, { isLoading }] = useDecideIncomingMutation();
  if (doubt === null || kind !== 'answer') return doubt && <p className="tone-needs-you">{doubt}.</p>;
  const say = (next: IncomingVerdict) => void decide({ id, messageId, verdict: next });
  return (
    <div className="answer-doubt">
      <p className={verdict === null ? 'tone-needs-you' : 'soft'}>{DOUBT_WORDS[verdict ?? 'open'](doubt)}</p>
      {verdict !== 'confirmed' && (
        <Button size="small" loading={isLoading} onClick={() => say('confirmed')}>
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

function Answer({ answer }: { answer: IncomingView }) {
  const { id, kind, at, from, subject, problem, hasOriginal } = answer;
  const { frame, height, onLoad } = useLetterFrame(80);
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
        <Doubt answer={answer} />
        {problem !== null && (
          <p className="tone-needs-you">
            {problem} {hasOriginal && <a href={`/api/incoming/${id}/original.eml`}>Save the original</a>}
          </p>
        )}
      </header>
      {/* Nothing in it runs, and nothing is loaded: no scripts in the sandbox, none in its policy. */}
      <iframe
        ref={frame}
        title={`What ${personWords(from)} wrote`}
        src={`/api/incoming/${id}/letter`}
        sandbox="allow-same-origin allow-popups allow-popups-to-escape-sandbox"
        style={{ height }}
        onLoad={onLoad}
      />
    </article>
  );
}
