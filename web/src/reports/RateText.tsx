import { Link } from 'react-router';
import type { Rate, RateName } from '@kiraku/core/contract';
import { shareText } from '@kiraku/core/sentences';
import type { Behind } from './behind.js';

interface RateTextProps {
  name: RateName;
  rate: Rate;
  behind: Behind;
}

/** “64 of 80, 80 %, likely between 70 and 87 %.”: both numbers lead to their messages. */
export function RateText({ name, rate, behind }: RateTextProps) {
  if (rate.share === null) return 'Nothing to count yet.';
  return (
    <>
      <Link to={behind(`${name}.n`)}>{rate.n}</Link> of <Link to={behind(`${name}.of`)}>{rate.of}</Link>,{' '}
      {shareText(rate)}.
    </>
  );
}
