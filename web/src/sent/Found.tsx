import { MATCH_BEGINS, MATCH_ENDS } from '@kiraku/core/contract';

/** The words around what was searched for, with the matches marked. */
export function Found({ text }: { text: string }) {
  const parts = text.split(MATCH_BEGINS).flatMap((part, index) => (index === 0 ? [part] : part.split(MATCH_ENDS)));
  // The first stands before the first match; from there on matches and what follows them take turns.
  return (
    <span className="soft" title={parts.join('')}>
      {parts.map((part, index) => (index % 2 === 1 ? <mark key={index}>{part}</mark> : part))}
    </span>
  );
}
