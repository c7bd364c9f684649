import { Button, Form, Input, Skeleton } from 'antd';
import { useState } from 'react';
import type { PasskeyView } from '@kiraku/core/contract';
import { passkeyText } from '@kiraku/core/sentences';
import {
  useAddPasskeyMutation,
  useBeginPasskeyMutation,
  usePasskeysQuery,
  useRemovePasskeyMutation,
} from '../shared/api/sessionApi.js';
import { useNow } from '../shared/hooks/useNow.js';
import { FormProblem } from '../shared/ui/FormProblem.js';
import { canUsePasskeys } from './canUsePasskeys.js';
import { WithPassphrase } from './WithPassphrase.js';
import settingsStyles from '../shared/ui/settings.module.css';

/** What signs in by the touch of a finger, or a key, instead of the passphrase. */
export function PasskeysSettings() {
  const { data } = usePasskeysQuery(null);
  if (!data) return <Skeleton active title={false} />;
  return (
    <>
      <p className="soft">
        A passkey is kept by your phone, computer or security key, which looks at you itself. It signs you in at the
        address where you add it, without passphrase and code.
      </p>
      {data.length > 0 && <Passkeys passkeys={data} />}
      {canUsePasskeys() ? (
        <NewPasskey />
      ) : (
        <p>
          To add one, open Kiraku by its name over TLS, or as <code>localhost</code> on the machine that it runs on.
        </p>
      )}
    </>
  );
}

function Passkeys({ passkeys }: { passkeys: PasskeyView[] }) {
  const now = useNow();
  const [remove] = useRemovePasskeyMutation();
  return (
    <ul className={settingsStyles.list} aria-label="Passkeys">
      {passkeys.map((passkey) => (
        <li key={passkey.id}>
          <span>
            {passkey.name} <span className="soft">{passkeyText(passkey, now)}</span>
          </span>
          <Button
            type="link"
            size="small"
            aria-label={`Remove the passkey ${passkey.name}`}
            onClick={() => void remove(passkey.id)}
          >
            Remove
          </Button>
        </li>
      ))}
    </ul>
  );
}

function NewPasskey() {
  const [begin, begun] = useBeginPasskeyMutation();
  const [add, added] = useAddPasskeyMutation();
  const [notMade, setNotMade] = useState(false);
  const make = async ({ name }: { name: string }) => {
    setNotMade(false);
    const { startRegistration } = await import('@simplewebauthn/browser');
    const reply = await startRegistration({ optionsJSON: begun.data!.options as never }).catch(() => null);
    if (!reply) return setNotMade(true);
    await add({ name, reply });
    begun.reset();
  };
  if (!begun.data)
    return (
      <>
        <FormProblem error={added.error} />
        <WithPassphrase label="Add a passkey" isLoading={begun.isLoading} error={begun.error} act={begin} />
      </>
    );
  return (
    <Form layout="vertical" requiredMark={false} onFinish={(fields: { name: string }) => void make(fields)}>
      <Form.Item
        name="name"
        label="What to call it"
        rules={[{ required: true, max: 60, message: 'Give it a name of up to 60 characters.' }]}
      >
        <Input placeholder="My phone" />
      </Form.Item>
      {notMade && <p role="alert">Your device has not made one. Try again, or use another device.</p>}
      <Button type="primary" htmlType="submit" loading={added.isLoading}>
        Make the passkey
      </Button>
    </Form>
  );
}
