import { Alert, Skeleton } from 'antd';
import { Fragment } from 'react';
import {
  failureSentence,
  notRecordedSentence,
  notRecordedTitle,
  PROCESS_NAMES,
  processSentence,
} from '@kiraku/core/sentences';
import { capital } from '@kiraku/core/time';
import { useHealthQuery } from '../shared/api/settingsApi.js';
import { useNow } from '../shared/hooks/useNow.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import settingsStyles from '../shared/ui/settings.module.css';

/** What has just been restarted, or failed, is seen while one waits for it. */
const REFRESH_MS = 10_000;

/** Whether all that runs by itself does, and what had to be started again. */
export function RunningSettings() {
  const { data, error, refetch } = useHealthQuery(null, { pollingInterval: REFRESH_MS });
  const now = useNow();
  if (error) return <LoadFailed error={error} retry={() => void refetch()} />;
  if (!data) return <Skeleton active title={false} />;
  const { notRecorded, processes, work } = data;
  const failures = work.flatMap(({ name, lastError }) => (lastError ? [{ name, ...lastError }] : []));
  const lines = [
    ...processes.map((process) => [PROCESS_NAMES[process.name], processSentence(process, now)]),
    ...failures.map((failure) => [capital(failure.name), failureSentence(failure, now)]),
  ] as const;
  return (
    <>
      {notRecorded && (
        <div className={settingsStyles.sentences}>
          <Alert
            type="error"
            title={notRecordedTitle(notRecorded)}
            description={notRecordedSentence(notRecorded, now)}
          />
        </div>
      )}
      <dl className={settingsStyles.facts}>
        {lines.map(([name, sentence]) => (
          <Fragment key={name}>
            <dt>{name}</dt>
            <dd>{sentence}</dd>
          </Fragment>
        ))}
      </dl>
      {failures.length === 0 && <p className="soft">Everything that goes on in the background works.</p>}
    </>
  );
}
