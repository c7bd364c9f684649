import { Alert, Button, Popover } from 'antd';
import type { EventView } from '@kiraku/core/contract';
import { exactWords } from '@kiraku/core/time';
import { verdictSentence } from '@kiraku/core/sentences';
import { reasonOf } from '@kiraku/core/tracking';
import { problemOf } from '../shared/api/api.js';
import { useDecide } from './useDecide.js';
import styles from './judging.module.css';

/** Opens what is known of an event: why it counts or not, the raw facts, and the way to decide oneself. */
export function Verdict({ event, children }: { event: EventView; children?: React.ReactNode }) {
  return (
    <Popover trigger="click" placement="bottomRight" destroyOnHidden content={<Facts event={event} />}>
      <Button type="link" size="small" className={`${styles.verdictOpen} no-print`}>
        {children ?? (event.counted ? 'Facts' : 'Why?')}
      </Button>
    </Popover>
  );
}

function Facts({ event }: { event: EventView }) {
  const lookedAt = basesOf(event).flatMap((name) => reasonOf(name)?.evidence ?? []);
  return (
    <div className={styles.verdict}>
      <p>{verdictSentence(event)}</p>
      {lookedAt.length > 0 && <p className="soft">Based on {lookedAt.join('; ')}.</p>}
      <dl>
        {factsOf(event).map(([name, value]) => (
          <div key={name}>
            <dt>{name}</dt>
            <dd>{value}</dd>
          </div>
        ))}
      </dl>
      {event.reason !== 'flood' && <OverrideButton event={event} />}
    </div>
  );
}

function OverrideButton({ event: { eventId, counted, override } }: { event: EventView }) {
  const { decide, isLoading, error } = useDecide(eventId);
  return (
    <>
      {error && <Alert type="warning" showIcon title={problemOf(error).detail} />}
      <div className={styles.verdictActions}>
        <Button loading={isLoading} onClick={() => void decide(!counted)}>
          {counted ? 'Don’t count this' : 'Count this'}
        </Button>
        {override !== null && (
          <Button type="text" onClick={() => void decide(null)}>
            Use the rules
          </Button>
        )}
      </div>
    </>
  );
}

/** Names of what the verdict goes by: the evidence, unless a fact or the user decides. */
function basesOf({ override, evidence, reason }: EventView): string[] {
  if (override === null && evidence !== null) return evidence.split(',');
  return reason === null ? [] : [reason];
}

/** The raw facts that there are, each with its name. */
function factsOf(event: EventView): [name: string, value: string][] {
  const facts: [string, string | null | false][] = [
    ['Time', exactWords(event.at)],
    ['Address', event.ip],
    ['Place', event.place && `${event.place}, approximately`],
    ['Network', event.hosted && 'data centre'],
    ['Program', event.userAgent],
    ['Link', event.linkUrl],
    ['Method', event.method],
    ['Purpose', event.purpose],
    ['Device', event.ownDevice && 'your own'],
    ['DNT', event.dnt && 'asks not to be tracked'],
    ['Interaction', event.active && 'scrolled, pressed or typed'],
  ];
  return facts.filter((fact): fact is [string, string] => Boolean(fact[1]));
}
