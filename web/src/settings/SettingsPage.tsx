import { Button, Form, InputNumber, Radio, Skeleton } from 'antd';
import { lightSlice, rememberLight, type LightChoice } from '../app/lightSlice.js';
import { useAppDispatch, useAppSelector } from '../app/store.js';
import {
  useSaveAccountMutation,
  useSessionQuery,
  useSignOutMutation,
  useTryAccountMutation,
  type AccountForm,
} from '../session/sessionApi.js';
import { usePageTitle } from '../ui/usePageTitle.js';
import { AccountFields } from './AccountFields.js';
import { DkimSettings } from './DkimSettings.js';
import { FormEnd } from './FormEnd.js';
import { SettingsPages } from './SettingsPages.js';
import { SignatureSettings } from './SignatureSettings.js';
import { SubmissionSettings } from './SubmissionSettings.js';
import { WritingSettings } from './WritingSettings.js';
import { useSaveSendingMutation, useSendingQuery } from './settingsApi.js';
import './settings.css';

/** Who I am, how my mail goes out, and how the desk looks in this browser. */
export default function SettingsPage() {
  usePageTitle('Settings');
  const { data: session } = useSessionQuery(null);
  const [signOut] = useSignOutMutation();
  if (!session?.account) return <Skeleton active title={false} />;
  const { hasSmtpPassword, ...account } = session.account;
  return (
    <>
      <h1>Settings</h1>
      <SettingsPages />
      <div className="settings">
        <section aria-labelledby="settings-account">
          <h2 id="settings-account">Sender and outgoing mail</h2>
          <AccountSettings account={account} hasPassword={hasSmtpPassword} />
        </section>
        <section aria-labelledby="settings-writing">
          <h2 id="settings-writing">What a new letter begins with</h2>
          <WritingSettings />
          <h2 className="settings-next">Signatures</h2>
          <SignatureSettings />
          <h2 className="settings-next">Leaving</h2>
          <SendingSettings />
        </section>
        <section aria-labelledby="settings-programs">
          <h2 id="settings-programs">Your other mail programs</h2>
          <SubmissionSettings />
        </section>
        <section aria-labelledby="settings-dkim">
          <h2 id="settings-dkim">Signing your mail (DKIM)</h2>
          <DkimSettings />
          <h2 id="settings-light" className="settings-next">
            Light
          </h2>
          <LightSettings />
          <h2 className="settings-next">This browser</h2>
          <Button onClick={() => void signOut(null)}>Sign out</Button>
        </section>
      </div>
    </>
  );
}

function AccountSettings({ account, hasPassword }: { account: AccountForm; hasPassword: boolean }) {
  const [save, result] = useSaveAccountMutation();
  const [tryOut, trial] = useTryAccountMutation();
  const [form] = Form.useForm<AccountForm>();
  return (
    <Form<AccountForm>
      form={form}
      layout="vertical"
      requiredMark={false}
      initialValues={account}
      onFinish={(fields) => void save(filled(fields))}
    >
      <AccountFields hasPassword={hasPassword} />
      <FormEnd
        result={result}
        saved="Saved. It holds from the next message on."
        primary
        trial={{
          words: 'Try it with a letter to myself',
          isLoading: trial.isLoading,
          ...(trial.data && { data: trial.data }),
          run: () => void form.validateFields().then((fields) => tryOut(filled(fields))),
        }}
      />
    </Form>
  );
}

/** An empty password field means the stored one. */
function filled({ smtpPassword, ...fields }: AccountForm): AccountForm {
  return { ...fields, ...(smtpPassword && { smtpPassword }) };
}

function SendingSettings() {
  const { data } = useSendingQuery(null);
  const [save] = useSaveSendingMutation();
  if (!data) return <Skeleton active title={false} />;
  return (
    <div className="settings-sentences">
      <label>
        For{' '}
        <InputNumber
          min={0}
          max={120}
          precision={0}
          value={data.takeBackSeconds}
          onChange={(seconds) => seconds !== null && void save({ ...data, takeBackSeconds: seconds })}
          aria-label="Seconds for taking back"
        />{' '}
        seconds after Send, a message can be taken back.
      </label>
      <label>
        What a mail server refuses for now is tried again for{' '}
        <InputNumber
          min={1}
          max={168}
          precision={0}
          value={data.giveUpHours}
          onChange={(hours) => hours !== null && void save({ ...data, giveUpHours: hours })}
          aria-label="Hours until a copy is given up"
        />{' '}
        hours.
      </label>
    </div>
  );
}

const LIGHTS: { value: LightChoice; label: string }[] = [
  { value: 'system', label: 'As the system has it' },
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
