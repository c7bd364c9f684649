import { Button, Skeleton } from 'antd';
import { backupSentence, backupText } from '@kiraku/core/sentences';
import type { BackupEntry, BackupView } from '@kiraku/core/contract';
import { useBackupQuery, useMakeBackupMutation } from '../shared/api/backupApi.js';
import { useNow } from '../shared/hooks/useNow.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { FormProblem } from '../shared/ui/FormProblem.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { SettingsFrame } from '../shared/ui/SettingsFrame.js';
import { When } from '../shared/ui/When.js';
import { BackupPassphrase } from './BackupPassphrase.js';
import settingsStyles from '../shared/ui/settings.module.css';

/** One that is under way is waited for; the others come by night. */
const BACKUP_REFRESH_MS = 2000;

/** What keeps everything from being lost with the machine. */
export default function BackupPage() {
  usePageTitle('Backups');
  const { data, error, refetch } = useBackupQuery(null, { pollingInterval: BACKUP_REFRESH_MS });
  return (
    <SettingsFrame>
      {error && !data && <LoadFailed error={error} retry={() => void refetch()} />}
      {!data && !error && <Skeleton active title={false} paragraph={{ rows: 8 }} />}
      {data && (
        <div className={settingsStyles.settings}>
          <section aria-labelledby="settings-backups">
            <h2 id="settings-backups">Backups</h2>
            <Backups view={data} />
          </section>
          <section aria-labelledby="settings-backup-passphrase">
            <h2 id="settings-backup-passphrase">Passphrase of the backups</h2>
            <BackupPassphrase hasPassphrase={data.hasPassphrase} />
          </section>
          <section aria-labelledby="settings-archive">
            <h2 id="settings-archive">Export everything</h2>
            <p className="soft">
              Messages, people, activity and files in open formats that other programs read, with a README inside. No
              backup: it cannot be restored.
            </p>
            <Button href="/api/export/archive.zip" download>
              Export everything
            </Button>
          </section>
          <section aria-labelledby="settings-restore">
            <h2 id="settings-restore">When the machine is lost, or you move to another</h2>
            <Restoring folder={data.folder} />
          </section>
        </div>
      )}
    </SettingsFrame>
  );
}

function Backups({ view }: { view: BackupView }) {
  const now = useNow();
  const [make, result] = useMakeBackupMutation();
  return (
    <>
      <p role="status">{backupSentence(view, now)}</p>
      {view.backups.length > 0 && (
        <ul className={settingsStyles.list} aria-label="Backups that are kept">
          {view.backups.map((backup) => (
            <BackupRow key={backup.name} backup={backup} />
          ))}
        </ul>
      )}
      <p className="soft">
        In <code>{view.folder}</code> on the machine that Kiraku runs on. Kept are the newest of 7 days, 4 weeks and 12
        months. A folder on another disk survives this one: set <code>KIRAKU_BACKUP</code>. Whoever can read the folder
        can read your messages, but not your passwords and keys.
      </p>
      <FormProblem error={result.error} />
      <Button disabled={!view.hasPassphrase} loading={view.isUnderWay} onClick={() => void make(null)}>
        Back up now
      </Button>
    </>
  );
}

function BackupRow({ backup }: { backup: BackupEntry }) {
  return (
    <li>
      <span>
        <When at={backup.at} />
      </span>
      <span className="soft">{backupText(backup)}</span>
    </li>
  );
}

function Restoring({ folder }: { folder: string }) {
  return (
    <>
      <p>
        Stop Kiraku here if it still runs. Copy <code>{folder}</code> to the other machine, install Kiraku there, and
        run:
      </p>
      <p>
        <code>KIRAKU_BACKUP=the-folder npm run restore</code>
      </p>
      <p className="soft">
        Links in messages that were sent long ago lead on, as before. What was to be sent since the backup was made
        waits for you: it may have left already.
      </p>
    </>
  );
}
