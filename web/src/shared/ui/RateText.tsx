import { Link } from 'react-router';
import type { Rate } from '@kiraku/core/contract';
import { shareText } from '@kiraku/core/sentences';

interface RateTextProps {
  rate: Rate;
  /** Where the messages that it counts are, and all that it is of. */
  nTo: string;
  ofTo: string;
}

/** “64 of 80, 80 %, likely between 70 and 87 %.”: both numbers lead to their messages. */
export function RateText({ rate, nTo, ofTo }: RateTextProps) {
  if (rate.share === null) return 'Nothing to count yet.';
  return (
    <>
      <Link to={nTo} className="text-link">
        {rate.n}
      </Link>{' '}
      of{' '}
      <Link to={ofTo} className="text-link">
        {rate.of}
      </Link>
      , {shareText(rate)}.
    </>
  );
}
