import { Button, Form, Input } from 'antd';
import { Navigate, useLocation } from 'react-router';
import type { AccountRequest } from '@kiraku/core/contract';
import { AccountFields, BLANK_ACCOUNT } from '../settings/AccountFields.js';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { Gate } from './Gate.js';
import { useSessionQuery, useSetUpMutation } from '../shared/api/sessionApi.js';
import { FormProblem } from '../shared/ui/FormProblem.js';

type SetUpForm = AccountRequest & { passphrase: string };

/** The first start: who am I, how does my mail go out, and the passphrase. */
export default function SetUpPage() {
  usePageTitle('Set up');
  const { data: session } = useSessionQuery(null);
  const [setUp, { isLoading, error }] = useSetUpMutation();
  const code = useLocation().hash.slice(1);
  if (session?.setUp) return <Navigate to="/sent" replace />;
  return (
    <Gate title="Set up Kiraku" words="Two minutes, once. All of it can be changed later.">
      <Form<SetUpForm>
        layout="vertical"
        requiredMark={false}
        initialValues={BLANK_ACCOUNT}
        onFinish={({ passphrase, ...account }) => void setUp({ code, passphrase, account })}
      >
        <AccountFields setUpCode={code} />
        <Form.Item
          name="passphrase"
          label="Choose a passphrase"
          extra="At least 8 characters; three or four words are good."
          rules={[{ required: true, min: 8, message: 'It must have at least 8 characters.' }]}
        >
          <Input type="password" autoComplete="new-password" />
        </Form.Item>
        <FormProblem error={error} />
        <Button type="primary" size="large" htmlType="submit" loading={isLoading} block>
          Start
        </Button>
      </Form>
    </Gate>
  );
}
