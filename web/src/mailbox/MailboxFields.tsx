import { Form, Input, InputNumber, Radio, Select, Switch } from 'antd';
import type { ImapSecurity, MailboxRequest, MailboxView, MailboxWay, UnmatchedMail } from '@kiraku/core/contract';
import { useSaveMailboxMutation, useTryLmtpMutation, useTryMailboxMutation } from '../shared/api/mailboxApi.js';
import { useSettingsForm } from '../shared/hooks/useSettingsForm.js';
import { FormEnd } from '../shared/ui/FormEnd.js';
import settingsStyles from '../shared/ui/settings.module.css';

const WAYS: { value: MailboxWay; label: string }[] = [
  { value: 'imap', label: 'From my mailbox (IMAP). It is only read: nothing is marked, moved or deleted' },
  { value: 'lmtp', label: 'From my mail server (LMTP)' },
  { value: 'none', label: 'Not at all: replies are not seen' },
];

const SECURITIES: { value: ImapSecurity; label: string }[] = [
  { value: 'tls', label: 'TLS (encrypted from the start)' },
  { value: 'starttls', label: 'STARTTLS (encrypted after connecting)' },
  { value: 'none', label: 'Not encrypted: only for a server on this machine' },
];

const UNMATCHED: { value: UnmatchedMail; label: string }[] = [
  { value: 'later', label: 'Defer: your mail server keeps it and tries again' },
  { value: 'drop', label: 'Accept and drop' },
];

/** How replies come in: tried, and saved. */
export function MailboxFields({ view }: { view: MailboxView }) {
  const [save, result] = useSaveMailboxMutation();
  const [tryOut, trial] = useTryMailboxMutation();
  const [tryLmtp, lmtpTrial] = useTryLmtpMutation();
  const { hasPassword, lmtpPort: _port, state: _state, ...initial } = view;
  // What the form does not show at the moment is kept.
  const whole = (fields: Partial<MailboxRequest>): MailboxRequest => {
    const { password, ...rest } = { ...initial, ...fields };
    return { ...rest, ...(password && { password }) };
  };
  const { form, onFinish, undo } = useSettingsForm<MailboxRequest>(
    initial,
    (fields) => save(whole(fields)),
    'password',
  );
  const way = Form.useWatch('way', form) ?? view.way;
  return (
    <Form<MailboxRequest>
      form={form}
      layout="vertical"
      requiredMark={false}
      initialValues={initial}
      onFinish={onFinish}
    >
      <Form.Item name="way" label="Replies, receipts and bounces come">
        <Radio.Group options={WAYS} vertical />
      </Form.Item>
      {way === 'lmtp' && (
        <p className="soft">
          Let your mail server deliver a copy of your mail to port {view.lmtpPort || 'that could not be opened'} on this
          machine, by LMTP. Mail about nothing you sent from here is ignored.
        </p>
      )}
      {way === 'lmtp' && (
        <Form.Item
          name="unmatched"
          label="Mail for other addresses"
          extra="It is never rejected for good: its sender would get a report."
        >
          <Radio.Group options={UNMATCHED} vertical />
        </Form.Item>
      )}
      {way === 'imap' && (
        <ImapFields hasPassword={hasPassword} folders={trial.data?.folders.map(({ path }) => path) ?? []} />
      )}
      <FormEnd
        result={result}
        saved="Saved."
        primary
        undo={undo}
        {...(way === 'lmtp' && {
          trial: {
            words: 'Test',
            isLoading: lmtpTrial.isLoading,
            ...(lmtpTrial.data && { data: lmtpTrial.data }),
            run: () => void tryLmtp(null),
          },
        })}
        {...(way === 'imap' && {
          trial: {
            words: 'Test',
            isLoading: trial.isLoading,
            ...(trial.data && { data: trial.data }),
            run: () => void form.validateFields().then((fields) => tryOut(whole(fields))),
          },
        })}
      />
    </Form>
  );
}

function ImapFields({ hasPassword, folders }: { hasPassword: boolean; folders: string[] }) {
  return (
    <>
      <div className={settingsStyles.accountServer}>
        <Form.Item
          name="host"
          label="Mailbox server"
          rules={[{ required: true, message: 'Your provider’s help pages name it.' }]}
        >
          <Input placeholder="imap.company.example" />
        </Form.Item>
        <Form.Item name="port" label="Port" rules={[{ required: true, message: 'Usually 993.' }]}>
          <InputNumber min={1} max={65535} controls={false} />
        </Form.Item>
      </div>
      <Form.Item name="security" label="Connection">
        <Select options={SECURITIES} />
      </Form.Item>
      <Form.Item name="user" label="User name" rules={[{ required: true, message: 'Often your whole address.' }]}>
        <Input autoComplete="off" />
      </Form.Item>
      <Form.Item
        name="password"
        label="Password"
        extra={hasPassword ? 'One is stored. Leave this empty to keep it.' : undefined}
      >
        <Input type="password" autoComplete="off" />
      </Form.Item>
      <Form.Item name="folders" label="More folders to read" extra="“Test” lists the folders.">
        <Select
          mode="tags"
          options={folders.filter((path) => path !== 'INBOX').map((path) => ({ value: path, label: path }))}
        />
      </Form.Item>
      <Form.Item
        name="storesSent"
        label="Save a copy of what I send in its Sent folder, without tracking"
        valuePropName="checked"
        extra="Unless one is there already."
      >
        <Switch />
      </Form.Item>
    </>
  );
}
