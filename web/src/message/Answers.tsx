import type { IncomingView } from '@kiraku/core/contract';
import { exactWords } from '@kiraku/core/time';
import { personWords } from '@kiraku/core/tracking';
import { useIncomingQuery } from '../followups/followupsApi.js';
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

function Answer({ answer: { id, kind, at, from, subject, doubt } }: { answer: IncomingView }) {
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
        {doubt !== null && <p className="tone-needs-you">{doubt}.</p>}
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
