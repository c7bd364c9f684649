import { Select } from 'antd';
import { useState } from 'react';
import { ROUND_LIMITS, type Evidence, type WordingOutcome } from '@kiraku/core/contract';
import { compareWordings } from '@kiraku/core/rounds';
import { betterSentence, wordingName } from '@kiraku/core/sentences';
import type { Behind } from './behind.js';
import { ComparedRates } from './ComparedRates.js';
import styles from './compared.module.css';

/** Something that can be compared with others of its sort: a template, a subject. */
export interface Comparable extends WordingOutcome {
  key: string;
  name: string;
  behind: Behind;
}

interface CompareChosenProps {
  label: string;
  of: readonly Comparable[];
}

/** Up to three of a list, chosen to be compared with each other. */
export function CompareChosen({ label, of }: CompareChosenProps) {
  const [keys, setKeys] = useState<string[]>([]);
  const chosen = keys.flatMap((key) => of.find((one) => one.key === key) ?? []);
  const results = chosen.map(({ messages, read, clicked, replied }) => ({
    sent: messages,
    rates: { read, clicked, replied },
  }));
  const comparisons = compareWordings(results);
  if (of.length < 2) return null;
  return (
    <div className={styles.chosen}>
      <Select
        mode="multiple"
        aria-label={label}
        placeholder={label}
        style={{ width: '100%' }}
        maxCount={ROUND_LIMITS.maxWordings}
        value={chosen.map(({ key }) => key)}
        options={of.map(({ key, name }) => ({ value: key, label: name }))}
        optionFilterProp="label"
        onChange={setKeys}
      />
      {chosen.length > 1 && (
        <section aria-label={label}>
          {comparisons[0] && <p>{betterSentence(comparisons[0])}</p>}
          <p className="soft">They went to people who were chosen, not by chance: a difference may be theirs.</p>
          <ComparedRates
            names={chosen.map(({ name }, index) => `${wordingName(index)} ${name}`)}
            results={results}
            comparisons={comparisons}
            to={(index, counted, isOf) => chosen[index]!.behind(COUNTED[counted][Number(isOf)]!)}
          />
        </section>
      )}
    </div>
  );
}

/** What of a report is counted: those, and all that they are of. */
const COUNTED = {
  sent: ['sent', 'sent'],
  replied: ['replied.n', 'replied.of'],
  clicked: ['clicked.n', 'clicked.of'],
  read: ['read.n', 'read.of'],
} as const satisfies Record<Evidence | 'sent', readonly [Parameters<Behind>[0], Parameters<Behind>[0]]>;
