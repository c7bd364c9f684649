import { Button, Skeleton } from 'antd';
import { useState, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { nextSetUpStep, SET_UP_TEXTS, setUpStepText } from '@kiraku/core/sentences';
import type { SessionView, SetUpStep } from '@kiraku/core/contract';
import { BackupPassphrase } from '../backup/BackupPassphrase.js';
import { MailboxFields } from '../mailbox/MailboxFields.js';
import { AccountSettings } from '../settings/AccountSettings.js';
import { WritingSettings } from '../settings/WritingSettings.js';
import { useBackupQuery } from '../shared/api/backupApi.js';
import { useMailboxQuery } from '../shared/api/mailboxApi.js';
import { useSetSetUpStepMutation } from '../shared/api/sessionApi.js';
import { Gate } from '../shared/ui/Gate.js';
import { AddressStep } from './AddressStep.js';
import { FirstMessage } from './FirstMessage.js';
import styles from './setUp.module.css';

/** What each step shows: the same as the settings, where one comes back to it. */
const CONTENTS: Record<SetUpStep, (session: SessionView) => ReactNode> = {
  outgoing: ({ account }) => {
    if (!account) return null;
    const { hasSmtpPassword, ...fields } = account;
    return <AccountSettings account={fields} hasPassword={hasSmtpPassword} isServerOnly />;
  },
  'public-address': ({ publicUrl }) => <AddressStep publicUrl={publicUrl} />,
  replies: () => <Replies />,
  tracking: () => <WritingSettings />,
  backups: () => <Backups />,
  'first-message': ({ account }) => account && <FirstMessage sender={account} />,
};

/** One step of set-up, in a frame that leads on from it. */
export function Steps({ step, session }: { step: SetUpStep; session: SessionView }) {
  const navigate = useNavigate();
  const [setStep, { isLoading }] = useSetSetUpStepMutation();
  const [isChanged, setChanged] = useState(false);
  const [isAsked, setAsked] = useState(false);
  const { title, words } = SET_UP_TEXTS[step];
  const next = nextSetUpStep(step);
  // What was typed and not saved is not lost without a word.
  const goOn = () => (isChanged && !isAsked ? setAsked(true) : void setStep(next));
  return (
    <Gate title={title} words={words} isWide>
      <p className="soft">{setUpStepText(step)}</p>
      <div onInput={() => setChanged(true)} onSubmitCapture={() => setChanged(false)}>
        {CONTENTS[step](session)}
      </div>
      {isChanged && isAsked && (
        <p role="alert" className={styles.unsaved}>
          What you have written here is not saved. Save it, or press the button once more to go on without it.
        </p>
      )}
      <nav className={styles.onward} aria-label="Set-up">
        <Button type="link" onClick={() => void navigate('/today')}>
          Go on later
        </Button>
        <Button size="large" loading={isLoading} onClick={goOn}>
          {next === null ? 'Finish' : 'Next'}
        </Button>
      </nav>
    </Gate>
  );
}

function Replies() {
  const { data } = useMailboxQuery(null);
  return data ? <MailboxFields view={data} /> : <Skeleton active title={false} />;
}

function Backups() {
  const { data } = useBackupQuery(null);
  if (!data) return <Skeleton active title={false} />;
  return (
    <>
      <BackupPassphrase hasPassphrase={data.hasPassphrase} />
      <p className="soft">
        They lie in <code>{data.folder}</code> on this machine.
      </p>
    </>
  );
}
