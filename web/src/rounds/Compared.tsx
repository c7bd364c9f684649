import { Button } from 'antd';
import type { RoundView } from '@kiraku/core/contract';
import { DEFAULT_MEMBERS_VIEW, isOf, membersEntriesOf, type MembersView } from '@kiraku/core/rounds';
import { wordingName, wordingsSentences, wordingText } from '@kiraku/core/sentences';
import { ComparedRates } from '../reports/ComparedRates.js';
import { useChooseRestMutation } from '../shared/api/roundsApi.js';
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
  return (
    <section aria-labelledby="compared">
      <h2 id="compared">Wordings compared</h2>
      <p className="soft">Replies count most; opens least, since machines open too.</p>
      {wordingsSentences(round).map((sentence, index) => (
        <p key={sentence} className={index === 0 ? '' : 'soft'}>
          {sentence}
        </p>
      ))}
      <ComparedRates
        names={wordings.map(wordingText)}
        results={results}
        comparisons={comparisons}
        to={(wording, counted, isOf) => to({ show: isOf ? 'sent' : counted, wording })}
      />
      {restWording !== null && <p>The rest gets {wordingName(restWording)}.</p>}
      {restWording === null && waiting && (
        <p className={styles.rest}>
          {wordings.map((_, wording) => (
            <Button key={wording} loading={isLoading} onClick={() => void chooseRest({ id, wording })}>
              Send the rest with {wordingName(wording)}
            </Button>
          ))}
        </p>
      )}
    </section>
  );
}
