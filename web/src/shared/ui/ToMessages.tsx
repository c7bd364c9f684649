import type { PropsWithChildren } from 'react';
import { Link } from 'react-router';
import { DEFAULT_VIEW, type ListView } from '@kiraku/core/sent';
import { addressOf } from '../api/sentApi.js';

interface ToMessagesProps extends PropsWithChildren {
  /** What the list behind the number is narrowed by. */
  view: Partial<ListView>;
  count: number;
}

/** A number of messages, that leads to them where there are any, archived or not. */
export function ToMessages({ view, count, children }: ToMessagesProps) {
  if (count === 0) return children;
  return <Link to={`/sent?${addressOf({ ...DEFAULT_VIEW, archived: 'any', ...view })}`}>{children}</Link>;
}
