import { Alert, Button, Popover } from 'antd';
import { useState } from 'react';
import type { EventView } from '@kiraku/core/contract';
import { exactWords } from '@kiraku/core/time';
import { similarDecidedText, similarText, verdictSentence } from '@kiraku/core/sentences';
import { reasonOf } from '@kiraku/core/tracking';
import { problemOf } from '../shared/api/api.js';
import { useSetOverrideMutation, useSetOverridesMutation, useSimilarQuery } from '../shared/api/judgingApi.js';
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
  const names = event.evidence?.split(',') ?? [event.reason];
  const lookedAt = names.flatMap((name) => (name === null ? [] : (reasonOf(name)?.evidence ?? [])));
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
  const [setOverride, { isLoading, error }] = useSetOverrideMutation();
  return (
    <>
      {error && <Alert type="warning" showIcon title={problemOf(error).detail} />}
      <div className={styles.verdictActions}>
        <Button loading={isLoading} onClick={() => void setOverride({ eventId, counted: !counted })}>
          {counted ? 'Don’t count this' : 'Count this'}
        </Button>
        {override !== null && (
          <Button type="text" onClick={() => void setOverride({ eventId, counted: null })}>
            Use the rules
          </Button>
        )}
      </div>
      {override !== null && <Similar eventId={eventId} counted={override} />}
    </>
  );
}

/** After a decision: past activity like it, to be decided on together. */
function Similar({ eventId, counted }: { eventId: number; counted: boolean }) {
  const { data } = useSimilarQuery(eventId, { refetchOnMountOrArgChange: true });
  const [setOverrides, { isLoading, error }] = useSetOverridesMutation();
  const [changed, setChanged] = useState<number[]>([]);
  const decide = async (eventIds: number[], verdict: boolean | null) => {
    const { error: failed } = await setOverrides({ eventIds, counted: verdict });
    if (!failed) setChanged(verdict === null ? [] : eventIds);
  };
  const similar = data?.eventIds ?? [];
  if (changed.length === 0 && similar.length === 0) return null;
  return (
    <div className={styles.similar} role="status">
      {error && <Alert type="warning" showIcon title={problemOf(error).detail} />}
      {changed.length > 0 ? (
        <>
          {similarDecidedText(changed.length, counted)}{' '}
          <Button type="link" size="small" loading={isLoading} onClick={() => void decide(changed, null)}>
            Undo
          </Button>
        </>
      ) : (
        <>
          {similarText(similar.length, counted)}{' '}
          <Button type="link" size="small" loading={isLoading} onClick={() => void decide(similar, counted)}>
            {counted ? 'Count these too' : 'Don’t count these either'}
          </Button>
        </>
      )}
    </div>
  );
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
