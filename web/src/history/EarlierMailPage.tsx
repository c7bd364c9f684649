import { Button, Progress, Skeleton } from 'antd';
import type { HistoryView } from '@kiraku/core/contract';
import { historyImportText, historyProgress } from '@kiraku/core/sentences';
import { useDoWithHistoryMutation, useHistoryQuery, useUndoHistoryMutation } from '../shared/api/historyApi.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { SettingsFrame } from '../shared/ui/SettingsFrame.js';
import { When } from '../shared/ui/When.js';
import { ChooseMail } from './ChooseMail.js';
import { FoundMail } from './FoundMail.js';
import settingsStyles from '../shared/ui/settings.module.css';

/** What is under way is looked at again so often. */
const PROGRESS_REFRESH_MS = 700;

/** Imports what was sent before Kiraku: says what was found, and then does it. */
export default function EarlierMailPage() {
  usePageTitle('Earlier mail');
  const { data, error, refetch } = useHistoryQuery(null, { pollingInterval: PROGRESS_REFRESH_MS });
  return (
    <SettingsFrame>
      {error && !data && <LoadFailed error={error} retry={() => void refetch()} />}
      {!data && !error && <Skeleton active title={false} paragraph={{ rows: 6 }} />}
      {data && (
        <div className={settingsStyles.settings}>
          <section aria-labelledby="settings-history">
            <h2 id="settings-history">Earlier mail</h2>
            <p>
              Import what you sent before Kiraku, so that it knows whom you wrote to, how often and when last. You see
              what was found before anything is imported, and each import can be undone.
            </p>
            <Step view={data} />
          </section>
          {data.imports.length > 0 && (
            <section aria-labelledby="settings-history-imports">
              <h2 id="settings-history-imports">Imported</h2>
              <Imports view={data} />
            </section>
          )}
        </div>
      )}
    </SettingsFrame>
  );
}

function Step({ view }: { view: HistoryView }) {
  if (view.step === 'none') return <ChooseMail problem={view.problem} />;
  if (view.step === 'looked') return <FoundMail found={view.found!} source={view.source} />;
  return <UnderWay view={view} />;
}

function UnderWay({ view }: { view: HistoryView }) {
  const [act, result] = useDoWithHistoryMutation();
  return (
    <>
      <p role="status">{historyProgress(view)}</p>
      <Progress percent={Math.floor(view.progress * 100)} showInfo={false} aria-label="How much is done" />
      <div className={settingsStyles.buttons}>
        <Button loading={result.isLoading} onClick={() => void act('stop')}>
          Stop
        </Button>
      </div>
    </>
  );
}

function Imports({ view: { imports, step } }: { view: HistoryView }) {
  const [undo] = useUndoHistoryMutation();
  return (
    <ul className={settingsStyles.list} aria-label="Imports">
      {imports.map((row) => (
        <li key={row.id}>
          <span>
            {historyImportText(row)}{' '}
            <span className="soft">
              <When at={row.at} />
            </span>
          </span>
          <Button
            type="link"
            size="small"
            disabled={step !== 'none'}
            aria-label={`Undo the import from ${row.source}`}
            onClick={() => void undo(row.id)}
          >
            Undo
          </Button>
        </li>
      ))}
    </ul>
  );
}
