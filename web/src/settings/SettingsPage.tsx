import { Button, InputNumber, Radio, Skeleton } from 'antd';
import type { SendingView } from '@kiraku/core/contract';
import { lightSlice, rememberLight, type LightChoice } from '../shared/store/lightSlice.js';
import { useAppDispatch, useAppSelector } from '../shared/store/store.js';
import { useSessionQuery, useSignOutMutation } from '../shared/api/sessionApi.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { useSavedAtOnce } from '../shared/hooks/useSavedAtOnce.js';
import { AccountSettings } from './AccountSettings.js';
import { DkimSettings } from './DkimSettings.js';
import { SettingsFrame } from '../shared/ui/SettingsFrame.js';
import { SignatureSettings } from './SignatureSettings.js';
import { SubmissionSettings } from './SubmissionSettings.js';
import { TimeFormatSettings } from './TimeFormatSettings.js';
import { WritingSettings } from './WritingSettings.js';
import { useSaveSendingMutation, useSendingQuery } from '../shared/api/settingsApi.js';
import settingsStyles from '../shared/ui/settings.module.css';

/** Who I am, how my mail goes out, and how the desk looks in this browser. */
export default function SettingsPage() {
  usePageTitle('Settings');
  const { data: session } = useSessionQuery(null);
  const [signOut] = useSignOutMutation();
  if (!session?.account) return <Skeleton active title={false} />;
  const { hasSmtpPassword, ...account } = session.account;
  return (
    <SettingsFrame>
      <div className={settingsStyles.settings}>
        <section aria-labelledby="settings-account">
          <h2 id="settings-account">Sender and outgoing mail</h2>
          <AccountSettings account={account} hasPassword={hasSmtpPassword} />
        </section>
        <section aria-labelledby="settings-writing">
          <h2 id="settings-writing">New messages</h2>
          <WritingSettings />
          <h2 id="settings-signatures" className={settingsStyles.next}>
            Signatures
          </h2>
          <SignatureSettings />
          <h2 id="settings-sending" className={settingsStyles.next}>
            Sending
          </h2>
          <SendingSettings />
        </section>
        <section aria-labelledby="settings-programs">
          <h2 id="settings-programs">Other mail apps</h2>
          <SubmissionSettings />
        </section>
        <section aria-labelledby="settings-dkim">
          <h2 id="settings-dkim">Signing your mail (DKIM)</h2>
          <DkimSettings />
          <h2 id="settings-light" className={settingsStyles.next}>
            Appearance
          </h2>
          <LightSettings />
          <h2 id="settings-times" className={settingsStyles.next}>
            Times and dates
          </h2>
          <TimeFormatSettings />
          <h2 id="settings-browser" className={settingsStyles.next}>
            This browser
          </h2>
          <Button onClick={() => void signOut(null)}>Sign out</Button>
        </section>
      </div>
    </SettingsFrame>
  );
}

function SendingSettings() {
  const { data } = useSendingQuery(null);
  const [save] = useSaveSendingMutation();
  const savedAtOnce = useSavedAtOnce('Sending', save);
  if (!data) return <Skeleton active title={false} />;
  const change = (part: Partial<SendingView>) => void savedAtOnce({ ...data, ...part }, data);
  return (
    <div className={settingsStyles.sentences}>
      <label>
        For{' '}
        <InputNumber
          min={0}
          max={120}
          precision={0}
          value={data.undoSendSeconds}
          onChange={(seconds) => seconds !== null && change({ undoSendSeconds: seconds })}
          aria-label="Seconds to undo send"
        />{' '}
        seconds you can undo sending a message.
      </label>
      <label>
        If a mail server does not accept a message yet, retry for{' '}
        <InputNumber
          min={1}
          max={168}
          precision={0}
          value={data.giveUpHours}
          onChange={(hours) => hours !== null && change({ giveUpHours: hours })}
          aria-label="Hours to retry"
        />{' '}
        hours.
      </label>
    </div>
  );
}

const LIGHTS: { value: LightChoice; label: string }[] = [
  { value: 'system', label: 'Like the system' },
  { value: 'light', label: 'Light' },
  { value: 'dark', label: 'Dark' },
];

function LightSettings() {
  const choice = useAppSelector((state) => state.light);
  const dispatch = useAppDispatch();
  return (
    <Radio.Group
      value={choice}
      options={LIGHTS}
      onChange={(event) => {
        const next = event.target.value as LightChoice;
        rememberLight(next);
        dispatch(lightSlice.actions.chosen(next));
      }}
    />
  );
}
