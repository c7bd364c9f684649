import { Button, Form, Input, InputNumber, Radio, Select, Skeleton, Switch } from 'antd';
import type {
  ImapSecurity,
  MailboxFailure,
  MailboxView,
  MailboxWay,
  UnmatchedMail,
  MailboxRequest,
} from '@kiraku/core/contract';
import { mailboxCheckedSentence, unreadMailProblem, unreadMailText } from '@kiraku/core/sentences';
import { useNow } from '../shared/hooks/useNow.js';
import { useSettingsForm } from '../shared/hooks/useSettingsForm.js';
import { FormEnd } from '../shared/ui/FormEnd.js';
import { SettingsFrame } from '../shared/ui/SettingsFrame.js';
import { RefusedMails } from '../refused/RefusedMails.js';
import { LoadFailed } from '../shared/ui/LoadFailed.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import {
  useMailboxQuery,
  useRetryMailMutation,
  useSaveMailboxMutation,
  useTryLmtpMutation,
  useTryMailboxMutation,
} from '../shared/api/mailboxApi.js';
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

/** How replies, receipts and failures find their way here. */
export default function MailboxPage() {
  usePageTitle('Replies and receipts');
  const { data, error, refetch } = useMailboxQuery(null, { pollingInterval: 10_000 });
  return (
    <SettingsFrame>
      {error && !data && <LoadFailed error={error} retry={() => void refetch()} />}
      {!data && !error && <Skeleton active title={false} paragraph={{ rows: 8 }} />}
      {data && (
        <div className={settingsStyles.settings}>
          <section aria-labelledby="settings-incoming">
            <h2 id="settings-incoming">How replies come in</h2>
            <MailboxFields view={data} />
          </section>
          <section aria-labelledby="settings-incoming-state">
            <h2 id="settings-incoming-state">Status</h2>
            <State view={data} />
            <Failures failures={data.state.failures} />
            {data.way === 'lmtp' && (
              <RefusedMails
                way="lmtp"
                title="Not accepted from your mail server"
                help="Deferred mail is offered again by your mail server. Dropped mail can be saved here."
              />
            )}
          </section>
        </div>
      )}
    </SettingsFrame>
  );
}

function MailboxFields({ view }: { view: MailboxView }) {
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

function State({ view: { way, state, lmtpPort } }: { view: MailboxView }) {
  const now = useNow();
  if (way === 'none') return <p className="tone-needs-you">Replies are not seen, so automatic follow-ups wait.</p>;
  if (way === 'lmtp')
    return lmtpPort === 0 ? (
      <p className="tone-needs-you">The port could not be opened: another program has it.</p>
    ) : (
      <p>Mail is accepted on port {lmtpPort}.</p>
    );
  return (
    <>
      {state.problem && <p className="tone-needs-you">{state.problem} Kiraku tries again by itself.</p>}
      <p>{mailboxCheckedSentence(state, now)}</p>
    </>
  );
}

/** Mails that lie in the mailbox and could not be read. */
function Failures({ failures }: { failures: readonly MailboxFailure[] }) {
  const now = useNow();
  const [retry, { isLoading }] = useRetryMailMutation();
  if (failures.length === 0) return null;
  return (
    <>
      <h3>Could not be read</h3>
      <p className="soft">These messages are still in your mailbox. If one is a reply, it is not counted here.</p>
      <ul className={settingsStyles.list}>
        {failures.map((failure) => (
          <li key={failure.id}>
            <span>
              {unreadMailText(failure)}
              <br />
              <span className="soft">{unreadMailProblem(failure, now)}</span>
            </span>
            {failure.givenUp && (
              <Button size="small" loading={isLoading} onClick={() => void retry(failure.id)}>
                Try again
              </Button>
            )}
          </li>
        ))}
      </ul>
    </>
  );
}
