import { Button, Skeleton } from 'antd';
import { checkupSentence } from '@kiraku/core/sentences';
import { useCheckMutation, useCheckupQuery } from '../shared/api/checkupApi.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { FormProblem } from '../shared/ui/FormProblem.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { SettingsFrame } from '../shared/ui/SettingsFrame.js';
import { CheckLine } from './CheckLine.js';
import { FromThisBrowser } from './FromThisBrowser.js';
import { RunningSettings } from './RunningSettings.js';
import settingsStyles from '../shared/ui/settings.module.css';
import styles from './checkup.module.css';

/** What is being checked is waited for. */
const CHECKUP_REFRESH_MS = 1500;

/** Whether all that Kiraku stands on works, and what to do where it does not. */
export default function CheckupPage() {
  usePageTitle('Check-up');
  const { data, error, refetch } = useCheckupQuery(null, { pollingInterval: CHECKUP_REFRESH_MS });
  const [check, result] = useCheckMutation();
  return (
    <SettingsFrame>
      {error && !data && <LoadFailed error={error} retry={() => void refetch()} />}
      {!data && !error && <Skeleton active title={false} paragraph={{ rows: 12 }} />}
      {data && (
        <div className={settingsStyles.settings}>
          <section aria-labelledby="settings-checkup">
            <h2 id="settings-checkup">Check-up</h2>
            <p role="status">{data.isUnderWay ? 'Checking …' : checkupSentence(data.checks)}</p>
            {data.checks.length > 0 && (
              <ul className={styles.lines} aria-label="Checks">
                {data.checks.map((one) => (
                  <CheckLine key={one.name} check={one} />
                ))}
                <FromThisBrowser url={data.reachUrl} />
              </ul>
            )}
            <FormProblem error={result.error} />
            <Button loading={data.isUnderWay} onClick={() => void check(null)}>
              Check now
            </Button>
            <p className="soft">
              It is checked every six hours. What stops working notifies you. On the machine: <code>npm run check</code>
              .
            </p>
          </section>
          <section aria-labelledby="settings-running">
            <h2 id="settings-running">How Kiraku runs</h2>
            <RunningSettings />
          </section>
        </div>
      )}
    </SettingsFrame>
  );
}
