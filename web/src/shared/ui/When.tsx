import { exactWords, shortWords } from '@kiraku/core/time';
import { useNow } from '../hooks/useNow.js';

/** A time as a list shows it; the exact one is a hover away. The browser’s own hint: each row of a long list has one. */
export function When({ at }: { at: number }) {
  const now = useNow();
  return (
    <time dateTime={new Date(at).toISOString()} title={exactWords(at)}>
      {shortWords(at, now)}
    </time>
  );
}
