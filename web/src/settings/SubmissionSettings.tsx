import { Alert, Button, Input, Select, Skeleton } from 'antd';
import { useState } from 'react';
import { addressProblem } from '@kiraku/core/message';
import { lastUsedText } from '@kiraku/core/sentences';
import { useNow } from '../shared/hooks/useNow.js';
import { useSavedAtOnce } from '../shared/hooks/useSavedAtOnce.js';
import {
  useMakePasswordMutation,
  useRemovePasswordMutation,
  useSaveSubmissionMutation,
  useSubmissionQuery,
  useTrySubmissionMutation,
} from '../shared/api/settingsApi.js';
import { TrialResult } from '../shared/ui/TrialResult.js';
import pageStyles from '../shared/ui/page.module.css';
import settingsStyles from '../shared/ui/settings.module.css';

/** How other mail programs hand their mail in here, and with which passwords. */
export function SubmissionSettings() {
  const { data } = useSubmissionQuery(null);
  const [saveAddresses] = useSaveSubmissionMutation();
  const savedAtOnce = useSavedAtOnce('Sender addresses allowed besides your own', saveAddresses);
  const [tryOut, trial] = useTrySubmissionMutation();
  if (!data) return <Skeleton active title={false} />;
  return (
    <>
      <p className="soft">
        Enter this as the outgoing server in any mail app: what it sends is tracked like a message written here.
      </p>
      <dl className={settingsStyles.facts}>
        <dt>Server</dt>
        <dd>{window.location.hostname}</dd>
        <dt>Port</dt>
        <dd>{data.port === 0 ? 'Closed: another program uses it.' : data.port}</dd>
        <dt>Connection</dt>
        <dd>STARTTLS</dd>
        <dt>User</dt>
        <dd>{data.user}</dd>
        <dt>Certificate</dt>
        <dd>{data.fingerprint}</dd>
      </dl>
      <TrialResult trial={trial.data} />
      <Button loading={trial.isLoading} onClick={() => void tryOut(null)}>
        Test
      </Button>
      <Passwords passwords={data.passwords} />
      <label htmlFor="submission-addresses">Sender addresses allowed besides your own</label>
      <Select
        id="submission-addresses"
        mode="tags"
        style={{ width: '100%' }}
        value={data.addresses}
        open={false}
        suffixIcon={null}
        tokenSeparators={[',', ' ']}
        placeholder="None"
        onChange={(addresses: string[]) =>
          void savedAtOnce(
            addresses.filter((one) => addressProblem(one) === null),
            data.addresses,
          )
        }
      />
    </>
  );
}

function Passwords({ passwords }: { passwords: { id: number; name: string; lastUsedAt: number | null }[] }) {
  const now = useNow();
  const [name, setName] = useState('');
  const [make, made] = useMakePasswordMutation();
  const [remove] = useRemovePasswordMutation();
  return (
    <>
      <ul className={settingsStyles.list} aria-label="App passwords">
        {passwords.map((one) => (
          <li key={one.id}>
            <span>
              {one.name} <span className="soft">{lastUsedText(one.lastUsedAt, now)}</span>
            </span>
            <Button type="text" size="small" onClick={() => void remove(one.id)} aria-label={`Revoke ${one.name}`}>
              Revoke
            </Button>
          </li>
        ))}
      </ul>
      {made.data && (
        <Alert
          type="info"
          className={pageStyles.formProblem}
          role="status"
          title={<code>{made.data.password}</code>}
          description={`For ${made.data.name}. It is shown only once: enter it in that app.`}
        />
      )}
      <form
        className={settingsStyles.row}
        onSubmit={(event) => {
          event.preventDefault();
          if (name.trim() === '') return;
          void make(name.trim());
          setName('');
        }}
      >
        <Input
          value={name}
          maxLength={100}
          placeholder="My phone"
          aria-label="Name of the app"
          onChange={(event) => setName(event.target.value)}
        />
        <Button htmlType="submit" disabled={name.trim() === ''} loading={made.isLoading}>
          Create app password
        </Button>
      </form>
      <br />
    </>
  );
}
