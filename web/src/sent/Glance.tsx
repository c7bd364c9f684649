import { Button, Skeleton } from 'antd';
import { useEffect } from 'react';
import { useNavigate } from 'react-router';
import type { MessageDetail } from '@kiraku/core/contract';
import { counted, whenWords } from '@kiraku/core/time';
import { deviceWords, personWords, times } from '@kiraku/core/tracking';
import { useNow } from '../app/useNow.js';
import { copyWords } from '../message/copyWords.js';
import { useMessageQuery } from '../message/messageApi.js';
import { LATER, useSettled } from '../today/useSettled.js';
import { useAnswerMutation } from '../write/draftsApi.js';

const MOST_COPIES = 4;
const MOST_LINKS = 4;
const UNTIL = LATER.find(([label]) => label === 'until tomorrow morning')!;

/** What is done with the row that has the keyboard, by key. */
export const GLANCE_KEYS = { w: 'write', l: 'later' } as const;
export type GlanceDeed = (typeof GLANCE_KEYS)[keyof typeof GLANCE_KEYS];

interface GlanceProps {
  id: number;
  /** Where the row ends, in the list. */
  top: number;
  /** What was asked for by a key; done once. */
  deed: GlanceDeed | null;
  done(): void;
}

/** The essentials of the row on which one rests, without leaving the list. */
export function Glance({ id, top, deed, done }: GlanceProps) {
  const { data } = useMessageQuery(id);
  return (
    <div id="glance" className="glance" style={{ top }}>
      {data ? (
        <Essentials detail={data} deed={deed} done={done} />
      ) : (
        <Skeleton active title={false} paragraph={{ rows: 2 }} />
      )}
    </div>
  );
}

function Essentials({ detail, deed, done }: { detail: MessageDetail } & Pick<GlanceProps, 'deed' | 'done'>) {
  const now = useNow();
  const navigate = useNavigate();
  const [answer, { isLoading }] = useAnswerMutation();
  const { summary, copies, links } = detail;
  const [first] = copies;
  const settled = useSettled(first?.personId ?? 0, first ? personWords(first.recipient) : '');
  const followed = links.filter(({ clicks }) => clicks > 0);

  const write = async () => {
    const draft = await answer(summary.id).unwrap();
    void navigate(`/write/${draft.id}`);
  };
  const later = () => void settled.putOff(UNTIL[0], UNTIL[1]().valueOf());

  useEffect(() => {
    if (deed === null) return;
    done();
    if (deed === 'write') void write();
    else later();
  });

  return (
    <>
      <ul>
        {copies.slice(0, MOST_COPIES).map((copy) => (
          <li key={copy.id}>
            <b>{personWords(copy.recipient)}</b>: {copyWords(copy, now)}
            {copy.readers.length > 0 && (
              <span className="soft">
                {' '}
                on {copy.readers.map((reader) => deviceWords(reader) || 'a device not known').join('; ')}
              </span>
            )}
          </li>
        ))}
        {copies.length > MOST_COPIES && <li className="soft">and {copies.length - MOST_COPIES} more</li>}
      </ul>
      <p>
        {summary.tally.firstOpenAt !== null && `First opened ${whenWords(summary.tally.firstOpenAt, now)}. `}
        {followed.length > 0 &&
          `${followed
            .slice(0, MOST_LINKS)
            .map(({ text, url, clicks }) => `“${text || url}” ${times('followed', clicks)}`)
            .join(
              '; ',
            )}${followed.length > MOST_LINKS ? ` and ${counted(followed.length - MOST_LINKS, 'link')} more` : ''}. `}
        {detail.note && <span className="soft">Note: {detail.note}</span>}
      </p>
      <div className="glance-ways">
        <Button size="small" loading={isLoading} onClick={() => void write()} tabIndex={-1}>
          Write on
        </Button>
        {first && (
          <Button size="small" onClick={later} tabIndex={-1}>
            Put off {UNTIL[0]}
          </Button>
        )}
        <span className="soft">On the row: Enter opens it, W writes on, L puts off.</span>
      </div>
    </>
  );
}
