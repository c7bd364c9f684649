import { Button, Form, Input, InputNumber, Select } from 'antd';
import type { SmtpAuth, SmtpSecurity, AccountRequest } from '@kiraku/core/contract';
import { addressProblem } from '@kiraku/core/message';
import { problemOf } from '../shared/api/api.js';
import { useGuessAccountMutation } from '../shared/api/settingsApi.js';
import settingsStyles from '../shared/ui/settings.module.css';

const SECURITIES: { value: SmtpSecurity; label: string }[] = [
  { value: 'starttls', label: 'STARTTLS (encrypted after connecting)' },
  { value: 'tls', label: 'TLS (encrypted from the start)' },
  { value: 'none', label: 'Not encrypted: only for a server on this machine' },
];

const AUTHS: { value: SmtpAuth; label: string }[] = [
  { value: 'password', label: 'Password' },
  { value: 'xoauth2', label: 'Access token (XOAUTH2)' },
];

/** Fills the server's fields with what the address's own domain announces. */
function GuessButton() {
  const form = Form.useFormInstance<AccountRequest>();
  // During set-up it is known, and no field of this form.
  const address = Form.useWatch('address', { form, preserve: true });
  const [guess, { data, error, isLoading }] = useGuessAccountMutation();
  return (
    <div className={settingsStyles.accountGuess}>
      <Button
        loading={isLoading}
        disabled={addressProblem((address ?? '').trim()) !== null}
        onClick={async () => {
          const { data: found } = await guess(address.trim());
          if (found?.guess) form.setFieldsValue(found.guess);
        }}
      >
        Find my mail server
      </Button>
      <span className="soft" role="status">
        {data &&
          (data.guess
            ? 'Found: it is filled in below.'
            : 'Nothing found: this domain announces no server, and none has a usual name. Your provider’s help pages name it.')}
        {error && `The search failed. ${problemOf(error).detail}`}
      </span>
    </div>
  );
}

/** Who sends. */
export function SenderFields() {
  return (
    <>
      <Form.Item
        name="name"
        label="Your name"
        rules={[{ required: true, message: 'Write your name as recipients should see it.' }]}
      >
        <Input autoComplete="name" />
      </Form.Item>
      <Form.Item
        name="address"
        label="Your email address"
        rules={[
          {
            validator: (_rule, address: string) => {
              const problem = addressProblem((address ?? '').trim());
              return problem ? Promise.reject(new Error(problem)) : Promise.resolve();
            },
          },
        ]}
      >
        <Input autoComplete="email" />
      </Form.Item>
    </>
  );
}

/** Through which server mail goes out. */
export function ServerFields({ hasPassword }: { hasPassword: boolean }) {
  return (
    <>
      <GuessButton />
      <div className={settingsStyles.accountServer}>
        <Form.Item
          name="smtpHost"
          label="Outgoing mail server"
          rules={[{ required: true, message: 'Its name is in your mail provider’s help pages.' }]}
        >
          <Input placeholder="smtp.company.example" />
        </Form.Item>
        <Form.Item name="smtpPort" label="Port" rules={[{ required: true, message: 'Usually 587.' }]}>
          <InputNumber min={1} max={65535} controls={false} />
        </Form.Item>
      </div>
      <Form.Item name="smtpSecurity" label="Connection">
        <Select options={SECURITIES} />
      </Form.Item>
      <Form.Item name="smtpUser" label="User name" extra="Leave it empty where the server asks for no login.">
        <Input autoComplete="off" />
      </Form.Item>
      <Form.Item name="smtpAuth" label="Sign in with">
        <Select options={AUTHS} />
      </Form.Item>
      <Form.Item
        name="smtpPassword"
        label="Password or token"
        extra={hasPassword ? 'One is stored. Leave this empty to keep it.' : undefined}
      >
        <Input type="password" autoComplete="off" />
      </Form.Item>
    </>
  );
}
