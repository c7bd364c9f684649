import { Tooltip } from 'antd';
import { exactWords, shortWords } from '@kiraku/core/time';
import { useNow } from '../hooks/useNow.js';

/** A time as a list shows it; the exact one is a hover or a focus away. */
export function When({ at }: { at: number }) {
  const now = useNow();
  return (
    <Tooltip title={exactWords(at)}>
      <time dateTime={new Date(at).toISOString()}>{shortWords(at, now)}</time>
    </Tooltip>
  );
}
