import { Checkbox, InputNumber, Radio, Select } from 'antd';
import { PACE_KINDS, ROUND_LIMITS, type RoundPace } from '@kiraku/core/contract';
import { WEEKDAYS } from '@kiraku/core/people';
import { PACE_LABELS } from '@kiraku/core/sentences';
import { DAY_HOURS, hourWords } from '@kiraku/core/time';
import styles from './rounds.module.css';

const HOURS = Array.from({ length: DAY_HOURS + 1 }, (_, hour) => ({ value: hour, label: hourWords(hour % DAY_HOURS) }));

/** When the messages of a round leave. */
export function PaceFields({ pace, onChange }: { pace: RoundPace; onChange(pace: RoundPace): void }) {
  const change = (part: Partial<RoundPace>) => onChange({ ...pace, ...part });
  return (
    <div className={styles.pace}>
      <Radio.Group
        vertical
        aria-label="When it leaves"
        value={pace.kind}
        options={PACE_KINDS.map((value) => ({ value, label: PACE_LABELS[value] }))}
        onChange={({ target }) => change({ kind: target.value as RoundPace['kind'] })}
      />
      {pace.kind !== 'at-once' && (
        <>
          <p>
            <InputNumber
              aria-label="Messages an hour"
              min={1}
              max={ROUND_LIMITS.maxPerHour}
              value={pace.perHour}
              onChange={(perHour) => perHour !== null && change({ perHour })}
            />{' '}
            an hour, between{' '}
            <Select
              aria-label="From"
              options={HOURS.slice(0, -1)}
              value={pace.fromHour}
              onChange={(fromHour) => change({ fromHour, toHour: Math.max(pace.toHour, fromHour + 1) })}
            />{' '}
            and{' '}
            <Select
              aria-label="To"
              options={HOURS.slice(1)}
              value={pace.toHour}
              onChange={(toHour) => change({ toHour, fromHour: Math.min(pace.fromHour, toHour - 1) })}
            />
          </p>
          <Checkbox.Group
            aria-label="Weekdays"
            value={pace.weekdays}
            options={WEEKDAYS.map((label, value) => ({ value, label }))}
            onChange={(weekdays) => weekdays.length > 0 && change({ weekdays })}
          />
          <p className="soft">By each recipient’s clocks; where their time zone is not known, by {pace.zone}.</p>
        </>
      )}
    </div>
  );
}
