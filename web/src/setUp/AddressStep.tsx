import { Button, Skeleton } from 'antd';
import { CheckLine } from '../checkup/CheckLine.js';
import { FromThisBrowser } from '../checkup/FromThisBrowser.js';
import { useCheckMutation, useCheckupQuery } from '../shared/api/checkupApi.js';
import { useEffect } from 'react';
import styles from './setUp.module.css';

const ADDRESS_CHECKS = new Set(['public-address', 'proxy', 'certificate', 'link-domain']);
const ADDRESS_REFRESH_MS = 1000;

/** Whether the public address works, as this machine and this browser see it. */
export function AddressStep({ publicUrl }: { publicUrl: string }) {
  const { data } = useCheckupQuery(null, { pollingInterval: ADDRESS_REFRESH_MS });
  const [check] = useCheckMutation();
  useEffect(() => void check(null), [check]);
  const lines = data?.checks.filter(({ name }) => ADDRESS_CHECKS.has(name)) ?? [];
  return (
    <>
      <p>
        Now it is <code>{publicUrl}</code>. To change it, set <code>KIRAKU_PUBLIC_URL</code> in <code>kiraku.conf</code>
        , and start Kiraku again.
      </p>
      {lines.length === 0 ? (
        <Skeleton active title={false} />
      ) : (
        <ul className={styles.checks} aria-label="Public address">
          {lines.map((line) => (
            <CheckLine key={line.name} check={line} />
          ))}
          {data && <FromThisBrowser url={data.reachUrl} />}
        </ul>
      )}
      <Button loading={data?.isUnderWay ?? true} onClick={() => void check(null)}>
        Check again
      </Button>
    </>
  );
}
