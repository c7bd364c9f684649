import { useState } from 'react';
import { Button } from 'antd';
import type { RefusedWay } from '@kiraku/core/contract';
import { When } from '../shared/ui/When.js';
import { useDeleteRefusedMutation, useRefusedQuery } from '../shared/api/refusedApi.js';
import settingsStyles from '../shared/ui/settings.module.css';

interface Props {
  way: RefusedWay;
  title: string;
  /** What it means that they are here. */
  help: string;
}

const PREVIEW_ROWS = 5;

/** Messages that were not taken: why, and the original to save. Nothing where there is none. */
export function RefusedMails({ way, title, help }: Props) {
  const { data = [] } = useRefusedQuery(way, { refetchOnMountOrArgChange: true, pollingInterval: 30_000 });
  const [remove, { isLoading }] = useDeleteRefusedMutation();
  const [all, setAll] = useState(false);
  if (data.length === 0) return null;
  return (
    <section aria-label={title}>
      <h2>{title}</h2>
      <p className="soft">{help}</p>
      <ul className={settingsStyles.list}>
        {data
          .slice(0, all ? undefined : PREVIEW_ROWS)
          .map(({ id, at, fromAddress, toAddress, subject, problem, hasOriginal }) => (
            <li key={id}>
              <span>
                {subject || 'No subject'}, from {fromAddress || 'nobody'} to {toAddress || 'nobody'}, <When at={at} />
                <br />
                <span className="soft">{problem}</span>
              </span>
              <span className={settingsStyles.row}>
                {hasOriginal && <a href={`/api/refused-mails/${id}/original.eml`}>Save the original</a>}
                <Button size="small" loading={isLoading} onClick={() => void remove(id)}>
                  Delete
                </Button>
              </span>
            </li>
          ))}
      </ul>
      {!all && data.length > PREVIEW_ROWS && (
        <Button type="link" onClick={() => setAll(true)}>
          Show all {data.length}
        </Button>
      )}
    </section>
  );
}
