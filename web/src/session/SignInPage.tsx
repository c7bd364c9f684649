import { Button, Form, Input } from 'antd';
import { Navigate, useSearchParams } from 'react-router';
import { usePageTitle } from '../shared/hooks/usePageTitle.js';
import { Gate } from '../shared/ui/Gate.js';
import { useSessionQuery, useSignInMutation } from '../shared/api/sessionApi.js';
import { FormProblem } from '../shared/ui/FormProblem.js';

/** The way in: one passphrase. */
export default function SignInPage() {
  usePageTitle('Sign in');
  const { data: session } = useSessionQuery(null);
  const [signIn, { isLoading, error }] = useSignInMutation();
  const [search] = useSearchParams();
  if (session && !session.setUp) return <Navigate to="/set-up" replace />;
  if (session?.signedIn) return <Navigate to={placeWithin(search.get('to'))} replace />;
  return (
    <Gate title="Good to see you" words="Everything is as you left it.">
      <Form
        layout="vertical"
        requiredMark={false}
        onFinish={({ passphrase }: { passphrase: string }) => void signIn(passphrase)}
      >
        <Form.Item name="passphrase" label="Passphrase" rules={[{ required: true, message: 'Type your passphrase.' }]}>
          <Input type="password" size="large" autoFocus autoComplete="current-password" />
        </Form.Item>
        <FormProblem error={error} />
        <Button type="primary" size="large" htmlType="submit" loading={isLoading} block>
          Sign in
        </Button>
      </Form>
    </Gate>
  );
}

/** Only a path of our own: the address bar may hold anything. */
function placeWithin(to: string | null): string {
  return to && /^\/(?!\/|\\)/.test(to) ? to : '/today';
}
