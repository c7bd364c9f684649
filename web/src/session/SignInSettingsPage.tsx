import { App, Button, Form, Input, Skeleton } from 'antd';
import { sessionDeviceText, sessionTimesText } from '@kiraku/core/sentences';
import type { OpenSession } from '@kiraku/core/contract';
import { problemOf } from '../shared/api/api.js';
import { useNow } from '../shared/hooks/useNow.js';
import { FormEnd } from '../shared/ui/FormEnd.js';
import { SettingsFrame } from '../shared/ui/SettingsFrame.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { PasskeysSettings } from './PasskeysSettings.js';
import { CodesSettings } from './CodesSettings.js';
import { NewPassphrase } from '../shared/ui/NewPassphrase.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import {
  useChangePassphraseMutation,
  useEndSessionMutation,
  useEndSessionsMutation,
  useSessionsQuery,
} from '../shared/api/sessionApi.js';
import settingsStyles from '../shared/ui/settings.module.css';

/** The passphrase, and where one is signed in. */
export default function SignInSettingsPage() {
  usePageTitle('Sign-in');
  const { data, error, refetch } = useSessionsQuery(null);
  return (
    <SettingsFrame>
      <div className={settingsStyles.settings}>
        <section aria-labelledby="settings-passphrase">
          <h2 id="settings-passphrase">Passphrase</h2>
          <PassphraseFields />
        </section>
        <section aria-labelledby="settings-passkeys">
          <h2 id="settings-passkeys">Passkeys</h2>
          <PasskeysSettings />
        </section>
        <section aria-labelledby="settings-codes">
          <h2 id="settings-codes">Codes from your phone</h2>
          <CodesSettings />
        </section>
        <section aria-labelledby="settings-sessions">
          <h2 id="settings-sessions">Where you are signed in</h2>
          {error && !data && <LoadFailed error={error} retry={() => void refetch()} />}
          {!data && !error && <Skeleton active title={false} />}
          {data && <Sessions sessions={data} />}
        </section>
      </div>
    </SettingsFrame>
  );
}

interface Passphrases {
  current: string;
  next: string;
}

function PassphraseFields() {
  const [form] = Form.useForm<Passphrases>();
  const [change, result] = useChangePassphraseMutation();
  return (
    <Form<Passphrases>
      form={form}
      layout="vertical"
      requiredMark={false}
      onFinish={async (fields) => {
        if (!(await change(fields)).error) form.resetFields();
      }}
    >
      {/* For password managers, which file a passphrase under a name. */}
      <input type="text" autoComplete="username" value="Kiraku" readOnly hidden />
      <Form.Item
        name="current"
        label="Current passphrase"
        rules={[{ required: true, message: 'Type your current passphrase.' }]}
      >
        <Input type="password" autoComplete="current-password" />
      </Form.Item>
      <NewPassphrase
        name="next"
        label="New passphrase"
        extra="Three or four words that do not belong together are good."
      />
      <p className="soft">
        All other browsers are signed out. If you forget it, run <code>npm run passphrase</code> on the machine that
        Kiraku runs on.
      </p>
      <FormEnd result={result} saved="Changed." button="Change passphrase" />
    </Form>
  );
}

function Sessions({ sessions }: { sessions: OpenSession[] }) {
  const now = useNow();
  const { message } = App.useApp();
  const [end] = useEndSessionMutation();
  const [endAll, ending] = useEndSessionsMutation();
  const signOut = async (id: string) => {
    const { error } = await end(id);
    if (error) void message.warning(problemOf(error).detail);
  };
  return (
    <>
      <ul className={settingsStyles.list}>
        {sessions.map((session) => (
          <li key={session.id}>
            <span>
              {sessionDeviceText(session)}
              <br />
              <span className="soft">{sessionTimesText(session, now)}</span>
            </span>
            {!session.isThis && (
              <Button
                size="small"
                onClick={() => void signOut(session.id)}
                aria-label={`Sign out ${sessionDeviceText(session)}`}
              >
                Sign out
              </Button>
            )}
          </li>
        ))}
      </ul>
      <p className="soft">A browser is signed out after 14 days without use, and after 30 days in any case.</p>
      <Button loading={ending.isLoading} onClick={() => void endAll(null)}>
        Sign out everywhere
      </Button>
    </>
  );
}
