import { Alert, Skeleton } from 'antd';
import type { ProcessName, ProcessView } from '@kiraku/core/contract';
import { counted } from '@kiraku/core/time';
import { useHealthQuery } from '../shared/api/settingsApi.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { When } from '../shared/ui/When.js';
import settingsStyles from '../shared/ui/settings.module.css';

const NAMES: Record<ProcessName, string> = { desk: 'Kiraku', 'public site': 'Public address' };
/** What has just been restarted, or failed, is seen while one waits for it. */
const REFRESH_MS = 10_000;

/** Whether all that runs by itself does, and what had to be started again. */
export function RunningSettings() {
  const { data, error, refetch } = useHealthQuery(null, { pollingInterval: REFRESH_MS });
  if (error) return <LoadFailed error={error} retry={() => void refetch()} />;
  if (!data) return <Skeleton active title={false} />;
  const { notRecorded, processes, work } = data;
  const failing = work.flatMap(({ name, lastError }) => (lastError ? [{ name, ...lastError }] : []));
  return (
    <>
      {notRecorded && (
        <Alert
          type="error"
          title={`${counted(notRecorded.count, 'open or click', 'opens and clicks')} could not be recorded`}
          description={
            <>
              The last one: <When at={notRecorded.lastAt} />, {notRecorded.why}. Recipients still saw their images and
              followed their links. Make room on the disk.
            </>
          }
        />
      )}
      <dl className={settingsStyles.facts}>
        {processes.map((process) => (
          <Process key={process.name} process={process} />
        ))}
        {failing.map(({ name, at, text }) => (
          <FailingWork key={name} name={name} at={at} text={text} />
        ))}
      </dl>
      {failing.length === 0 && <p className="soft">Everything that goes on in the background works.</p>}
    </>
  );
}

function Process({ process: { name, startedAt, restarts, lastEnd } }: { process: ProcessView }) {
  return (
    <>
      <dt>{NAMES[name]}</dt>
      <dd>
        Running since <When at={startedAt} />
        {lastEnd && (
          <>
            , restarted {counted(restarts, 'time')}. It ended <When at={lastEnd.at} />: {lastEnd.why}
          </>
        )}
      </dd>
    </>
  );
}

function FailingWork({ name, at, text }: { name: string; at: number; text: string }) {
  return (
    <>
      <dt>{name}</dt>
      <dd>
        Failed <When at={at} />: {text}
      </dd>
    </>
  );
}
