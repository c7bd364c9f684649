import { Link } from 'react-router';
import { EVIDENCE, type Evidence, type WordingComparison, type WordingResult } from '@kiraku/core/contract';
import { differenceSentence, EVIDENCE_LABELS, likelyBestText, wordingName } from '@kiraku/core/sentences';
import { Interval } from '../shared/ui/Interval.js';
import { RateText } from '../shared/ui/RateText.js';
import styles from './compared.module.css';

interface ComparedRatesProps {
  /** What each wording is called: A, B and so on, and its name. */
  names: readonly string[];
  results: readonly WordingResult[];
  comparisons: readonly WordingComparison[];
  /** Where those are whom a number counts, and all that it is of. */
  to(wording: number, counted: Evidence | 'sent', of: boolean): string;
}

/** Wordings beside each other: what became of each, and how sure it is that one is better. Replies first: machines open too. */
export function ComparedRates({ names, results, comparisons, to }: ComparedRatesProps) {
  return (
    <>
      <ul className={styles.texts}>
        {names.map((name, index) => (
          <li key={index}>
            <span>{name}</span>
            <Link to={to(index, 'sent', false)}>{results[index]!.sent} sent</Link>
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
                  <RateText rate={rates[evidence]} nTo={to(index, evidence, false)} ofTo={to(index, evidence, true)} />
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
    </>
  );
}
