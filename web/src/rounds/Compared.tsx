import { Button } from 'antd';
import { Link } from 'react-router';
import { EVIDENCE, type RoundView } from '@kiraku/core/contract';
import { DEFAULT_MEMBERS_VIEW, isOf, membersEntriesOf, type MembersView } from '@kiraku/core/rounds';
import {
  differenceSentence,
  EVIDENCE_LABELS,
  likelyBestText,
  wordingName,
  wordingsSentences,
  wordingText,
} from '@kiraku/core/sentences';
import { useChooseRestMutation } from '../shared/api/roundsApi.js';
import { Interval } from '../shared/ui/Interval.js';
import { RateText } from '../shared/ui/RateText.js';
import styles from './rounds.module.css';

/** How the wordings of a round compare: replies first, since machines open too. */
export function Compared({ round }: { round: RoundView }) {
  const { id, wordings, results, comparisons, members, restWording } = round;
  const [chooseRest, { isLoading }] = useChooseRestMutation();
  const to = (part: Partial<MembersView>) => {
    const query = new URLSearchParams(membersEntriesOf({ ...DEFAULT_MEMBERS_VIEW, ...part }));
    return `/rounds/${id}?${query}`;
  };
  const waiting = members.some((member) => isOf.waiting(member) && !member.edited);
  const first = comparisons[0];
  return (
    <section className={styles.compared} aria-labelledby="compared">
      <h2 id="compared">Wordings compared</h2>
      <p className="soft">Replies count most; opens least, since machines open too.</p>
      {wordingsSentences(round).map((sentence, index) => (
        <p key={sentence} className={index === 0 ? '' : 'soft'}>
          {sentence}
        </p>
      ))}
      <ul className={styles.texts}>
        {wordings.map((wording, index) => (
          <li key={index}>
            <span>{wordingText(wording, index)}</span>
            <Link to={to({ show: 'sent', wording: index })}>{results[index]!.sent} sent</Link>
          </li>
        ))}
      </ul>
      {EVIDENCE.map((evidence) => {
        const comparison = comparisons.find((one) => one.evidence === evidence);
        return (
          <div key={evidence} className={styles.evidence} role="group" aria-label={EVIDENCE_LABELS[evidence]}>
            <h3>{EVIDENCE_LABELS[evidence]}</h3>
            {results.map(({ rates }, index) => (
              <p key={index}>
                <span className="soft">{wordingName(index)}</span>
                <Interval rate={rates[evidence]} />
                <span>
                  <RateText
                    rate={rates[evidence]}
                    nTo={to({ show: evidence, wording: index })}
                    ofTo={to({ show: 'sent', wording: index })}
                  />
                </span>
              </p>
            ))}
            {comparison && (
              <p className="soft">
                {likelyBestText(comparison)} {differenceSentence(comparison)}
              </p>
            )}
          </div>
        );
      })}
      {restWording !== null && <p>The rest gets {wordingName(restWording)}.</p>}
      {restWording === null && waiting && first && (
        <Button loading={isLoading} onClick={() => void chooseRest({ id, wording: first.best })}>
          Send the rest with {wordingName(first.best)}
        </Button>
      )}
    </section>
  );
}
