import { capital } from '@kiraku/core/time';
import { COUNTED_FROM, DECISIVE, EVIDENCE, likelihoodOf, UNCERTAIN, WEIGHTS } from '@kiraku/core/tracking';
import styles from './judging.module.css';

/** What decides alone, and what is weighed, with how much. */
export function EvidenceTables() {
  return (
    <>
      <h3>Decides alone</h3>
      <ul className={styles.reasons}>
        {DECISIVE.map(({ name, words, evidence }) => (
          <li key={name}>
            {capital(words)}. <span className="soft">Based on {evidence}.</span>
          </li>
        ))}
      </ul>
      <h3 className={styles.weighed}>Evidence that is weighed</h3>
      <p className="soft">
        All that was seen of an open or click adds up to how likely it is a person. From {COUNTED_FROM}% on it counts;
        between {UNCERTAIN.from}% and {UNCERTAIN.below}% it is called uncertain.
      </p>
      <table className={styles.evidence}>
        <thead>
          <tr>
            <th scope="col">What was seen</th>
            <th scope="col" className={styles.weight}>
              Weight
            </th>
            <th scope="col" className={styles.weight}>
              Alone
            </th>
          </tr>
        </thead>
        <tbody>
          {EVIDENCE.map(({ name, words, evidence }) => (
            <tr key={name}>
              <td>
                {capital(words)}. <span className="soft">Based on {evidence}.</span>
              </td>
              <td className={styles.weight}>{signed(WEIGHTS[name])}</td>
              <td className={styles.weight}>{likelihoodOf([{ name }])}%</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="soft">
        Weights are log-odds: +0.7 doubles the odds of a person, −0.7 halves them. “Alone” is how likely a person is
        where nothing else was seen.
      </p>
    </>
  );
}

function signed(weight: number): string {
  return `${weight < 0 ? '−' : '+'}${Math.abs(weight).toFixed(1)}`;
}
