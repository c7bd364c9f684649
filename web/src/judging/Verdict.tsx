import { Alert, Button, Popover } from 'antd';
import type { EventView } from '@kiraku/core/contract';
import { exactWords } from '@kiraku/core/time';
import { reasonOf } from '@kiraku/core/tracking';
import { problemOf } from '../app/api.js';
import { useSetByHandMutation } from './judgingApi.js';
import './judging.css';

/** Opens what is known of a look: why it counts or not, the raw facts, and the way to decide oneself. */
export function Verdict({ event }: { event: EventView }) {
  return (
    <Popover trigger="click" placement="bottomRight" destroyOnHidden content={<Facts event={event} />}>
      <Button type="link" size="small" className="verdict-open">
        {event.counted ? 'Facts' : 'Why?'}
      </Button>
    </Popover>
  );
}

function Facts({ event }: { event: EventView }) {
  const reason = event.reason === null ? undefined : reasonOf(event.reason);
  return (
    <div className="verdict">
      <p>{verdictWords(event)}</p>
      {reason && <p className="soft">Looked at: {reason.looksAt}.</p>}
      <dl>
        {factsOf(event).map(([name, value]) => (
          <div key={name}>
            <dt>{name}</dt>
            <dd>{value}</dd>
          </div>
        ))}
      </dl>
      {event.reason !== 'flood' && <ByHand event={event} />}
    </div>
  );
}

function ByHand({ event: { eventId, counted, byHand } }: { event: EventView }) {
  const [setByHand, { isLoading, error }] = useSetByHandMutation();
  return (
    <>
      {error && <Alert type="warning" showIcon title={problemOf(error).detail} />}
      <div className="verdict-deeds">
        <Button loading={isLoading} onClick={() => void setByHand({ eventId, counted: !counted })}>
          {counted ? 'Set this one aside' : 'Count this one'}
        </Button>
        {byHand !== null && (
          <Button type="text" onClick={() => void setByHand({ eventId, counted: null })}>
            Leave it to the rules
          </Button>
        )}
      </div>
    </>
  );
}

function verdictWords({ counted, byHand, reason, times }: EventView): string {
  if (counted)
    return byHand === true ? 'It counts, because you said so.' : 'It counts: no rule speaks against a person.';
  const why = (reason && reasonOf(reason)?.words) ?? reason ?? '';
  return `Set aside. ${why}${times > 1 ? `, ${times} requests` : ''}.`;
}

/** The raw facts that there are, each with its name. */
function factsOf(event: EventView): [name: string, value: string][] {
  const facts: [string, string | null | false][] = [
    ['Time', exactWords(event.at)],
    ['Address', event.ip],
    ['Place', event.place && `${event.place}, approximately`],
    ['Network', event.hosted && 'of a data centre'],
    ['Program', event.userAgent],
    ['Link', event.linkUrl],
    ['Method', event.method],
    ['Purpose', event.purpose],
    ['Mark', event.mine && 'of a browser of yours'],
    ['Wish', event.unwilling && 'not to be tracked'],
    ['Deeds', event.active && 'somebody scrolled, pressed or typed there'],
  ];
  return facts.filter((fact): fact is [string, string] => Boolean(fact[1]));
}
