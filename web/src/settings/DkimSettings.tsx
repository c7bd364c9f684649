import { Button, Form, Input, Popconfirm, Skeleton } from 'antd';
import { domainOf } from '@kiraku/core/message';
import { useSessionQuery } from '../shared/api/sessionApi.js';
import {
  useDkimQuery,
  useStartDkimMutation,
  useStopDkimMutation,
  useTryDkimMutation,
} from '../shared/api/settingsApi.js';
import { FormProblem } from '../shared/ui/FormProblem.js';
import { TrialResult } from '../shared/ui/TrialResult.js';
import settingsStyles from '../shared/ui/settings.module.css';

/** A signature for outgoing mail, where the outgoing server puts none on it. */
export function DkimSettings() {
  const { data } = useDkimQuery(null);
  const { data: session } = useSessionQuery(null);
  const [start, { isLoading, error }] = useStartDkimMutation();
  const [stop] = useStopDkimMutation();
  const [tryOut, trial] = useTryDkimMutation();
  if (!data || !session?.account) return <Skeleton active title={false} />;
  if (data.dkim)
    return (
      <>
        <p>
          Your mail is signed for {data.dkim.domain}. Publish this record in the DNS, so that mail servers can check it:
        </p>
        <dl className={settingsStyles.facts}>
          <dt>Name</dt>
          <dd>
            <code>
              {data.dkim.selector}._domainkey.{data.dkim.domain}
            </code>
          </dd>
          <dt>TXT</dt>
          <dd>
            <code>{data.dkim.record}</code>
          </dd>
        </dl>
        <TrialResult trial={trial.data} />
        <div className={settingsStyles.buttons}>
          <Button loading={trial.isLoading} onClick={() => void tryOut(null)}>
            Test
          </Button>
          <Popconfirm
            title="Stop signing?"
            description="The key is deleted. Signing again makes a new one, with a new record."
            okText="Stop signing"
            cancelText="Cancel"
            onConfirm={() => void stop(null)}
          >
            <Button>Stop signing</Button>
          </Popconfirm>
        </div>
      </>
    );
  return (
    <Form
      layout="vertical"
      requiredMark={false}
      initialValues={{ domain: domainOf(session.account.address), selector: 'kiraku' }}
      onFinish={(fields: { domain: string; selector: string }) => void start(fields)}
    >
      <p className="soft">Only needed where your outgoing server does not sign by itself. Most do.</p>
      <div className={settingsStyles.row}>
        <Form.Item name="domain" label="Domain" rules={[{ required: true, message: 'Enter a domain.' }]}>
          <Input />
        </Form.Item>
        <Form.Item name="selector" label="Selector" rules={[{ required: true, message: 'Any short name.' }]}>
          <Input />
        </Form.Item>
      </div>
      <FormProblem error={error} />
      <Button htmlType="submit" loading={isLoading}>
        Create a key and sign
      </Button>
    </Form>
  );
}
